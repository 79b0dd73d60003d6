/** The open clip: its notes, which of them are chosen, a tool that is being tried, and its changes. */
import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, ask, type ClipEdit, type ClipState, type ClipTried, type ClipView } from '@/api/client'
import { letGo } from '@/app/hand'
import { useNotices } from '@/app/notices'
import { ratio } from '@/app/ratio'
import { useChanges } from '@/past/useChanges'

export type Tool = ClipState['tools'][number]['tool']

export const useClip = defineStore('clip', () => {
  const notices = useNotices()
  const state = shallowRef<ClipState | null>(null)
  /** The places of the chosen notes, ascending; none: what is done is done to all. */
  const chosen = shallowRef<number[]>([])
  /** A tool that is heard and drawn, not yet laid in. */
  const trying = shallowRef<ClipTried | null>(null)
  /** What a hand that drags makes of the notes. */
  const hand = shallowRef<ClipView | null>(null)
  /** The stretch of beats that goes round; null: all of it. */
  const round = ref<[number, number] | null>(null)
  /** The step of the grid that hands move along, as a fraction of a whole note. */
  const grid = useLocalStorage('jolly-clip-grid', '1/16')

  const id = computed(() => state.value?.id ?? 0)
  const view = computed(() => hand.value ?? trying.value?.view ?? state.value?.view ?? null)
  /** The notes of the view that are marked: the chosen ones, or what a tool makes of them. */
  const marked = computed(() => trying.value?.chosen ?? chosen.value)
  const history = computed(() => state.value?.history ?? { undo: null, redo: null })
  const step = computed(() => 4 * ratio(grid.value))
  const newest = new Map<number, number>()
  const to = (of: number) => ({ path: { clip_id: of } })

  function take(next: ClipState, kept: number[] = next.chosen): void {
    if (next.id !== state.value?.id) return
    state.value = next
    hand.value = null
    chosen.value = kept.filter((place) => place < next.view.notes.length)
    if (round.value && round.value[0] >= next.view.beats) round.value = null
  }
  /** Open a clip; rejects where it is not there. */
  async function open(wanted: number): Promise<void> {
    close()
    state.value = await ask(api.GET('/api/clips/{clip_id}/state', { params: to(wanted) }))
    newest.set(wanted, state.value.revision)
  }
  function close(): void {
    letGo()
    state.value = null
    trying.value = hand.value = round.value = null
    chosen.value = []
  }

  const { store, undo, redo } = useChanges<ClipState, ClipEdit>({
    id: () => id.value,
    newest,
    history: () => history.value,
    step(way, of, at) {
      const asked = { params: to(of), body: at }
      return way === 'undo'
        ? api.POST('/api/clips/{clip_id}/undo', asked)
        : api.POST('/api/clips/{clip_id}/redo', asked)
    },
    take: (next) => take(next),
    fallBack: () => (hand.value = null),
  })
  /** Store changes; the notes that they made or moved are chosen then, unless `keep` says otherwise. */
  async function commit(edits: ClipEdit[], keep = false): Promise<boolean> {
    trying.value = null
    const done = await store(
      (of, at) => api.POST('/api/clips/{clip_id}/edits', { params: to(of), body: { ...at, edits } }),
      edits, (next) => take(next, keep ? chosen.value : next.chosen),
    )
    return done === 'taken'
  }
  function travel(step: () => Promise<unknown>): void {
    trying.value = null
    void step()
  }

  let asked = 0
  /** Try a tool on what is chosen, with another value for one of its words; resolves to false where that is refused. */
  async function tryTool(tool: Tool, slot: string | null = null, value: unknown = null): Promise<boolean> {
    const now = state.value
    if (!now) return true
    const mine = (asked += 1)
    const notes = chosen.value.length ? chosen.value : null
    try {
      const tried = await ask(api.POST('/api/clips/{clip_id}/try', {
        params: { path: { clip_id: now.id } },
        body: { revision: now.revision, tool, notes, slot, value },
      }))
      if (mine === asked && state.value === now) trying.value = tried
      return true
    } catch (problem) {
      if (mine === asked) notices.trouble(problem)
      return false
    }
  }
  /** The tool's number of throws further on, or back. */
  function throwAgain(by: number): void {
    const tool = trying.value?.tool
    if (tool && 'throw' in tool) void tryTool({ ...tool, throw: (tool.throw ?? 0) + by })
  }
  function layIn(): void {
    const tool = trying.value?.tool
    if (tool) void commit([{ do: 'lay_in', tool, notes: chosen.value.length ? chosen.value : null }])
  }
  function forgetTool(): void {
    asked += 1
    trying.value = null
  }
  function choose(places: number[]): void {
    chosen.value = [...new Set(places)].sort((a, b) => a - b)
    if (trying.value) void tryTool(trying.value.tool)
  }

  return {
    state, id, view, history, chosen, marked, trying, hand, round, grid, step,
    open, close, commit, undo: () => travel(undo), redo: () => travel(redo), tryTool, throwAgain, layIn, forgetTool,
    choose,
  }
})
