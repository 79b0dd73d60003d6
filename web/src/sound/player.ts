/**
 * The transport: takes notes from the newest view of the pattern and schedules them on the audio clock.
 *
 * The time line counts beats since play was pressed; a time map leads from it to the audio clock and to
 * the recipe's own beats, which may be repeated (Stay, or while the server is away).
 */
import { defineStore } from 'pinia'
import { ref, shallowRef, watch } from 'vue'
import type { View } from '@/api/client'
import type { Drum } from '@/drum/drums'
import { away } from '@/api/insist'
import { announce } from '@/app/announce'
import { wasTried } from '@/app/firstMinute'
import { usePattern } from '@/pattern/pattern'
import type { Seen } from '@/pattern/sight'
import { useTrail } from '@/pattern/trail'
import { HeardPasses } from './heardPasses'
import { beside, isReplaced, stretchesBeside } from './beside'
import { strikeStretch } from './strikes'
import { drumsIn, Standing, strikeView, type Heard } from './strikeView'
import { clickDrums, clickIn, countBar } from './click'
import { sendClocks } from './clockOut'
import { handover, handOver } from './handover'
import { portsInUse } from '@/ports/access'
import { silence } from '@/ports/sender'
import { forgetStruck, hush, LEAD_IN, now, onTick, prepare, soundsWith } from './output'
import { offerRendering } from './render'
import { TimeMap, type Mark } from './timeMap'
import { begin, end, sounding, type Sounding } from './sounding'
import { useHearAgain } from './useHearAgain'
import { useHearOnce } from './useHearOnce'

/** Notes are scheduled so many seconds before they sound. */
const AHEAD = 0.3
/** Play waits so long for a change that is being stored, so that the first note is of it already. */
const CHANGE_MS = 800
/** A pass that was stopped sooner is no pass, in beats. */
const LEAST_PASS = 1

offerRendering()

export const usePlayer = defineStore('player', () => {
  const pattern = usePattern()
  const trail = useTrail()
  const playing = ref(false)
  /** The beat of the recipe that sounds, as of the sound library's last tick. */
  const beat = ref(0)
  /** What leads from the audio clock to beats now. */
  const mark = shallowRef<Mark | null>(null)
  const starving = ref(false)
  /** The tempo of another program's clock, where one is followed. */
  const external = ref<number | null>(null)
  const { again, ...hearing } = useHearAgain()
  const once = useHearOnce()

  let map = new TimeMap({ time: 0, beat: 0, tempo: 120, shift: 0 })
  let until = 0 // time line, in beats: everything before it is scheduled
  let heard = new HeardPasses(() => undefined)
  const standing = new Standing()
  /** How the pattern's beats are heard from the last mark on. */
  const heardNow = (): Heard => {
    const { shift, tempo } = map.last
    return {
      owner: pattern.id, beatOf: (own) => own - shift, timeOf: (beat) => map.timeOf(beat), scale: 1,
      seconds: 60 / tempo,
    }
  }

  /** Put the passes that are heard from now on on the Trail of the pattern that is open now. */
  function hearFor(patternId: number): HeardPasses {
    return new HeardPasses(
      (pass, whole) =>
        trail.heard(patternId, { key: crypto.randomUUID(), number: numberOf(pass.start), ...pass }, whole),
    )
  }
  const numberOf = (start: number) =>
    Math.max(0, Math.floor((start + map.last.shift) / (pattern.view?.frame_beats ?? 4) + 1e-9))
  const here: Sounding = {
    what: 'pattern', stop,
    soFar: () => {
      const pass = playing.value ? heard.soFar(Math.min(until, map.beatAt(now())), pattern.bar) : null
      return pass && { number: numberOf(pass.start), ...pass }
    },
  }

  /** Play from the pass in sight on, or from a beat; `also`: drums that are needed besides the pattern's. */
  async function play(also: Drum[] = [], at: number | null = null): Promise<void> {
    if (playing.value || !pattern.seen) return
    begin(here)
    trail.begin()
    await Promise.race([pattern.settled(), new Promise((resolve) => setTimeout(resolve, CHANGE_MS))])
    await soundsWith([...drumsIn(pattern.seen.view), ...also, ...clickDrums()])
    if (sounding.value !== here || playing.value) return // stopped before it began
    const { seen } = pattern
    const frame = seen.view.frame_beats
    const from = at ?? Math.floor(pattern.start / frame + 1e-9) * frame
    const counted = countBar(seen.view)
    map = new TimeMap({
      time: now() + LEAD_IN + counted, beat: 0, tempo: external.value ?? seen.view.tempo, shift: from,
    })
    until = 0
    heard = hearFor(pattern.id)
    forgetStruck()
    standing.clear()
    playing.value = true
    announce('Playing')
    wasTried('play')
    tick()
  }

  function stop(): void {
    end(here)
    if (!playing.value) return
    playing.value = false
    beside.value = null
    handover.value = null
    announce('Stopped')
    const heardUntil = Math.min(until, Math.max(0, map.beatAt(now())))
    until = heardUntil
    heard.closeSegment(heardUntil)
    if (heardUntil - heard.start >= LEAST_PASS) heard.closePass(heardUntil)
    mark.value = null
    hush()
    if (portsInUse().length) silence(true)
    starving.value = false
  }

  /** Go on from `at`, on the time line, with what this view says. */
  function turn(seen: Seen, at: number): void {
    const { shift, tempo } = map.last
    heard.goOn(seen.source, at, at + shift)
    const wanted = external.value ?? seen.view.tempo
    if (wanted !== tempo) map.turn(at, { tempo: wanted })
    prepare(drumsIn(seen.view))
    standing.begin(seen.view, at + shift, heardNow())
  }

  /** Schedule what begins before the horizon. */
  function tick(): void {
    if (!playing.value) return
    follow()
    const horizon = map.beatAt(now() + AHEAD)
    while (until < horizon) {
      handOver(until + map.last.shift)
      const { seen } = pattern
      if (!seen) return
      const { view, source } = seen
      if (external.value !== null && external.value !== map.last.tempo) map.turn(until, { tempo: external.value })
      const frame = view.frame_beats
      const { shift } = map.last
      const passEnd = (Math.floor((until + shift) / frame + 1e-9) + 1) * frame - shift
      if (until + shift < view.start - 1e-9 || until + shift >= view.end - 1e-9) {
        // Nothing newer is known: what is known goes round until the server answers.
        starving.value = away.value
        const known = Math.floor(view.start / frame + 1e-9) * frame
        heard.closeSegment(until)
        if (until > heard.start) heard.closePass(until)
        map.turn(until, { shift: Math.max(known, view.start) - until })
        heard.breakOff()
        continue
      }
      if (!heard.isFrom(source)) turn(seen, until)
      const to = Math.min(horizon, passEnd, view.end - shift)
      schedule(view, until, to)
      until = to
      if (to >= passEnd - 1e-9) {
        heard.closeSegment(to)
        heard.closePass(to, frame)
        if (pattern.staying) map.turn(to, { shift: shift - frame })
      }
    }
  }

  function schedule(view: View, from: number, to: number): void {
    const { shift, tempo } = map.last
    sendClocks(map, from, to)
    for (const { view: clip, place, beats, at } of stretchesBeside(from + shift, to + shift, view.bar_beats)) {
      strikeStretch(clip, place, place + beats, map.timeOf(at - shift), at - shift, { tempo })
    }
    clickIn(view.meter, from + shift, to + shift, heardNow())
    standing.turnIn(view, from + shift, to + shift, heardNow())
    strikeView(view, from + shift, to + shift, heardNow(), isReplaced)
  }

  /** Keep the picture with the sound. */
  function follow(): void {
    const time = now()
    mark.value = map.now(time)
    beat.value = Math.max(0, map.beatAt(time)) + mark.value.shift
    pattern.turnTo(beat.value)
    const view = pattern.view
    if (view && view.end - beat.value < view.end - view.start - pattern.span - 1e-6 && !away.value) {
      starving.value = false
    }
  }

  /** The beat of the recipe that sounds at this very moment. */
  const beatNow = () => map.beatAt(now()) + (mark.value?.shift ?? 0)

  /** The beat of the recipe up to which notes are scheduled: what is tried out now takes over there. */
  const scheduledBeat = () => until + map.last.shift

  onTick(tick)
  watch(() => pattern.id, () => {
    stop()
    hearing.endAgain()
  })

  /** How many beats have gone by since play was pressed. */
  const beatsPlayed = () => map.beatAt(now())

  return {
    external, beatsPlayed, playing, again, beat, mark, beatNow, starving, play, stop, hearAgain: hearing.hearAgain,
    scheduledBeat, ...once,
  }
})
