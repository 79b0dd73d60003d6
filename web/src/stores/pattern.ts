/**
 * The pattern on the screen: its newest revision, a view of it over some beats, and the edits on
 * their way. A view remembers the source (revision and tried-out edits) that it was made from.
 */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, ask, Refusal, type Edit, type Stale, type State, type View } from '@/api/client'
import { useNotices } from './notices'
import { sameAsBefore } from './sameAsBefore'

export interface Source {
  revision: number
  edits: Edit[]
}

export interface Seen {
  source: Source
  view: View
}

/** A view goes over at least so many beats, so that sound has something to go on with. */
const LEAST_BEATS = 16
const RETRY_MS = 2000
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
  const history = ref<State['history']>({ undo: null, redo: null })
  const seen = shallowRef<Seen | null>(null)
  const chosen = ref<string | null>(null)
  const step = ref(0)
  const viewBars = ref(2)
  const start = ref(0)
  const away = ref(false)
  const unsent = ref(0)
  const staying = ref(false)
  /** Lanes that are changed together with the chosen one. */
  const picked = ref<string[]>([])
  /** Steps of the chosen lane that are changed together. */
  const steps = ref<number[]>([])
  /** All bars up to the meeting point in one overview, while it is wanted. */
  const weave = shallowRef<View | null>(null)
  const weaving = ref(false)
  const copied = ref<{ lane: string; first: number; last: number } | null>(null)

  const view = computed(() => seen.value?.view ?? null)
  /** The lengths of a beat of the metre, of a bar and of the frame, in quarter notes. */
  const beat = computed(() => 4 / (view.value?.meter[1] ?? 4))
  const bar = computed(() => view.value?.bar_beats ?? 4)
  const frame = computed(() => view.value?.frame_beats ?? 4)
  const span = computed(() => viewBars.value * bar.value)
  const also = computed(() => picked.value.filter((each) => each !== chosen.value))
  /** The lanes that are changed together with this one, if it is picked with others. */
  const alongside = (laneId: string) => (picked.value.includes(laneId) ? picked.value.filter((each) => each !== laneId) : [])
  const lane = computed(() => view.value?.lanes.find((each) => each.id === chosen.value) ?? null)

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
    history.value = state.history
    seen.value = { source: { revision: state.revision, edits: [] }, view: sameAsBefore(view.value, state.view) }
    chosen.value = state.view.chosen?.lane ?? null
    // A lane that has just been made is the one to go on with.
    const made = known && state.view.lanes.find((each) => !known.includes(each.id))
    if (made) choose(made.id)
  }

  /** Open a pattern; the chosen lane stays chosen if it is there too. */
  async function open(pattern: number): Promise<void> {
    await queue
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
        if (source.revision === revision.value) seen.value = { source, view: sameAsBefore(view.value, fresh) }
        else if (tried.length) lookAgain = true // an edit was stored meanwhile: try it out on that
      } while (lookAgain)
    } catch (problem) {
      if (problem instanceof Refusal && problem.away) {
        away.value = true
        setTimeout(() => void look(), RETRY_MS)
      } else {
        tried = []
        notices.trouble(problem)
      }
    } finally {
      looking -= 1
    }
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

  /** Store edits as one revision. Resolves to whether they were taken. */
  function commit(edits: Edit[]): Promise<boolean> {
    unsent.value += 1
    const before = tried
    const done = queue.then(() => send(edits, before)).finally(() => (unsent.value -= 1))
    queue = done
    return done
  }

  /** `before` is what was being tried out when the edits were made. */
  async function send(edits: Edit[], before: Edit[]): Promise<boolean> {
    for (;;) {
      try {
        const state = await ask(
          api.POST('/api/patterns/{pattern_id}/edits', {
            params: { path: { pattern_id: id.value } },
            body: { revision: revision.value, edits, ...wanted() },
          }),
        )
        away.value = false
        if (tried === before) tried = []
        show(state)
        if (tried.length) void look()
        return true
      } catch (problem) {
        if (problem instanceof Refusal && problem.away) {
          away.value = true
          await new Promise((resolve) => setTimeout(resolve, RETRY_MS))
          continue
        }
        tried = []
        if (problem instanceof Refusal && problem.status === 409) {
          offerAgain(problem, edits)
        } else {
          notices.trouble(problem)
          void look()
        }
        return false
      }
    }
  }

  /** Show the newer state, and offer what was tried once more. */
  function offerAgain(problem: Refusal, edits: Edit[]): void {
    const stale = problem.body as Stale
    show(stale.state)
    const again = edits.length
      ? { label: 'Do it here too', run: () => void commit(edits) }
      : undefined
    const text = edits.length ? `${stale.detail} Yours was: ${stale.tried}.` : stale.detail
    notices.say(text, again, true)
  }

  function travel(way: 'undo' | 'redo'): Promise<void> {
    const done = queue.then(async () => {
      const body = { revision: revision.value, edits: [], ...wanted() }
      const params = { path: { pattern_id: id.value } }
      try {
        tried = []
        show(
          way === 'undo'
            ? await ask(api.POST('/api/patterns/{pattern_id}/undo', { params, body }))
            : await ask(api.POST('/api/patterns/{pattern_id}/redo', { params, body })),
        )
      } catch (problem) {
        if (problem instanceof Refusal && problem.status === 409) offerAgain(problem, [])
        else notices.trouble(problem)
      }
    })
    queue = done
    return done
  }

  function choose(laneId: string): void {
    if (chosen.value === laneId) return
    chosen.value = laneId
    steps.value = []
    void look()
  }

  /** Add a lane to those that are changed together, or take it out again. */
  function pick(laneId: string): void {
    const together = new Set([...picked.value, ...(chosen.value ? [chosen.value] : [])])
    if (together.delete(laneId)) {
      if (laneId === chosen.value) choose([...together][0] ?? laneId)
    } else {
      together.add(laneId)
    }
    picked.value = together.size > 1 ? [...together] : []
  }
  function pickAll(): void {
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
      let bars = Math.min(view.value?.meeting.bars ?? MOST_WEAVE_BARS, MOST_WEAVE_BARS, Math.floor(2048 / bar.value))
      do {
        weaveAgain = false
        const body = { revision: revision.value, edits: tried, start: 0, end: bars * bar.value, chosen: chosen.value }
        try {
          const whole = await ask(
            api.POST('/api/patterns/{pattern_id}/look', { params: { path: { pattern_id: id.value } }, body }),
          )
          if (weaving.value) weave.value = sameAsBefore(weave.value, whole)
        } catch (problem) {
          // A very dense pattern is too much at once: show half as many bars.
          if (!(problem instanceof Refusal && problem.status === 422) || bars <= 8) throw problem
          bars = Math.ceil(bars / 2)
          weaveAgain = true
        }
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
    id, name, revision, history, seen, view, chosen, lane, step, beat, bar, frame, viewBars, span, start, away, unsent, staying,
    open, look, quiet, preview, commit, undo: () => travel('undo'), redo: () => travel('redo'),
    picked, steps, also, alongside, weave, weaving, weaveBars, copied,
    choose, pick, pickAll, turnTo, setBars, seeWeave,
  }
})
