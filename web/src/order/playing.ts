/**
 * Hearing the order, and what hands change while it plays.
 *
 * The time line counts beats since play was pressed. Under everything lies what plays by itself: the order from one of
 * its beats on, or a pattern that a hand has gone to. While a key is held, another pattern, a repeat, other pitches or
 * silence lie over it; it goes on underneath, so that it is back in time when the key is let go.
 */
import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { reactive, ref, shallowRef, watch } from 'vue'
import type { Edit, View } from '@/api/client'
import { announce } from '@/app/announce'
import { useKeptFor } from '@/app/keptFor'
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'
import { useTrail } from '@/pattern/trail'
import { portsInUse } from '@/ports/access'
import { silence } from '@/ports/sender'
import { clickDrums, clickIn } from '@/sound/click'
import { sendClocks } from '@/sound/clockOut'
import { HeardPasses, ratio, snap } from '@/sound/heardPasses'
import { forgetStruck, hush, LEAD_IN, now, onTick, soundsWith } from '@/sound/output'
import { begin, end, sounding as heardNow, type Sounding } from '@/sound/sounding'
import { Standing, strikeView, type Heard } from '@/sound/strikeView'
import { TimeMap } from '@/sound/timeMap'
import { useOrder } from './order'
import { beatAfter, followed, nextOn, placeAt } from './programme'
import { Scores, type Score } from './scores'

/** Notes are scheduled so many seconds before they sound: as late as is safe, so that hands are followed soon. */
const AHEAD = 0.18
/** What is not there so many seconds before it should sound is passed over. */
const TOO_LATE = 0.06
const LEAST_PASS = 1
const STEP = 0.25

export type When = 'step' | 'beat' | 'bar' | 'pass'
/**
 * What plays by itself from the beat `at` of the time line on: the order from one of its beats, or a pattern from one
 * of its own.
 */
type Course = { kind: 'order'; from: number; at: number } | {
  kind: 'pattern'; pattern: number; own: number; at: number,
}

/** What sounds at a beat of the time line, and until which beat of it that holds. */
interface Leg {
  block: number | null
  pattern: number
  edits: Edit[]
  speed: string
  own: number
  end: number
  /** Whether it is a stretch that is repeated while a key is held. */
  repeats?: boolean
}

/** What happens at a beat of the time line. */
interface Coming {
  at: number
  run: () => void
}

export const usePlaying = defineStore('playing', () => {
  const order = useOrder()
  const trail = useTrail()
  const pattern = usePattern()
  const notices = useNotices()
  const scores = new Scores((problem) => notices.trouble(problem))

  const playing = ref(false)
  /** The block that sounds, and the beat of the order; null while a hand has gone to a pattern. */
  const place = shallowRef<{ block: number; at: number } | null>(null)
  /** The bar and the beat of what sounds, in words. */
  const where = ref('')
  /** The pattern that sounds, and the one that a hand is on its way to. */
  const sounding = ref<number | null>(null)
  const going = ref<number | null>(null)
  /** The beat of the order that it waits at while something else is heard or edited. */
  const waiting = ref<number | null>(null)
  /** When a hand goes to another pattern, and whether that is only while the key is held. */
  const when = useLocalStorage<When>('jolly-hand-when', 'bar')
  const whileHeld = useLocalStorage('jolly-hand-held', false)
  /** What held keys do: how long the stretch that is repeated is, how far pitches move. */
  const hands = useLocalStorage('jolly-hands', { repeat: '1/8', by: 1, unit: 'degrees' as 'degrees' | 'semitones' })
  /** The lanes of this piece that silence leaves, by their names. */
  const left = useKeptFor<string[]>('jolly-silence', () => order.piece, [])
  const held = reactive({ repeat: false, higher: false, lower: false, silence: false })

  let map = new TimeMap({ time: 0, beat: 0, tempo: 120, shift: 0 })
  let until = 0 // everything before this beat of the time line is scheduled
  let course: Course = { kind: 'order', from: 0, at: 0 }
  let over: Course | null = null // a pattern that is there while its key is held
  /** From a beat of the time line on, the last beats before it. */
  let repeated: { from: number; beats: number; leg: Leg } | null = null
  let coming: Coming[] = []
  let onTheWay: Coming | null = null // the pattern that a hand is on its way to
  let run: { score: Score; own: number; at: number; speed: string } | null = null
  let filed = { pattern: 0, number: 0 }
  let heard = new HeardPasses(() => undefined)
  const standing = new Standing()

  const head = (pattern: number) => order.state?.heads[pattern] ?? 0
  const beatOf = (now: Extract<Course, { kind: 'order' }>, at: number) =>
    (order.view ? beatAfter(order.view, now.from, at - now.at) : at)

  /** What a course plays at a beat of the time line; null after its end. */
  function legAt(now: Course, at: number): Leg | null {
    if (now.kind === 'pattern') {
      return {
        block: null, pattern: now.pattern, edits: [], speed: '1', own: snap(now.own + at - now.at), end: Infinity,
      }
    }
    const found = order.view && placeAt(order.view, beatOf(now, at))
    const block = found && order.view?.blocks[found.block]
    if (!block) return null
    return {
      block: found.block, pattern: block.pattern, edits: block.problem ? [] : (block.edits as Edit[]),
      speed: block.speed, own: snap(found.own), end: at + found.left,
    }
  }
  const uppermost = () => over ?? course
  /**
   * What a leg plays, with further edits; and the view of it that holds its beat, asked for where there is none yet.
   */
  const scoreOf = ({ pattern, edits }: Leg, more: Edit[] = []) =>
    scores.of(pattern, head(pattern), more.length ? [...edits, ...more] : edits)
  const viewOf = (leg: Leg) => scores.view(scoreOf(leg), leg.own)
  /** What sounds at a beat of the time line. */
  function soundingAt(at: number): Leg | null {
    if (!repeated) return legAt(uppermost(), at)
    const { from, beats, leg } = repeated
    const times = Math.floor((at - from) / beats + 1e-6)
    return {
      ...leg, own: snap(leg.own + (at - from - (times + 1) * beats) * ratio(leg.speed)),
      end: from + (times + 1) * beats, repeats: true,
    }
  }

  /** What the held keys change of a pattern. */
  function handEdits(view: View): Edit[] {
    const by = (held.higher ? hands.value.by : 0) - (held.lower ? hands.value.by : 0)
    const without = held.silence ? view.lanes.filter(({ name }) => !left.value.includes(name)).map(({ id }) => id) : []
    return by || without.length ? [{ do: 'adapt', [hands.value.unit]: by, without } as Edit] : []
  }

  async function play(from?: { pattern: number }): Promise<void> {
    if (playing.value) return
    const { view } = order
    if (!from && !view?.blocks.length) {
      return notices.say('The order is empty: add a pattern to it, or press a pattern’s key.')
    }
    begin(here)
    trail.begin()
    await soundsWith(clickDrums())
    const start = order.block?.at ?? 0
    course = from ? { kind: 'pattern', pattern: from.pattern, own: 0, at: 0 } : { kind: 'order', from: start, at: 0 }
    over = repeated = run = null
    coming = []
    until = 0
    standing.clear()
    forgetStruck()
    waiting.value = from ? start : null
    const leg = legAt(course, 0)
    if (!leg) return end(here)
    const first = await firstView(leg)
    if (heardNow.value !== here || playing.value) return // stopped before it began
    map = new TimeMap({ time: now() + LEAD_IN, beat: 0, tempo: first?.tempo ?? 120, shift: 0 })
    heard = new HeardPasses(
      (pass, whole) => trail.heard(filed.pattern, { key: crypto.randomUUID(), number: filed.number, ...pass }, whole),
    )
    playing.value = true
    announce('Playing')
    tick()
  }
  /** The first view, once it is there; what is not there soon is passed over. */
  async function firstView(leg: Leg): Promise<View | null> {
    for (let tries = 0; tries < 100; tries += 1) {
      const view = viewOf(leg)
      if (view) return view
      await new Promise((resolve) => setTimeout(resolve, 20))
    }
    return null
  }
  const here: Sounding = {
    what: 'order', stop,
    soFar: () => {
      const view = playing.value && run ? scores.view(run.score, run.own) : null
      const pass = view ? heard.soFar(Math.min(until, map.beatAt(now())), view.bar_beats) : null
      return pass && { number: filed.number, ...pass }
    },
  }
  function stop(): void {
    end(here)
    if (!playing.value) return
    const heardUntil = Math.min(until, Math.max(0, map.beatAt(now())))
    close(heardUntil)
    announce('Stopped')
    hush()
    if (portsInUse().length) silence(true)
  }
  function close(at: number): void {
    playing.value = false
    heard.closeSegment(at)
    if (at - heard.start >= LEAST_PASS) heard.closePass(at)
    sounding.value = going.value = place.value = null
    where.value = ''
    Object.assign(held, { repeat: false, higher: false, lower: false, silence: false })
  }
  /** The next place on a grid of what sounds, on the time line, that is not scheduled yet. */
  function nextPlace(grid: When | number): number {
    const leg = legAt(uppermost(), until)
    const view = leg && viewOf(leg)
    if (!leg || !view) return until
    const speed = ratio(leg.speed)
    const own = typeof grid === 'number'
      ? grid * speed
      : { step: STEP, beat: 4 / view.meter[1], bar: view.bar_beats, pass: view.frame_beats }[grid]
    return Math.min(leg.end, until + (nextOn(leg.own, own) - leg.own) / speed)
  }
  function then(at: number, run: () => void): Coming {
    const next = { at, run }
    coming = [...coming, next].sort((a, b) => a.at - b.at)
    return next
  }
  /** What is heard before belongs to a pass of its own; a whole one lasts `frame` beats. */
  function breakPass(at: number, frame = Infinity): void {
    heard.closeSegment(at)
    if (at > heard.start + 1e-9) heard.closePass(at, frame)
    run = null
  }

  /** Go to a pattern, to stay there or while its key is held. */
  function goTo(pattern: number, onlyHeld: boolean): void {
    if (!playing.value) return void play({ pattern })
    going.value = pattern
    const at = nextPlace(when.value)
    coming = coming.filter(({ at: other }) => other < at - 1e-9 || onlyHeld)
    onTheWay = then(at, () => {
      breakPass(at)
      const next: Course = { kind: 'pattern', pattern, own: 0, at }
      if (onlyHeld) over = next
      else {
        if (course.kind === 'order') waiting.value = order.view?.blocks[legAt(course, at)?.block ?? -1]?.at ?? null
        course = next
        over = null
      }
      going.value = null
    })
  }
  /** What a hand was on its way to does not come. */
  function callOff(): void {
    coming = coming.filter((each) => each !== onTheWay)
    going.value = null
  }
  /** Come back from a pattern that was only there while its key was held; in time. */
  function comeBack(pattern: number): void {
    if (going.value === pattern && !over) return callOff() // it was let go before it began
    if (over?.kind !== 'pattern' || over.pattern !== pattern) return
    const at = nextPlace(when.value)
    then(at, () => {
      breakPass(at)
      over = null
    })
  }
  /** Back to the order, to where it waits. */
  function backToOrder(): void {
    const from = waiting.value ?? 0
    if (!playing.value) return void play()
    if (course.kind === 'order') return callOff()
    const at = nextPlace(when.value)
    then(at, () => {
      breakPass(at)
      course = { kind: 'order', from, at }
      over = waiting.value = null
    })
  }
  const repeatBeats = () => 4 * ratio(hands.value.repeat)
  function press(what: keyof typeof held): void {
    if (held[what] || !playing.value) return
    held[what] = true
    if (what !== 'repeat') return
    const beats = repeatBeats()
    const at = nextPlace(beats)
    then(at, () => {
      const leg = legAt(uppermost(), at)
      if (held.repeat && leg && leg.own >= beats * ratio(leg.speed) - 1e-9) repeated = { from: at, beats, leg }
    })
  }
  function release(what: keyof typeof held): void {
    held[what] = false
    if (what !== 'repeat' || !repeated) return
    const { from, beats } = repeated
    const at = from + nextOn(until - from, beats)
    then(at, () => (repeated = null))
  }

  /** Schedule what begins before the horizon. */
  function tick(): void {
    if (!playing.value) return
    follow()
    const horizon = map.beatAt(now() + AHEAD)
    while (until < horizon - 1e-9) {
      while (coming[0] && coming[0].at <= until + 1e-9) coming.shift()?.run()
      const leg = soundingAt(until)
      if (!leg) {
        if (now() >= map.timeOf(until)) finish()
        return
      }
      if (!playLeg(leg, Math.min(horizon, leg.end, coming[0]?.at ?? Infinity))) return
    }
    lookAhead()
  }
  /** Play a leg as far as `to` on the time line; false where it is not known yet. */
  function playLeg(leg: Leg, to: number): boolean {
    const speed = ratio(leg.speed)
    const { own } = leg
    const plain = scoreOf(leg)
    const under = scores.view(plain, own)
    const changes = under ? handEdits(under) : []
    const changed = changes.length ? scoreOf(leg, changes) : plain
    // Until what a hand changes is there, what was goes on.
    const other = changed === plain ? under : scores.view(changed, own)
    const [score, view] = other ? [changed, other] : [plain, under]
    if (!view) return passOver(to)
    const frame = view.frame_beats
    const passEnd = leg.repeats ? Infinity : until + ((Math.floor(own / frame + 1e-9) + 1) * frame - own) / speed
    const stepEnd = until + (nextOn(own + 1e-6, STEP) - own) / speed
    const stop = Math.min(
      to, passEnd, until + (view.end - own) / speed, changed === score ? Infinity : Math.max(stepEnd, until + 1e-3),
    )
    if (view.tempo !== map.last.tempo) map.turn(until, { tempo: view.tempo })
    const at = until
    const goesOn: Heard = {
      owner: leg.pattern, beatOf: (beat) => at + (beat - own) / speed, timeOf: (beat) => map.timeOf(beat),
      scale: 1 / speed, seconds: 60 / view.tempo / speed,
    }
    const expected = run && run.own + (until - run.at) * ratio(run.speed)
    if (run?.score !== score || run.speed !== leg.speed || Math.abs((expected ?? 0) - own) > 1e-6) {
      if (heard.start === until || run === null) {
        filed = { pattern: leg.pattern, number: Math.floor(own / frame + 1e-9) }
      }
      heard.goOn(score.source, until, own, leg.speed)
      run = { score, own, at: until, speed: leg.speed }
      standing.begin(view, own, goesOn)
    }
    const last = snap(own + (stop - until) * speed)
    sendClocks(map, until, stop)
    clickIn(view.meter, own, last, goesOn)
    standing.turnIn(view, own, last, goesOn)
    strikeView(view, own, last, goesOn)
    until = Math.max(stop, until + 1e-9)
    if (!leg.repeats && stop >= Math.min(passEnd, leg.end) - 1e-9) breakPass(stop, frame / speed)
    return true
  }
  /** What is not known in time is silent; false: it may still come in time. */
  function passOver(to: number): boolean {
    if (map.timeOf(until) > now() + TOO_LATE) return false
    const stop = Math.min(to, until + STEP)
    breakPass(until)
    until = stop
    heard.closePass(stop)
    return true
  }
  /** Ask for what comes next before it is needed. */
  function lookAhead(): void {
    const soon = legAt(uppermost(), until + 4)
    if (soon) viewOf(soon)
    const under = over && legAt(course, until + 1)
    if (under) viewOf(under)
  }
  /** Have the beginning of patterns at hand. */
  function prepareFor(patterns: number[]): void {
    for (const pattern of patterns) if (head(pattern)) scores.view(scores.of(pattern, head(pattern), []), 0)
  }
  function finish(): void {
    end(here)
    close(until)
    waiting.value = null
    announce('The end of the order')
  }
  /** Keep the picture with the sound. */
  function follow(): void {
    map.now(now())
    const at = Math.max(0, map.beatAt(now()))
    const leg = legAt(uppermost(), Math.min(at, until))
    if (!leg) return
    sounding.value = leg.pattern
    place.value = leg.block === null || course.kind !== 'order' ? null : { block: leg.block, at: beatOf(course, at) }
    const view = viewOf(leg)
    if (!view) return
    const bar = Math.floor(leg.own / view.bar_beats + 1e-6)
    const first = leg.block === null ? 1 : (order.view?.blocks[leg.block]?.bar ?? 1)
    const start = leg.block === null ? 0 : (order.view?.blocks[leg.block]?.start ?? 0) / view.bar_beats
    where.value =
      `bar ${Math.floor(first - start + bar + 1e-6)} · beat ${Math.floor((leg.own - bar * view.bar_beats) / (4 / view.meter[1]) + 1e-6) + 1}`
  }
  /** The beat of the order at this very moment, while it is the order that sounds. */
  function beatNow(): number | null {
    if (!playing.value || over || course.kind !== 'order') return null
    return beatOf(course, Math.max(0, map.beatAt(now())))
  }

  onTick(tick)
  // Where blocks change while they play, what plays stays in its block.
  watch(() => order.view, (view, before) => {
    if (!view || !before || !playing.value || course.kind !== 'order') return
    const was = placeAt(before, beatAfter(before, course.from, until - course.at))
    const block = was && view.blocks[followed(before, view, was.block)]
    if (was && block) {
      course = {
        kind: 'order', from: block.at + Math.min(was.at - (before.blocks[was.block]?.at ?? 0), block.beats - 1e-6),
        at: until,
      }
    }
  })
  // It goes on while something else is looked at, and follows what is changed there.
  watch(() => pattern.revision, () => void ((order.shown || playing.value) && notices.attempt(order.read)))
  watch(() => order.piece, () => {
    stop()
    waiting.value = null
    scores.forget()
  })

  return {
    playing, place, where, sounding, going, waiting, when, whileHeld, hands, left, held,
    play, stop, goTo, comeBack, backToOrder, press, release, prepareFor, beatNow,
  }
})
