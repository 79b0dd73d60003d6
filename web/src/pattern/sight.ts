/**
 * What is seen of the open pattern: a view of its newest revision over some beats, with the edits that
 * are being tried out. A view remembers the source (revision and edits) that it was made from.
 */
import { computed, ref, shallowRef } from 'vue'
import { api, ask, Refusal, type Edit, type State, type View } from '@/api/client'
import { away, soon } from '@/api/insist'
import { useNotices } from '@/app/notices'
import { letGo } from '@/app/hand'
import { lookAt, useParts } from './inParts'
import { sameAsBefore } from './sameAsBefore'

export interface Source {
  revision: number
  edits: Edit[]
}

/** A state as it was seen, whole. */
export type KeptSight = Omit<State, 'view'> & { view: View }

export interface Seen {
  source: Source
  view: View
}

/** A view goes over at least so many beats, so that sound has something to go on with. */
export const LEAST_BEATS = 16
/** So many bars are shown at first. */
export const VIEW_BARS = 2
/** So many looks may be on their way at once. */
const MOST_LOOKS = 2
/** A look that a newer wish has waited for so long is given up. */
const GIVEN_UP_MS = 250
/** Without a look for so long, no hand is moving. */
const QUIET_MS = 400
const LONGEST_WAIT_MS = 6000

export type Sight = ReturnType<typeof useSight>

export function useSight() {
  const notices = useNotices()
  const parts = useParts()
  const id = ref(0)
  const name = ref('')
  const revision = ref(0)
  const stored = ref<State['history']>({ undo: null, redo: null })
  const seen = shallowRef<Seen | null>(null)
  const chosen = ref<string | null>(null)
  const viewBars = ref(VIEW_BARS)
  const start = ref(0)
  const staying = ref(false)
  /** Whether the pattern was deleted elsewhere. */
  const gone = ref(false)
  /** Edits that are tried out; nothing is stored of them. */
  const tried = shallowRef<Edit[]>([])
  /** The newest revision that is known of each pattern. */
  const newest = new Map<number, number>()

  const view = computed(() => seen.value?.view ?? null)
  /** The lengths of a beat of the metre, of a bar and of the frame, in quarter notes. */
  const beat = computed(() => 4 / (view.value?.meter[1] ?? 4))
  const bar = computed(() => view.value?.bar_beats ?? 4)
  const frame = computed(() => view.value?.frame_beats ?? 4)
  const span = computed(() => viewBars.value * bar.value)
  const lane = computed(() => view.value?.lanes.find((each) => each.id === chosen.value) ?? null)

  /** The looks that are on their way, the oldest first: since when, and how to give one up. */
  const looking: { since: number; giveUp: AbortController }[] = []
  let lookAgain = false
  let asked = 0
  let answered = 0
  let lookedAt = -QUIET_MS

  /** The range and the lane that a view is asked for. */
  function wanted() {
    const beats = Math.max(2 * span.value, Math.ceil(LEAST_BEATS / span.value) * span.value)
    // A pass that is repeated has to be there as a whole.
    const from = staying.value ? Math.floor(start.value / frame.value + 1e-9) * frame.value : start.value
    const end = Math.max(start.value + beats, staying.value ? from + frame.value : 0)
    return { start: from, end, chosen: chosen.value, have: parts.have() }
  }

  function show(state: State): void {
    const known = state.id === id.value ? view.value?.lanes.map((each) => each.id) : undefined
    const fresh = parts.assembled(state.view)
    id.value = state.id
    name.value = state.name
    revision.value = state.revision
    newest.set(state.id, state.revision)
    stored.value = state.history
    seen.value = { source: { revision: state.revision, edits: [] }, view: sameAsBefore(view.value, fresh) }
    // A lane that was chosen while this was on its way stays chosen.
    const told = fresh.chosen?.lane ?? null
    if (!fresh.lanes.some((each) => each.id === chosen.value)) chosen.value = told
    else if (told !== chosen.value) void look()
    fitBars()
    // A lane that has just been made is the one to go on with.
    const made = known && fresh.lanes.find((each) => !known.includes(each.id))
    if (made) choose(made.id)
  }

  /** What is shown, as long as nothing is tried out: enough to show and play it while the server is away. */
  const kept = (): KeptSight | null => (!view.value || seen.value?.source.edits.length ? null : {
    id: id.value, name: name.value, revision: revision.value, history: stored.value, view: view.value,
  })
  function bringBack(was: KeptSight): void {
    show(was)
    start.value = was.view.start
  }

  /** Show a state, if it is of the pattern that is open; one that was left may still be answered. */
  function keepUp(state: State): void {
    newest.set(state.id, state.revision)
    if (state.id === id.value) show(state)
  }

  /**
   * See the pattern anew, with what is being tried out. A new wish does not wait for the answer to the
   * one before; of more than two, only the latest is asked for.
   */
  async function look(): Promise<void> {
    lookedAt = performance.now()
    if (looking.length >= MOST_LOOKS) {
      lookAgain = true
      const [oldest] = looking
      if (oldest && lookedAt - oldest.since > GIVEN_UP_MS) oldest.giveUp.abort()
      return
    }
    const mine = { since: lookedAt, giveUp: new AbortController() }
    looking.push(mine)
    try {
      do {
        lookAgain = false
        mine.since = performance.now()
        mine.giveUp = new AbortController()
        const source: Source = { revision: revision.value, edits: tried.value }
        const pattern = id.value
        const number = (asked += 1)
        const fresh = await ask(
          api.POST('/api/patterns/{pattern_id}/look', {
            params: { path: { pattern_id: pattern } },
            body: { ...source, ...wanted() },
            signal: mine.giveUp.signal,
          }),
        ).catch((problem: unknown) => {
          if (mine.giveUp.signal.aborted) return null
          throw problem
        })
        if (!fresh) continue
        away.value = false
        if (pattern !== id.value || number < answered) continue
        answered = number
        if (source.revision === revision.value) {
          seen.value = { source, view: sameAsBefore(view.value, parts.assembled(fresh)) }
          fitBars()
        }
        else if (tried.value.length) lookAgain = true // an edit was stored meanwhile: try it out on that
      } while (lookAgain)
    } catch (problem) {
      if (problem instanceof Refusal && problem.away) {
        away.value = true
        void soon().then(look)
      } else {
        tried.value = []
        if (problem instanceof Refusal && problem.status === 404) gone.value = true
        else notices.trouble(problem)
      }
    } finally {
      looking.splice(looking.indexOf(mine), 1)
    }
  }

  /** See the pattern with edits, without showing it; null where it cannot be seen, or has changed meanwhile. */
  async function foresee(edits: Edit[]): Promise<Seen | null> {
    const [pattern, source] = [id.value, { revision: revision.value, edits }]
    const fresh = await lookAt(pattern, { ...source, ...wanted() }, parts).catch(() => null)
    return fresh && pattern === id.value ? { source, view: fresh } : null
  }
  /** Show what was foreseen, as tried out; false where the pattern is another by now. */
  function take({ source, view: fresh }: Seen): boolean {
    if (source.revision !== revision.value) return false
    tried.value = source.edits
    outdate()
    seen.value = { source, view: sameAsBefore(view.value, fresh) }
    if (looking.length || fresh.start !== start.value) void look()
    return true
  }

  /** A pattern too dense to be worked out so far is shown fewer bars at a time, and this is said. */
  function fitBars(): void {
    const now = view.value
    if (!now?.shortened || now.end - now.start >= 2 * span.value) return
    viewBars.value = Math.max(1, Math.floor((now.end - now.start) / now.bar_beats / 2))
    notices.say(`So dense a pattern is shown ${viewBars.value === 1 ? 'one bar' : `${viewBars.value} bars`} at a time.`)
    start.value = Math.floor(start.value / span.value + 1e-9) * span.value
    void look()
  }

  /** What has been asked so far is answered too late: a change is being stored that it does not know of. */
  const outdate = () => (answered = asked + 1)

  /** Resolves when no hand is moving, or after some seconds: what can wait does not hold up a drag. */
  async function quiet(): Promise<void> {
    const from = performance.now()
    while (performance.now() - lookedAt < QUIET_MS && performance.now() - from < LONGEST_WAIT_MS) {
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
  }

  /** Try edits out: picture and sound follow, nothing is stored. */
  function preview(edits: Edit[]): Promise<void> {
    tried.value = edits
    return look()
  }

  function choose(laneId: string): void {
    if (chosen.value === laneId) return
    letGo()
    chosen.value = laneId
    void look()
  }

  /** Turn to the page that holds this beat. */
  function turnTo(beat: number): void {
    const page = Math.max(0, Math.floor(beat / span.value + 1e-9)) * span.value
    if (page !== start.value) {
      start.value = page
      void look()
    }
  }

  /** Show so many bars, from a place that so many bars lead to. */
  function setBars(bars: number): void {
    viewBars.value = bars
    start.value = Math.floor(start.value / span.value + 1e-9) * span.value
    void look()
  }

  return {
    id, name, revision, stored, newest, tried, seen, view, chosen, lane, beat, bar, frame, viewBars, span, start,
    staying,
    gone, wanted, show, kept, bringBack, keepUp, look, preview, foresee, take, outdate, quiet, choose, turnTo, setBars,
  }
}
