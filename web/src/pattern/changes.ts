/**
 * Changes of the open pattern: they follow each other, each is stored as one revision, and where the
 * pattern has moved on elsewhere, how it is now is shown and what was tried is offered once more.
 */
import { computed } from 'vue'
import { api, Refusal, type Edit, type Stale, type State } from '@/api/client'
import { insist, newKey } from '@/api/insist'
import { announce } from '@/app/announce'
import { useNotices } from '@/app/notices'
import { letGo } from './hand'
import type { Sight } from './sight'
import type { Stay } from './stay'

/** What became of a change: taken, refused for what it says, or overtaken by another one. */
export type Outcome = 'taken' | 'refused' | 'overtaken'

export function useChanges(sight: Sight, stay: Stay) {
  const notices = useNotices()
  const { id, tried, newest } = sight
  const history = computed<State['history']>(() => stay.over(sight.stored.value))
  let queue: Promise<unknown> = Promise.resolve()

  /** Store edits as one revision of the pattern that they were made in. */
  function store(edits: Edit[]): Promise<Outcome> {
    const done = inTurn((pattern, key, before) => send(edits, before, pattern, key))
    stay.forgetUndone()
    return done
  }
  /** The same; resolves to whether they were taken. */
  const commit = async (edits: Edit[]): Promise<boolean> => (await store(edits)) === 'taken'
  /** The same for what a word was turned to; resolves to false only where the word cannot be so. */
  const say = async (edits: Edit[]): Promise<boolean> => (await store(edits)) !== 'refused'

  /**
   * Make a change once those before it are made, in the pattern that is open now; it has a key, so that
   * it can be sent again. What a hand still held is stored first; `before` is what was being tried out.
   */
  function inTurn<T>(change: (pattern: number, key: string, before: Edit[]) => Promise<T>): Promise<T> {
    letGo()
    sight.outdate()
    const [pattern, key, before] = [id.value, newKey(), tried.value]
    const done = queue.then(() => change(pattern, key, before))
    queue = done
    return done
  }

  async function send(edits: Edit[], before: Edit[], pattern: number, key: string): Promise<Outcome> {
    try {
      const body = { revision: newest.get(pattern) ?? 0, edits, key, ...sight.wanted() }
      const params = { path: { pattern_id: pattern } }
      const state = await insist(() => api.POST('/api/patterns/{pattern_id}/edits', { params, body }))
      if (tried.value === before) tried.value = []
      sight.keepUp(state)
      announce(state.history.undo ?? '')
      if (tried.value.length) void sight.look()
      return 'taken'
    } catch (problem) {
      tried.value = []
      return refused(problem, edits)
    }
  }

  /** Say what went wrong; where the pattern has moved on, show how it is now, and offer what was tried once more. */
  function refused(problem: unknown, edits: Edit[] = []): Outcome {
    if (!(problem instanceof Refusal && problem.status === 409)) {
      notices.trouble(problem)
      if (edits.length) void sight.look()
      return 'refused'
    }
    const stale = problem.body as Stale
    sight.keepUp(stale.state)
    const again = edits.length
      ? { label: 'Do it here too', run: () => void commit(edits) }
      : undefined
    const text = edits.length ? `${stale.detail} Yours was: ${stale.tried}.` : stale.detail
    notices.say(text, again)
    return 'overtaken'
  }

  /** Begin with what another pattern of the piece has. */
  function fillFrom(source: number): Promise<void> {
    return inTurn(async (pattern, key) => {
      const body = { revision: newest.get(pattern) ?? 0, source, key, ...sight.wanted() }
      const params = { path: { pattern_id: pattern } }
      try {
        sight.keepUp(await insist(() => api.POST('/api/patterns/{pattern_id}/fill', { params, body })))
      } catch (problem) {
        refused(problem)
      }
    })
  }

  function travel(way: 'undo' | 'redo'): Promise<void> {
    return inTurn(async (pattern, key) => {
      if (stay.turnBack(way)) return
      const body = { revision: newest.get(pattern) ?? 0, edits: [], key, ...sight.wanted() }
      const params = { path: { pattern_id: pattern } }
      try {
        tried.value = []
        const what = history.value[way] ?? ''
        sight.keepUp(
          way === 'undo'
            ? await insist(() => api.POST('/api/patterns/{pattern_id}/undo', { params, body }))
            : await insist(() => api.POST('/api/patterns/{pattern_id}/redo', { params, body })),
        )
        announce(`${way === 'undo' ? 'Taken back' : 'Done again'}: ${what}`)
      } catch (problem) {
        refused(problem)
      }
    })
  }

  /** Resolves when every change so far is made or refused. */
  const settled = () => queue

  return { history, store, commit, say, fillFrom, undo: () => travel('undo'), redo: () => travel('redo'), settled }
}
