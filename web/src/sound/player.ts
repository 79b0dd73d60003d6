/**
 * The player: takes notes from the newest view of the pattern and schedules them on the audio clock.
 *
 * The time line counts beats since play was pressed; a time map leads from it to the audio clock and to
 * the recipe's own beats, which may be repeated (Stay, or while the server is away). Everything that was
 * scheduled is written down as segments, pass by pass, so that the Trail can say what was heard.
 */
import { defineStore } from 'pinia'
import { useLocalStorage } from '@vueuse/core'
import * as Tone from 'tone'
import { ref, shallowRef, watch } from 'vue'
import { api, ask, type Heard, type HeardPass, type View } from '@/api/client'
import { away } from '@/api/insist'
import { announce } from '@/app/announce'
import { wasTried } from '@/app/firstMinute'
import { useNotices } from '@/stores/notices'
import { usePattern, type Seen, type Source } from '@/stores/pattern'
import { usePiece } from '@/stores/piece'
import { Kit } from './kit'
import { levelOf } from './levels'
import { makeMaster, volume } from './master'
import { offerRendering } from './render'
import { TimeMap, type Mark } from './timeMap'

/** Notes are scheduled so many seconds before they sound. */
const AHEAD = 0.3
/** From pressing play to the first sound. */
const LEAD_IN = 0.35
const MOST_SEGMENTS = 2000

interface Scheduled {
  beat: number
  time: number
  lead: number
  pitch: number
  velocity: number
  length: number
  lane: string
}

declare global {
  interface Window {
    /** What was scheduled since play was pressed, for tests and measurements that lay a list here first. */
    jollyScheduled?: Scheduled[]
  }
}

/** All pitches that a view has notes of: a roll or an octave may reach others than a lane's own. */
const pitches = (view: View) => view.lanes.flatMap((lane) => [lane.note, ...lane.drawn.notes.map(([, , pitch]) => pitch)])

type Segment = HeardPass['segments'][number]

offerRendering()

export const usePlayer = defineStore('player', () => {
  const pattern = usePattern()
  const piece = usePiece()
  const notices = useNotices()
  const playing = ref(false)
  /** The beat of the recipe that sounds, as of the sound library's last tick. */
  const beat = ref(0)
  /** What leads from the audio clock to beats now. */
  const mark = shallowRef<Mark | null>(null)
  const starving = ref(false)
  /** The passes of the Trail that are being heard again. */
  const again = ref<number[]>([])
  /** Whether a changed lane is heard once on release while the transport is stopped. */
  const hearing = useLocalStorage('jolly-hear-changes', false)

  let kit: Kit | null = null
  // Held on to, since the library lends its place to another context while it renders a drum.
  let clock: Tone.BaseContext | null = null
  let map = new TimeMap({ time: 0, beat: 0, tempo: 120, shift: 0 })
  let until = 0 // time line, in beats: everything before it is scheduled
  let passStart = 0
  let patternId = 0
  let segments: Segment[] = []
  let current: Source | null = null
  let ringing = new Map<string, Scheduled>() // the last note on each channel and pitch

  const now = () => clock?.currentTime ?? 0

  async function sound(): Promise<Kit> {
    await Tone.start()
    if (!kit) {
      const context = (clock = Tone.getContext())
      context.lookAhead = 0
      const master = makeMaster(context.rawContext as BaseAudioContext, volume.value)
      watch(volume, master.setVolume)
      kit = new Kit(master.input)
      context.on('tick', () => (playing.value ? tick() : tickAgain()))
    }
    return kit
  }

  /** Hear one drum, now. */
  async function audition(note: number): Promise<void> {
    const drums = await sound()
    await drums.prepare([note])
    drums.play(note, 16, 100, now() + 0.03, 0.4)
  }

  async function play(): Promise<void> {
    const seen = pattern.seen
    if (playing.value || !seen) return
    endAgain()
    const drums = await sound()
    await drums.prepare(pitches(seen.view))
    const frame = seen.view.frame_beats
    const from = Math.floor(pattern.start / frame + 1e-9) * frame
    map = new TimeMap({ time: now() + LEAD_IN, beat: 0, tempo: seen.view.tempo, shift: from })
    until = passStart = 0
    segments = []
    current = null
    patternId = pattern.id
    window.jollyScheduled?.splice(0)
    ringing = new Map()
    playing.value = true
    announce('Playing')
    wasTried('play')
    tick()
  }

  function stop(): void {
    if (!playing.value) return
    playing.value = false
    announce('Stopped')
    const heardUntil = Math.min(until, Math.max(0, map.beatAt(now())))
    until = heardUntil
    closeSegment(heardUntil)
    if (heardUntil - passStart >= 1) closePass(heardUntil)
    mark.value = null
    kit?.hush()
    starving.value = false
  }

  const toggle = () => {
    if (again.value.length) endAgain()
    else if (playing.value) stop()
    else void play()
  }

  // Hearing passes of the Trail again: once, in turns to compare them, or one over and over.
  let notesAgain: Heard[] = []
  let nextAgain = { time: 0, place: 0 }
  let lastAgain: number | undefined

  /** Hear passes again note for note: two in turns until stopped, one once, or, with `stay`, over and over. */
  async function hearAgain(passes: number[], stay = false): Promise<void> {
    stop()
    endAgain()
    const drums = await sound()
    try {
      notesAgain = await Promise.all(passes.map((pass) => ask(api.GET('/api/patterns/{pattern_id}/trail/{pass_id}', {
        params: { path: { pattern_id: pattern.id, pass_id: pass } },
      }))))
    } catch (problem) {
      notices.trouble(problem)
      return
    }
    await drums.prepare(notesAgain.flatMap((heard) => heard.notes.map((note) => note.pitch)))
    nextAgain = { time: now() + LEAD_IN, place: 0 }
    lastAgain = stay || passes.length > 1 ? undefined : passes.length
    window.jollyScheduled?.splice(0)
    ringing = new Map()
    again.value = passes
    tickAgain()
  }
  function endAgain(): void {
    again.value = []
    kit?.hush()
  }
  function tickAgain(): void {
    if (!again.value.length) return
    while (nextAgain.time < now() + 4 * AHEAD) {
      if (nextAgain.place === lastAgain) {
        if (now() >= nextAgain.time) endAgain()
        return
      }
      const heard = notesAgain[nextAgain.place % notesAgain.length]
      if (!heard) return
      const beat = 60 / heard.tempo
      for (const { start, length, pitch, velocity, channel, lane } of heard.notes) {
        const time = nextAgain.time + start * beat
        kit?.play(pitch, channel, velocity, time, length * beat, levelOf(pattern.id, lane))
        log({ beat: start, time, lead: time - now(), pitch, velocity, length, lane }, channel)
      }
      nextAgain = { time: nextAgain.time + heard.beats * beat, place: nextAgain.place + 1 }
    }
  }

  /** After a change: hear the chosen lane once, if the switch says so. */
  function hearChange(): void {
    if (hearing.value && pattern.chosen) void hearLane(pattern.chosen)
  }

  /** With the transport stopped, hear what a lane plays in the pass that is shown, once. */
  async function hearLane(laneId: string): Promise<void> {
    const view = pattern.view
    const lane = view?.lanes.find((each) => each.id === laneId)
    if (!view || !lane || playing.value || again.value.length) return
    const drums = await sound()
    await drums.prepare(lane.drawn.notes.map(([, , pitch]) => pitch))
    drums.hush()
    const from = pattern.start
    const at = now() + 0.1
    for (const [start, length, pitch, velocity] of lane.drawn.notes) {
      if (start < from || start >= from + view.frame_beats) continue
      const beat = 60 / view.tempo
      drums.play(pitch, lane.channel, velocity, at + (start - from) * beat, length * beat, levelOf(pattern.id, lane.id))
    }
  }

  function closeSegment(at: number): void {
    const open = segments.at(-1)
    if (open) open.end = at + (open.start - open.at)
  }

  /** A pass has gone by: put it on the Trail. */
  function closePass(at: number): void {
    const frame = pattern.view?.frame_beats ?? 4
    const number = Math.max(0, Math.floor((passStart + map.last.shift) / frame + 1e-9))
    const played = segments.filter((segment) => segment.end > segment.start)
    if (played.length) {
      piece.heard(patternId, {
        key: crypto.randomUUID(), number, start: passStart, beats: at - passStart, segments: played,
      })
    }
    segments = []
    passStart = at
    current = null
  }

  /** Go on from `at`, on the time line, with what this view says. */
  function turn(seen: Seen, at: number): void {
    closeSegment(at)
    if (segments.length >= MOST_SEGMENTS) closePass(at)
    current = seen.source
    const { shift, tempo } = map.last
    segments.push({ ...seen.source, at, start: at + shift, end: at + shift })
    if (seen.view.tempo !== tempo) map.turn(at, { tempo: seen.view.tempo })
    void kit?.prepare(pitches(seen.view))
  }

  /** Schedule what begins before the horizon; called by the audio library's own steady clock. */
  function tick(): void {
    if (!playing.value) return
    follow()
    const horizon = map.beatAt(now() + AHEAD)
    while (until < horizon) {
      const seen = pattern.seen
      if (!seen) return
      const { view, source } = seen
      const frame = view.frame_beats
      const { shift } = map.last
      const passEnd = (Math.floor((until + shift) / frame + 1e-9) + 1) * frame - shift
      if (until + shift < view.start - 1e-9 || until + shift >= view.end - 1e-9) {
        // Nothing newer is known: what is known goes round until the server answers.
        starving.value = away.value
        const known = Math.floor(view.start / frame + 1e-9) * frame
        closeSegment(until)
        if (until > passStart) closePass(until)
        map.turn(until, { shift: Math.max(known, view.start) - until })
        current = null
        continue
      }
      if (current !== source) turn(seen, until)
      const to = Math.min(horizon, passEnd, view.end - shift)
      schedule(seen, until, to)
      until = to
      if (to >= passEnd - 1e-9) {
        closeSegment(to)
        closePass(to)
        if (pattern.staying) map.turn(to, { shift: shift - frame })
      }
    }
  }

  function schedule({ view }: Seen, from: number, to: number): void {
    const at = now()
    const { shift, tempo } = map.last
    for (const lane of view.lanes) {
      for (const [start, length, pitch, velocity] of lane.drawn.notes) {
        if (start < from + shift || start >= to + shift) continue
        const time = map.timeOf(start - shift)
        kit?.play(pitch, lane.channel, velocity, time, (length * 60) / tempo, levelOf(pattern.id, lane.id))
        log({ beat: start - shift, time, lead: time - at, pitch, velocity, length, lane: lane.id }, lane.channel)
      }
    }
  }

  /** Write down what was scheduled; what still rang on its channel and pitch is cut here, as the kit does. */
  function log(note: Scheduled, channel: number): void {
    const key = `${channel}/${note.pitch}`
    const before = ringing.get(key)
    if (before && before.beat + before.length > note.beat) before.length = note.beat - before.beat
    ringing.set(key, note)
    window.jollyScheduled?.push(note)
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

  watch(() => pattern.id, () => {
    stop()
    endAgain()
  })

  return { playing, again, beat, mark, beatNow, starving, play, stop, toggle, audition, hearAgain, hearing, hearChange, scheduledBeat }
})
