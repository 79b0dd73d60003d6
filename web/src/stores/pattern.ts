/**
 * The pattern on the screen: its newest revision, a view of it over some beats, and the edits on
 * their way. A view remembers the source (revision and tried-out edits) that it was made from.
 */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, ask, Refusal, type Edit, type Stale, type State, type View } from '@/api/client'
import { away, insist, newKey, soon } from '@/api/insist'
import { announce } from '@/app/announce'
import { letGo } from './hand'
import { useNotices } from './notices'
import { sameAsBefore } from './sameAsBefore'

export interface Source {
  revision: number
  edits: Edit[]
}

/** Stay was turned while the pattern stood at this revision; `to` is what it became. */
interface Turned {
  revision: number
  to: boolean
}

export interface Seen {
  source: Source
  view: View
}

/** A view goes over at least so many beats, so that sound has something to go on with. */
const LEAST_BEATS = 16
/** So many looks may be on their way at once. */
const MOST_LOOKS = 2
/** Without a look for so long, no hand is moving. */
const QUIET_MS = 400
const LONGEST_WAIT_MS = 6000

export const usePattern = defineStore('pattern', () => {
  const notices = useNotices()
  const id = ref(0)
  const name = ref('')
  const revision = ref(0)
  const stored = ref<State['history']>({ undo: null, redo: null })
  const seen = shallowRef<Seen | null>(null)
  const chosen = ref<string | null>(null)
  const step = ref(0)
  const viewBars = ref(2)
  const start = ref(0)
  const staying = ref(false)
  /** Whether the pattern was deleted elsewhere. */
  const gone = ref(false)
  /** Turns of Stay since some revision: undo and redo reach them, though nothing is stored of them. */
  const stays = ref<Turned[]>([])
  const staysUndone = ref<Turned[]>([])
  /** Lanes that are changed together with the chosen one. */
  const picked = ref<string[]>([])
  /** Steps of the chosen lane that are changed together. */
  const steps = ref<number[]>([])
  /** All bars up to the meeting point in one overview, while it is wanted. */
  const weave = shallowRef<View | null>(null)
  const weaving = ref(false)
  const copied = ref<{ lane: string; first: number; last: number } | null>(null)

  const view = computed(() => seen.value?.view ?? null)
  const here = (turned: Turned | undefined) => (turned?.revision === revision.value ? turned : undefined)
  const wordOf = (turned: Turned) => (turned.to ? 'Stay' : 'Flow')
  const history = computed<State['history']>(() => {
    const [back, forth] = [here(stays.value.at(-1)), here(staysUndone.value.at(-1))]
    return { undo: back ? wordOf(back) : stored.value.undo, redo: forth ? wordOf(forth) : stored.value.redo }
  })
  /** The lengths of a beat of the metre, of a bar and of the frame, in quarter notes. */
  const beat = computed(() => 4 / (view.value?.meter[1] ?? 4))
  const bar = computed(() => view.value?.bar_beats ?? 4)
  const frame = computed(() => view.value?.frame_beats ?? 4)
  const span = computed(() => viewBars.value * bar.value)
  const also = computed(() => picked.value.filter((each) => each !== chosen.value))
  /** The lanes that are changed together with this one, if it is picked with others. */
  const alongside = (laneId: string) => (picked.value.includes(laneId) ? picked.value.filter((each) => each !== laneId) : [])
  const lane = computed(() => view.value?.lanes.find((each) => each.id === chosen.value) ?? null)

  /** The newest revision that is known of each pattern. */
  const newest = new Map<number, number>()
  let tried: Edit[] = []
  let looking = 0
  let lookAgain = false
  let asked = 0
  let answered = 0
  let lookedAt = -QUIET_MS
  let queue: Promise<unknown> = Promise.resolve()

  function wanted() {
    const beats = Math.max(2 * span.value, Math.ceil(LEAST_BEATS / span.value) * span.value)
    // A pass that is repeated has to be there as a whole.
    const from = staying.value ? Math.floor(start.value / frame.value + 1e-9) * frame.value : start.value
    const end = Math.max(start.value + beats, staying.value ? from + frame.value : 0)
    return { start: from, end, chosen: chosen.value }
  }

  function show(state: State): void {
    const known = state.id === id.value ? view.value?.lanes.map((each) => each.id) : undefined
    id.value = state.id
    name.value = state.name
    revision.value = state.revision
    newest.set(state.id, state.revision)
    stored.value = state.history
    seen.value = { source: { revision: state.revision, edits: [] }, view: sameAsBefore(view.value, state.view) }
    // A lane that was chosen while this was on its way stays chosen.
    const told = state.view.chosen?.lane ?? null
    if (!state.view.lanes.some((each) => each.id === chosen.value)) chosen.value = told
    else if (told !== chosen.value) void look()
    fitBars()
    // A lane that has just been made is the one to go on with.
    const made = known && state.view.lanes.find((each) => !known.includes(each.id))
    if (made) choose(made.id)
  }

  /** Show a state, if it is of the pattern that is open; one that was left may still be answered. */
  function keepUp(state: State): void {
    newest.set(state.id, state.revision)
    if (state.id === id.value) show(state)
  }

  /** Open a pattern; the chosen lane stays chosen if it is there too. */
  async function open(pattern: number): Promise<void> {
    letGo()
    await queue
    stays.value = staysUndone.value = []
    gone.value = false
    tried = []
    start.value = 0
    picked.value = []
    steps.value = []
    copied.value = null
    stopWeaving()
    const path = { pattern_id: pattern }
    const first = await ask(
      api.POST('/api/patterns/{pattern_id}/state', {
        params: { path },
        body: { start: 0, end: 8 * LEAST_BEATS, chosen: chosen.value },
      }),
    )
    show(first)
    await look()
  }

  /**
   * See the pattern anew, with what is being tried out. A new wish does not wait for the answer to the
   * one before; of more than two, only the latest is asked for.
   */
  async function look(): Promise<void> {
    lookedAt = performance.now()
    if (looking >= MOST_LOOKS) {
      lookAgain = true
      return
    }
    looking += 1
    try {
      do {
        lookAgain = false
        const source: Source = { revision: revision.value, edits: tried }
        const pattern = id.value
        const number = (asked += 1)
        const fresh = await ask(
          api.POST('/api/patterns/{pattern_id}/look', {
            params: { path: { pattern_id: pattern } },
            body: { ...source, ...wanted() },
          }),
        )
        away.value = false
        if (pattern !== id.value || number < answered) continue
        answered = number
        if (source.revision === revision.value) {
          seen.value = { source, view: sameAsBefore(view.value, fresh) }
          fitBars()
        }
        else if (tried.length) lookAgain = true // an edit was stored meanwhile: try it out on that
      } while (lookAgain)
    } catch (problem) {
      if (problem instanceof Refusal && problem.away) {
        away.value = true
        void soon().then(look)
      } else {
        tried = []
        if (problem instanceof Refusal && problem.status === 404) gone.value = true
        else notices.trouble(problem)
      }
    } finally {
      looking -= 1
    }
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

  /** Resolves when no hand is moving, or after some seconds: what can wait does not hold up a drag. */
  async function quiet(): Promise<void> {
    const from = performance.now()
    while (performance.now() - lookedAt < QUIET_MS && performance.now() - from < LONGEST_WAIT_MS) {
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
  }

  /** Try edits out: picture and sound follow, nothing is stored. */
  function preview(edits: Edit[]): Promise<void> {
    tried = edits
    return look()
  }

  /**
   * Store edits as one revision of the pattern that they were made in. Resolves to whether they were
   * taken.
   */
  function commit(edits: Edit[]): Promise<boolean> {
    const done = inTurn((pattern, key, before) => send(edits, before, pattern, key))
    staysUndone.value = []
    return done
  }

  /**
   * Make a change once those before it are made, in the pattern that is open now; it has a key, so that
   * it can be sent again. What a hand still held is stored first; `before` is what was being tried out.
   */
  function inTurn<T>(change: (pattern: number, key: string, before: Edit[]) => Promise<T>): Promise<T> {
    letGo()
    const [pattern, key, before] = [id.value, newKey(), tried]
    const done = queue.then(() => change(pattern, key, before))
    queue = done
    return done
  }

  async function send(edits: Edit[], before: Edit[], pattern: number, key: string): Promise<boolean> {
    try {
      const body = { revision: newest.get(pattern) ?? 0, edits, key, ...wanted() }
      const params = { path: { pattern_id: pattern } }
      const state = await insist(() => api.POST('/api/patterns/{pattern_id}/edits', { params, body }))
      if (tried === before) tried = []
      keepUp(state)
      announce(state.history.undo ?? '')
      if (tried.length) void look()
      return true
    } catch (problem) {
      tried = []
      refused(problem, edits)
      return false
    }
  }

  /** Say what went wrong; where the pattern has moved on, show how it is now, and offer what was tried once more. */
  function refused(problem: unknown, edits: Edit[] = []): void {
    if (!(problem instanceof Refusal && problem.status === 409)) {
      notices.trouble(problem)
      if (edits.length) void look()
      return
    }
    const stale = problem.body as Stale
    keepUp(stale.state)
    const again = edits.length
      ? { label: 'Do it here too', run: () => void commit(edits) }
      : undefined
    const text = edits.length ? `${stale.detail} Yours was: ${stale.tried}.` : stale.detail
    notices.say(text, again, true)
  }

  /** Begin with what another pattern of the piece has. */
  function fillFrom(source: number): Promise<void> {
    return inTurn(async (pattern, key) => {
      const body = { revision: newest.get(pattern) ?? 0, source, key, ...wanted() }
      const params = { path: { pattern_id: pattern } }
      try {
        keepUp(await insist(() => api.POST('/api/patterns/{pattern_id}/fill', { params, body })))
      } catch (problem) {
        refused(problem)
      }
    })
  }

  function travel(way: 'undo' | 'redo'): Promise<void> {
    return inTurn(async (pattern, key) => {
      if (turnedBack(way)) return
      const body = { revision: newest.get(pattern) ?? 0, edits: [], key, ...wanted() }
      const params = { path: { pattern_id: pattern } }
      try {
        tried = []
        const what = history.value[way] ?? ''
        keepUp(
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

  /** Undo or redo a turn of Stay, if that was the last thing that was done. */
  function turnedBack(way: 'undo' | 'redo'): boolean {
    const [from, to] = way === 'undo' ? [stays, staysUndone] : [staysUndone, stays]
    const turned = here(from.value.at(-1))
    if (!turned) return false
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, turned]
    staying.value = way === 'undo' ? !turned.to : turned.to
    void look()
    return true
  }

  /** Repeat this pass, or let the passes go on. */
  function toggleStay(): void {
    letGo()
    staying.value = !staying.value
    announce(staying.value ? 'Stay: this pass is repeated' : 'Flow: the passes go on')
    stays.value = [...stays.value, { revision: revision.value, to: staying.value }]
    staysUndone.value = []
    void look()
  }

  function choose(laneId: string): void {
    if (chosen.value === laneId) return
    letGo()
    chosen.value = laneId
    steps.value = []
    void look()
  }

  /** Add a lane to those that are changed together, or take it out again. */
  function pick(laneId: string): void {
    letGo()
    const together = new Set([...picked.value, ...(chosen.value ? [chosen.value] : [])])
    if (together.delete(laneId)) {
      if (laneId === chosen.value) choose([...together][0] ?? laneId)
    } else {
      together.add(laneId)
    }
    picked.value = together.size > 1 ? [...together] : []
  }
  function pickAll(): void {
    letGo()
    const all = view.value?.lanes.map((each) => each.id) ?? []
    picked.value = picked.value.length === all.length ? [] : all
  }

  /** Turn to the page that holds this beat. */
  function turnTo(beat: number): void {
    const page = Math.max(0, Math.floor(beat / span.value + 1e-9)) * span.value
    if (page !== start.value) {
      start.value = page
      void look()
    }
  }

  const MOST_WEAVE_BARS = 256
  const weaveBars = computed(() => Math.round((weave.value?.end ?? 0) / bar.value))
  let weavingNow = false
  let weaveAgain = false
  /** See everything from the first bar to the meeting point, or as much of it as can be shown at once. */
  async function seeWeave(): Promise<void> {
    weaving.value = true
    weaveAgain = weavingNow
    if (weavingNow) return
    weavingNow = true
    try {
      const bars = Math.min(view.value?.meeting.bars ?? MOST_WEAVE_BARS, MOST_WEAVE_BARS, Math.floor(2048 / bar.value))
      do {
        weaveAgain = false
        const body = { revision: revision.value, edits: tried, start: 0, end: bars * bar.value, chosen: chosen.value }
        const whole = await ask(
          api.POST('/api/patterns/{pattern_id}/look', { params: { path: { pattern_id: id.value } }, body }),
        )
        if (weaving.value) weave.value = sameAsBefore(weave.value, whole)
      } while (weaveAgain && weaving.value)
    } catch (problem) {
      stopWeaving()
      notices.trouble(problem)
    } finally {
      weavingNow = false
    }
  }
  function stopWeaving(): void {
    weaving.value = false
    weave.value = null
  }
  watch(
    () => view.value?.lanes.map((each) => each.drawn.stamp).join(),
    () => void (weaving.value && seeWeave()),
  )

  function setBars(bars: number): void {
    stopWeaving()
    viewBars.value = bars
    start.value = Math.floor(start.value / span.value + 1e-9) * span.value
    void look()
  }

  return {
    id, name, revision, history, seen, view, chosen, lane, step, beat, bar, frame, viewBars, span, start, staying, gone,
    open, look, quiet, preview, commit, undo: () => travel('undo'), redo: () => travel('redo'),
    picked, steps, also, alongside, weave, weaving, weaveBars, copied,
    choose, pick, pickAll, turnTo, setBars, seeWeave, toggleStay, fillFrom,
  }
})
