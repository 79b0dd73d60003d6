/** Hearing the order, and what hands change while it plays. */
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
import { clickDrums } from '@/sound/click'
import { ratio } from '@/app/ratio'
import { hush, now, onTick, soundsWith } from '@/sound/output'
import { begin, end, sounding as heardNow, type Sounding } from '@/sound/sounding'
import { Courses, type Course, type Leg } from './courses'
import { Legs, STEP } from './legs'
import { useOrder } from './order'
import { nextOn } from './programme'
import { Scores } from './scores'

/** Notes are scheduled so many seconds before they sound: as late as is safe, so that hands are followed soon. */
const AHEAD = 0.18

export type When = 'step' | 'beat' | 'bar' | 'pass'

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

  const courses = new Courses(() => order.view)
  const legs = new Legs({
    scores, handEdits,
    head: (pattern) => order.state?.heads[pattern] ?? 0,
    onHeard: (pattern, pass, whole) => trail.heard(pattern, pass, whole),
  })
  let coming: Coming[] = []
  let onTheWay: Coming | null = null // the pattern that a hand is on its way to

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
    courses.begin(
      from ? { kind: 'pattern', pattern: from.pattern, own: 0, at: 0 } : { kind: 'order', from: start, at: 0 },
    )
    legs.forget()
    coming = []
    waiting.value = from ? start : null
    const leg = courses.legAt(0)
    if (!leg) return end(here)
    const first = await firstView(leg)
    if (heardNow.value !== here || playing.value) return // stopped before it began
    legs.begin(first?.tempo ?? 120)
    playing.value = true
    announce('Playing')
    tick()
  }
  /** The first view, once it is there; what is not there soon is passed over. */
  async function firstView(leg: Leg): Promise<View | null> {
    for (let tries = 0; tries < 100; tries += 1) {
      const view = legs.viewOf(leg)
      if (view) return view
      await new Promise((resolve) => setTimeout(resolve, 20))
    }
    return null
  }
  const here: Sounding = {
    what: 'order', stop, soFar: () => (playing.value ? legs.soFar() : null),
  }
  function stop(): void {
    end(here)
    if (!playing.value) return
    close(Math.min(legs.until, legs.beat))
    announce('Stopped')
    hush()
    if (portsInUse().length) silence(true)
  }
  function close(at: number): void {
    playing.value = false
    legs.close(at)
    sounding.value = going.value = place.value = null
    where.value = ''
    Object.assign(held, { repeat: false, higher: false, lower: false, silence: false })
  }
  /** The next place on a grid of what sounds, on the time line, that is not scheduled yet. */
  function nextPlace(grid: When | number): number {
    const { until } = legs
    const leg = courses.legAt(until)
    const view = leg && legs.viewOf(leg)
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
  /** Go to a pattern, to stay there or while its key is held. */
  function goTo(pattern: number, onlyHeld: boolean): void {
    if (!playing.value) return void play({ pattern })
    going.value = pattern
    const at = nextPlace(when.value)
    coming = coming.filter(({ at: other }) => other < at - 1e-9 || onlyHeld)
    onTheWay = then(at, () => {
      legs.breakPass(at)
      const next: Course = { kind: 'pattern', pattern, own: 0, at }
      if (onlyHeld) courses.over = next
      else {
        if (courses.under.kind === 'order') {
          waiting.value = order.view?.blocks[courses.legAt(at, courses.under)?.block ?? -1]?.at ?? null
        }
        courses.under = next
        courses.over = null
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
    if (going.value === pattern && !courses.over) return callOff() // it was let go before it began
    if (courses.over?.kind !== 'pattern' || courses.over.pattern !== pattern) return
    const at = nextPlace(when.value)
    then(at, () => {
      legs.breakPass(at)
      courses.over = null
    })
  }
  /** Back to the order, to where it waits. */
  function backToOrder(): void {
    const from = waiting.value ?? 0
    if (!playing.value) return void play()
    if (courses.under.kind === 'order') return callOff()
    const at = nextPlace(when.value)
    then(at, () => {
      legs.breakPass(at)
      courses.under = { kind: 'order', from, at }
      courses.over = waiting.value = null
    })
  }
  const repeatBeats = () => 4 * ratio(hands.value.repeat)
  function press(what: keyof typeof held): void {
    if (held[what] || !playing.value) return
    held[what] = true
    if (what !== 'repeat') return
    const beats = repeatBeats()
    const at = nextPlace(beats)
    then(at, () => held.repeat && courses.repeat(at, beats))
  }
  function release(what: keyof typeof held): void {
    held[what] = false
    const { round } = courses
    if (what !== 'repeat' || !round) return
    then(round.from + nextOn(legs.until - round.from, round.beats), () => courses.repeatNoMore())
  }

  /** Schedule what begins before the horizon. */
  function tick(): void {
    if (!playing.value) return
    follow()
    const horizon = legs.map.beatAt(now() + AHEAD)
    while (legs.until < horizon - 1e-9) {
      while (coming[0] && coming[0].at <= legs.until + 1e-9) coming.shift()?.run()
      const leg = courses.soundingAt(legs.until)
      if (!leg) {
        if (now() >= legs.map.timeOf(legs.until)) finish()
        return
      }
      if (!legs.play(leg, Math.min(horizon, leg.end, coming[0]?.at ?? Infinity))) return
    }
    lookAhead()
  }
  /** Ask for what comes next before it is needed. */
  function lookAhead(): void {
    const soon = courses.legAt(legs.until + 4)
    if (soon) legs.viewOf(soon)
    const under = courses.over && courses.legAt(legs.until + 1, courses.under)
    if (under) legs.viewOf(under)
  }
  /** Have the beginning of patterns at hand. */
  function prepareFor(patterns: number[]): void {
    for (const pattern of patterns) {
      const head = order.state?.heads[pattern]
      if (head) scores.view(scores.of(pattern, head, []), 0)
    }
  }
  function finish(): void {
    end(here)
    close(legs.until)
    waiting.value = null
    announce('The end of the order')
  }
  /** Keep the picture with the sound. */
  function follow(): void {
    legs.map.now(now())
    const at = legs.beat
    const leg = courses.legAt(Math.min(at, legs.until))
    if (!leg) return
    sounding.value = leg.pattern
    const beat = courses.beatOfOrder(at)
    place.value = leg.block === null || beat === null ? null : { block: leg.block, at: beat }
    const view = legs.viewOf(leg)
    if (!view) return
    const bar = Math.floor(leg.own / view.bar_beats + 1e-6)
    const first = leg.block === null ? 1 : (order.view?.blocks[leg.block]?.bar ?? 1)
    const start = leg.block === null ? 0 : (order.view?.blocks[leg.block]?.start ?? 0) / view.bar_beats
    const beatInBar = Math.floor((leg.own - bar * view.bar_beats) / (4 / view.meter[1]) + 1e-6) + 1
    where.value = `bar ${Math.floor(first - start + bar + 1e-6)} · beat ${beatInBar}`
  }
  /** The beat of the order at this very moment, while it is the order that sounds. */
  function beatNow(): number | null {
    return !playing.value || courses.over ? null : courses.beatOfOrder(legs.beat)
  }

  onTick(tick)
  // Where blocks change while they play, what plays stays in its block.
  watch(() => order.view, (view, before) => {
    if (view && before && playing.value) courses.stayInBlock(before, view, legs.until)
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
