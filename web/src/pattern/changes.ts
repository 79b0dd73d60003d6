/** Changes of the open pattern, each stored as one revision. */
import { computed } from 'vue'
import { api, type Edit, type State } from '@/api/client'
import { letGo } from '@/app/hand'
import { useChanges, type Outcome } from '@/past/useChanges'
import type { Sight } from './sight'
import type { Stay } from './stay'

export function usePatternChanges(sight: Sight, stay: Stay) {
  const { id, tried, newest } = sight
  const history = computed<State['history']>(() => stay.over(sight.stored.value))
  const to = (pattern: number) => ({ path: { pattern_id: pattern } })

  const { store, undo, redo, settled } = useChanges<State, Edit>({
    id: () => id.value,
    newest,
    history: () => history.value,
    step(way, pattern, at) {
      tried.value = []
      const asked = { params: to(pattern), body: { ...at, edits: [], ...sight.wanted() } }
      return way === 'undo'
        ? api.POST('/api/patterns/{pattern_id}/undo', asked)
        : api.POST('/api/patterns/{pattern_id}/redo', asked)
    },
    turnBack: stay.turnBack,
    take: sight.keepUp,
    fallBack(edits, outcome) {
      tried.value = []
      if (edits.length && outcome === 'refused') void sight.look()
    },
    again: (edits) => void commit(edits),
  })

  /** Store edits as one revision of the pattern that they were made in. */
  function change(edits: Edit[]): Promise<Outcome> {
    letGo()
    sight.outdate()
    const before = tried.value
    const done = store((pattern, at) =>
      api.POST('/api/patterns/{pattern_id}/edits', {
        params: to(pattern), body: { ...at, edits, ...sight.wanted() },
      }), edits, (state) => {
      if (tried.value === before) tried.value = []
      sight.keepUp(state)
      if (tried.value.length) void sight.look()
    })
    stay.forgetUndone()
    return done
  }
  /** The same; resolves to whether they were taken. */
  const commit = async (edits: Edit[]): Promise<boolean> => (await change(edits)) === 'taken'
  /** The same for what a word was turned to; resolves to false only where the word cannot be so. */
  const say = async (edits: Edit[]): Promise<boolean> => (await change(edits)) !== 'refused'

  /** Begin with what another pattern of the piece has. */
  const fillFrom = (source: number): Promise<Outcome> => store((pattern, at) =>
    api.POST('/api/patterns/{pattern_id}/fill', { params: to(pattern), body: { ...at, source, ...sight.wanted() } }))

  return { history, store: change, commit, say, fillFrom, undo, redo, settled }
}
