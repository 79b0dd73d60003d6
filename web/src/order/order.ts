/** The order of the open piece: its blocks, which one is chosen, and its changes. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, ask, Refusal, type OrderEdit, type OrderStale, type OrderState, type OrderView } from '@/api/client'
import { insist, newKey } from '@/api/insist'
import { announce } from '@/app/announce'
import { useNotices } from '@/app/notices'
import { letGo } from '@/pattern/hand'

export const useOrder = defineStore('order', () => {
  const notices = useNotices()
  /** The piece whose order is known; 0: none is. */
  const piece = ref(0)
  /** Whether it is on the screen. */
  const shown = ref(false)
  const state = shallowRef<OrderState | null>(null)
  /** The order with what is being tried out. */
  const tried = shallowRef<OrderView | null>(null)
  const chosen = ref<number | null>(null)
  const view = computed(() => tried.value ?? state.value?.view ?? null)
  const history = computed(() => state.value?.history ?? { undo: null, redo: null })
  const block = computed(() => (chosen.value === null ? null : (view.value?.blocks[chosen.value] ?? null)))
  let queue: Promise<unknown> = Promise.resolve()
  let asked = 0

  function take(next: OrderState): void {
    asked += 1
    tried.value = null
    state.value = next
    const { blocks } = next.view
    if (chosen.value !== null && chosen.value >= blocks.length) chosen.value = blocks.length ? blocks.length - 1 : null
    if (next.view.chosen !== chosen.value || next.view.waits) void read()
  }
  async function read(): Promise<void> {
    const of = piece.value
    const next = await ask(api.GET('/api/pieces/{piece_id}/order', { params: { path: { piece_id: of }, query: { chosen: chosen.value } } }))
    if (of === piece.value && (next.view.chosen === chosen.value || !next.view.blocks.length)) take(next)
  }
  /** Open the order of a piece; rejects where it is not there. */
  async function open(wanted: number): Promise<void> {
    if (piece.value !== wanted) {
      state.value = tried.value = null
      chosen.value = 0
    }
    piece.value = wanted
    await read()
    shown.value = true
  }
  /** Leave it; the chosen block stays chosen. */
  function leave(): void {
    if (!shown.value) return
    letGo()
    shown.value = false
    tried.value = null
  }
  function forget(): void {
    leave()
    piece.value = 0
    state.value = null
  }
  function choose(place: number | null): void {
    if (place === chosen.value) return
    letGo()
    chosen.value = place
    void notices.attempt(read)
  }

  /** Make a change once those before it are made. */
  function inTurn(change: (revision: number, key: string) => Promise<OrderState>): Promise<boolean> {
    letGo()
    const [of, key] = [piece.value, newKey()]
    const done = queue.then(async () => {
      if (!state.value || of !== piece.value) return false
      try {
        const next = await change(state.value.revision, key)
        if (of === piece.value) take(next)
        return true
      } catch (problem) {
        tried.value = null
        if (!(problem instanceof Refusal && problem.status === 409)) notices.trouble(problem)
        else {
          const stale = problem.body as OrderStale
          take(stale.state)
          notices.say(`${stale.detail} Yours was: ${stale.tried}.`)
        }
        return false
      }
    })
    queue = done
    return done
  }
  const at = () => ({ params: { path: { piece_id: piece.value } } })
  /** Store changes; `then` is the block that is chosen after them. */
  function commit(edits: OrderEdit[], then: number | null = chosen.value): Promise<boolean> {
    return inTurn(async (revision, key) => {
      const next = await insist(() => api.POST('/api/pieces/{piece_id}/order/edits', { ...at(), body: { revision, edits, key, chosen: then } }))
      chosen.value = next.view.chosen ?? chosen.value
      announce(next.history.undo ?? '')
      return next
    })
  }
  function travel(way: 'undo' | 'redo'): Promise<boolean> {
    return inTurn(async (revision, key) => {
      const what = history.value[way]
      const body = { revision, key, chosen: chosen.value }
      const next = await insist(() => way === 'undo'
        ? api.POST('/api/pieces/{piece_id}/order/undo', { ...at(), body }) : api.POST('/api/pieces/{piece_id}/order/redo', { ...at(), body }))
      if (what) announce(`${way === 'undo' ? 'Taken back' : 'Done again'}: ${what}`)
      return next
    })
  }
  /** Try changes out: picture and sound follow, nothing is stored. */
  async function preview(edits: OrderEdit[]): Promise<void> {
    const mine = (asked += 1)
    if (!edits.length) {
      tried.value = null
      return
    }
    try {
      const next = await ask(api.POST('/api/pieces/{piece_id}/order/look', { ...at(), body: { edits, chosen: chosen.value } }))
      if (mine === asked) tried.value = next
    } catch (problem) {
      if (mine === asked) notices.trouble(problem)
    }
  }

  return {
    piece, shown, state, view, history, chosen, block, open, leave, forget, read, choose, commit, preview,
    undo: () => travel('undo'), redo: () => travel('redo'),
  }
})
