/**
 * Changes of what has a past (patterns, clips, the order): they follow each other, each is stored as one
 * state, and where the thing has moved on elsewhere, how it is now is shown and what was tried is told.
 */
import { Refusal, type Answer, type Schemas } from '@/api/client'
import { insist, newKey } from '@/api/insist'
import { announce } from '@/app/announce'
import { letGo } from '@/app/hand'
import { useNotices } from '@/app/notices'

/** What became of a change: taken, refused for what it says, or overtaken by another one. */
export type Outcome = 'taken' | 'refused' | 'overtaken'
export type Way = 'undo' | 'redo'
/** The state that something is asked for on, and a key, so that it can be asked for again. */
export interface At {
  revision: number
  key: string
}
interface State {
  revision: number
  history: Schemas['HistoryOut']
}
interface Stale<S> {
  detail: string
  tried: string
  state: S
}
type Ask<S> = (of: number, at: At) => Promise<Answer<S>>

export interface WithPast<S extends State, E> {
  /** Which of them is open now. */
  id: () => number
  /** The newest states that are known of each. */
  newest: Map<number, number>
  history: () => State['history']
  step: (way: Way, of: number, at: At) => Promise<Answer<S>>
  /** What undo reaches besides states; whether that was the last thing done. */
  turnBack?: (way: Way) => boolean
  /** Show a state, where it is of what is open. */
  take: (next: S, of: number) => void
  /** What was tried is not so: the picture goes back. */
  fallBack: (edits: E[], outcome: Outcome) => void
  /** Make edits on the newer state too, where they mean the same there. */
  again?: (edits: E[]) => void
}

export function useChanges<S extends State, E>(thing: WithPast<S, E>) {
  const notices = useNotices()
  let queue: Promise<unknown> = Promise.resolve()

  /** Make a change once those before it are made, of what is open now. What a hand still held is stored first. */
  function inTurn(change: (of: number, at: At) => Promise<void>, edits: E[] = []): Promise<Outcome> {
    letGo()
    const [of, key] = [thing.id(), newKey()]
    const done = queue.then(async (): Promise<Outcome> => {
      try {
        await change(of, { revision: thing.newest.get(of) ?? 0, key })
        return 'taken'
      } catch (problem) {
        return refused(problem, of, edits)
      }
    })
    queue = done
    return done
  }

  function took(of: number, next: S, take = thing.take): void {
    thing.newest.set(of, next.revision)
    take(next, of)
  }

  /** Say what went wrong; where the thing has moved on, show how it is now, and tell what was tried. */
  function refused(problem: unknown, of: number, edits: E[]): Outcome {
    if (!(problem instanceof Refusal && problem.status === 409)) {
      notices.trouble(problem)
      thing.fallBack(edits, 'refused')
      return 'refused'
    }
    const stale = problem.body as Stale<S>
    thing.fallBack(edits, 'overtaken')
    took(of, stale.state)
    const { again } = thing
    const offer = again && edits.length ? { label: 'Do it here too', run: () => again(edits) } : undefined
    notices.say(edits.length ? `${stale.detail} Yours was: ${stale.tried}.` : stale.detail, offer)
    return 'overtaken'
  }

  /** Ask for a change; `take` shows the state after it, where it is not to be shown as others are. */
  function store(ask: Ask<S>, edits: E[] = [], take = thing.take): Promise<Outcome> {
    return inTurn(async (of, at) => {
      const next = await insist(() => ask(of, at))
      took(of, next, take)
      announce(next.history.undo ?? '')
    }, edits)
  }

  function travel(way: Way): Promise<Outcome> {
    return inTurn(async (of, at) => {
      if (thing.turnBack?.(way)) return
      const what = thing.history()[way]
      took(of, await insist(() => thing.step(way, of, at)))
      if (what) announce(`${way === 'undo' ? 'Taken back' : 'Done again'}: ${what}`)
    })
  }

  /** Resolves when every change so far is made or refused. */
  const settled = () => queue

  return { store, undo: () => travel('undo'), redo: () => travel('redo'), settled }
}
