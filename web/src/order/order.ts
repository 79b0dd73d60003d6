/** The order of the open piece: its blocks, which one is chosen, and its changes. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, ask, type OrderEdit, type OrderState, type OrderView } from '@/api/client'
import { letGo } from '@/app/hand'
import { useNotices } from '@/app/notices'
import { useChanges } from '@/past/useChanges'

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
  const newest = new Map<number, number>()
  const to = (of: number) => ({ path: { piece_id: of } })
  let asked = 0

  function take(next: OrderState): void {
    asked += 1
    tried.value = null
    state.value = next
    newest.set(piece.value, next.revision)
    const { blocks } = next.view
    if (chosen.value !== null && chosen.value >= blocks.length) chosen.value = blocks.length ? blocks.length - 1 : null
    if (next.view.chosen !== chosen.value || next.view.waits) void read()
  }
  async function read(): Promise<void> {
    const of = piece.value
    const next = await ask(
      api.GET('/api/pieces/{piece_id}/order', { params: { ...to(of), query: { chosen: chosen.value } } }),
    )
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

  const { store, undo, redo } = useChanges<OrderState, OrderEdit>({
    id: () => piece.value,
    newest,
    history: () => history.value,
    step(way, of, at) {
      const asked = { params: to(of), body: { ...at, chosen: chosen.value } }
      return way === 'undo'
        ? api.POST('/api/pieces/{piece_id}/order/undo', asked)
        : api.POST('/api/pieces/{piece_id}/order/redo', asked)
    },
    take: (next, of) => of === piece.value && take(next),
    fallBack: () => (tried.value = null),
  })
  /** Store changes; `then` is the block that is chosen after them. */
  async function commit(edits: OrderEdit[], then: number | null = chosen.value): Promise<boolean> {
    const done = await store(
      (of, at) =>
        api.POST('/api/pieces/{piece_id}/order/edits', { params: to(of), body: { ...at, edits, chosen: then } }),
      edits, (next, of) => {
        if (of !== piece.value) return
        chosen.value = next.view.chosen ?? chosen.value
        take(next)
      },
    )
    return done === 'taken'
  }
  /** Try changes out: picture and sound follow, nothing is stored. */
  async function preview(edits: OrderEdit[]): Promise<void> {
    const mine = (asked += 1)
    if (!edits.length) {
      tried.value = null
      return
    }
    try {
      const next = await ask(
        api.POST('/api/pieces/{piece_id}/order/look', {
          params: to(piece.value), body: { edits, chosen: chosen.value },
        }),
      )
      if (mine === asked) tried.value = next
    } catch (problem) {
      if (mine === asked) notices.trouble(problem)
    }
  }

  return {
    piece, shown, state, view, history, chosen, block, open, leave, forget, read, choose, commit, preview,
    undo, redo,
  }
})
