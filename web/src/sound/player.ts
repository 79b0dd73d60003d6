/**
 * The transport: takes notes from the newest view of the pattern and schedules them on the audio clock.
 *
 * The time line counts beats since play was pressed; a time map leads from it to the audio clock and to
 * the recipe's own beats, which may be repeated (Stay, or while the server is away).
 */
import { defineStore } from 'pinia'
import { ref, shallowRef, watch } from 'vue'
import type { View } from '@/api/client'
import type { Drum } from '@/drum/kit'
import { away } from '@/api/insist'
import { announce } from '@/app/announce'
import { wasTried } from '@/app/firstMinute'
import { usePattern } from '@/pattern/pattern'
import type { Seen } from '@/pattern/sight'
import { useTrail } from '@/pattern/trail'
import { HeardPasses } from './heardPasses'
import { beside, isReplaced, stretchesBeside } from './beside'
import { levelOf } from './levels'
import { strikeStretch } from './strikes'
import { click, CLICK, countIn } from './click'
import { portsInUse, settings } from '@/ports/access'
import { CLOCK, CLOCKS_A_BEAT, CONTINUE, position, START } from '@/ports/messages'
import { sendToAll, silence } from '@/ports/sender'
import { forgetStruck, hush, LEAD_IN, milliseconds, now, onTick, prepare, sound, soundsWith, strike, turn as turnControl } from './output'
import { offerRendering } from './render'
import { TimeMap, type Mark } from './timeMap'
import { valueAt } from './valueAt'
import { useHearAgain } from './useHearAgain'
import { useHearOnce } from './useHearOnce'

/** Notes are scheduled so many seconds before they sound. */
const AHEAD = 0.3
/** A pass that was stopped sooner is no pass, in beats. */
const LEAST_PASS = 1

/** All drums that a view has notes of: a roll or an octave may reach others than a lane's own. */
const drums = (view: View) => view.lanes.filter((lane) => lane.kind === 'drum').flatMap((lane) =>
  [lane.note, ...lane.drawn.notes.map(([, , pitch]) => pitch)].map((pitch) => ({ ...lane.sound, pitch })))

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
  const once = useHearOnce(() => !playing.value && !again.value.length)

  let map = new TimeMap({ time: 0, beat: 0, tempo: 120, shift: 0 })
  let until = 0 // time line, in beats: everything before it is scheduled
  let heard = new HeardPasses(() => undefined)
  /** What controllers were set to last. */
  const standing = new Map<string, number>()

  /** Put the passes that are heard from now on on the Trail of the pattern that is open now. */
  function hearFor(patternId: number): HeardPasses {
    return new HeardPasses((pass) => {
      const frame = pattern.view?.frame_beats ?? 4
      const number = Math.max(0, Math.floor((pass.start + map.last.shift) / frame + 1e-9))
      trail.heard(patternId, { key: crypto.randomUUID(), number, ...pass })
    })
  }

  /** Play; `also`: drums that are needed besides the pattern's. */
  async function play(also: Drum[] = []): Promise<void> {
    const seen = pattern.seen
    if (playing.value || !seen) return
    hearing.endAgain()
    await soundsWith([...drums(seen.view), ...also, ...(click.value || countIn.value ? [CLICK.bar, CLICK.beat] : []).map((pitch) => ({ by: CLICK.by, pitch }))])
    const frame = seen.view.frame_beats
    const from = Math.floor(pattern.start / frame + 1e-9) * frame
    const counted = countIn.value ? countBar(seen.view) : 0
    map = new TimeMap({ time: now() + LEAD_IN + counted, beat: 0, tempo: external.value ?? seen.view.tempo, shift: from })
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
    if (!playing.value) return
    playing.value = false
    beside.value = null
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

  const toggle = () => {
    if (again.value.length) hearing.endAgain()
    else if (playing.value) stop()
    else void play()
  }

  function hearAgain(passes: number[], stay = false): Promise<void> {
    stop()
    return hearing.hearAgain(passes, stay)
  }

  /** Go on from `at`, on the time line, with what this view says. */
  function turn(seen: Seen, at: number): void {
    const { shift, tempo } = map.last
    heard.goOn(seen.source, at, shift)
    const wanted = external.value ?? seen.view.tempo
    if (wanted !== tempo) map.turn(at, { tempo: wanted })
    prepare(drums(seen.view))
    setInForce(seen.view, at)
  }

  /** Clicks for one bar, from now on; returns how many seconds it lasts. */
  function countBar(view: View): number {
    const [beats, unit] = view.meter
    const seconds = (4 / unit) * (60 / view.tempo)
    for (let i = 0; i < beats; i += 1) clickAt(i === 0, now() + LEAD_IN + i * seconds)
    return beats * seconds
  }
  function clickAt(bar: boolean, time: number): void {
    const { by, channel, velocity } = CLICK
    sound({ by, channel, velocity, pitched: false, set: {}, lane: 'click', pitch: bar ? CLICK.bar : CLICK.beat, time, seconds: 0.1, level: 100 })
  }

  /** Schedule what begins before the horizon. */
  function tick(): void {
    if (!playing.value) return
    follow()
    const horizon = map.beatAt(now() + AHEAD)
    while (until < horizon) {
      const seen = pattern.seen
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
        heard.closePass(to)
        if (pattern.staying) map.turn(to, { shift: shift - frame })
      }
    }
  }

  function schedule(view: View, from: number, to: number): void {
    const { shift, tempo } = map.last
    clocks(from, to)
    for (const { view: clip, place, beats, at } of stretchesBeside(from + shift, to + shift, view.bar_beats)) {
      strikeStretch(clip, place, place + beats, map.timeOf(at - shift), at - shift, undefined, tempo)
    }
    const beatLength = 4 / view.meter[1]
    for (let at = Math.ceil((from + shift) / beatLength - 1e-9); click.value && at * beatLength < to + shift - 1e-9; at += 1) {
      clickAt(at % view.meter[0] === 0, map.timeOf(at * beatLength - shift))
    }
    for (const { id, kind, channel, sound, number, drawn } of view.lanes) {
      for (const [time, value] of drawn.changes) {
        if (number !== null && time >= from + shift && time < to + shift) set(id, channel, number, value, time - shift)
      }
      for (const [start, length, pitch, velocity] of drawn.notes) {
        if (start < from + shift || start >= to + shift || isReplaced(id, start)) continue
        strike({
          ...sound, owner: pattern.id, pitched: kind === 'pitched', lane: id, pitch, channel, velocity, beat: start - shift, length, time: map.timeOf(start - shift),
          seconds: (length * 60) / tempo, level: levelOf(pattern.id, id),
        })
      }
    }
  }

  /** Set a controller at a beat of the time line, unless it stands there already. */
  function set(lane: string, channel: number, number: number | string, value: number, beat: number): void {
    const key = `${channel}/${number}`
    if (standing.get(key) === value) return
    standing.set(key, value)
    turnControl({ owner: pattern.id, lane, channel, number, value, beat, time: map.timeOf(beat) })
  }
  /** What controllers stand at from a beat of the time line on: playing, and unmuting, begin with it. */
  function setInForce(view: View, at: number): void {
    const beat = at + map.last.shift
    for (const { id, audible, channel, number, drawn } of view.lanes) {
      if (number === null || !audible) continue
      const value = valueAt(drawn.line, beat)
      if (value !== null) set(id, channel, number, Math.round(value), at)
    }
  }

  /** The clock that ports are sent: it begins with start and the position, 24 messages a beat. */
  function clocks(from: number, to: number): void {
    if (!settings.value.clock || !portsInUse().length) return
    if (from <= 0) {
      sendToAll(position(map.last.shift), milliseconds(map.timeOf(0)) - 2)
      sendToAll([map.last.shift > 0 ? CONTINUE : START], milliseconds(map.timeOf(0)) - 1)
    }
    for (let i = Math.ceil(from * CLOCKS_A_BEAT - 1e-6); i < to * CLOCKS_A_BEAT - 1e-6; i += 1) {
      sendToAll([CLOCK], milliseconds(map.timeOf(i / CLOCKS_A_BEAT)))
    }
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

  return { external, beatsPlayed, playing, again, beat, mark, beatNow, starving, play, stop, toggle, hearAgain, scheduledBeat, ...once }
})
