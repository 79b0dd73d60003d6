/**
 * What sounds leave by: kits and voices on the audio clock, made with the first gesture. What is struck here is
 * written down, for tests and measurements that lay a list on the page first.
 */
import * as Tone from 'tone'
import { watch } from 'vue'
import type { Drum } from '@/drum/drums'
import { portOf } from '@/ports/access'
import { flush, sendControl, sendNote, silence } from '@/ports/sender'
import { makeMaster, volume } from './master'
import { Sounds, type Sounded } from './sounds'

/** From pressing play to the first sound. */
export const LEAD_IN = 0.35

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
    /** What was scheduled since play was pressed. */
    jollyScheduled?: Scheduled[]
    /** The controllers that were set since then. */
    jollyTurned?: Turned[]
  }
}

/** A note to be struck at a `time` on the audio clock; `beat` and `length` are in beats. */
export interface Struck extends Sounded {
  /** The pattern of its lane. */
  owner: number
  beat: number
  length: number
}
/** A controller to be set at a `time` on the audio clock. */
export interface Turned {
  owner: number
  lane: string
  /** Whether the built-in sounds hear it for this lane alone, whatever shares its channel. */
  alone: boolean
  channel: number
  number: number | string
  value: number
  beat: number
  time: number
  /** Only ports hear it: the built-in sounds are tuned by the notes themselves. */
  outside?: boolean
}

let sounds: Sounds | null = null
// Held on to, since the library lends its place to another context while it renders a drum.
let clock: Tone.BaseContext | null = null
/** The last note on each channel and pitch. */
let ringing = new Map<string, Scheduled>()
const ticking = new Set<() => void>()

/** The time on the audio clock, in seconds. */
export const now = () => clock?.currentTime ?? 0

/** A time on the audio clock, in seconds, on the browser's own clock, in milliseconds. */
export function milliseconds(time: number): number {
  const context = clock?.rawContext as AudioContext | undefined
  const { contextTime = 0, performanceTime = 0 } = context?.getOutputTimestamp?.() ?? {}
  return performanceTime ? performanceTime + (time - contextTime) * 1000 : performance.now() + (time - now()) * 1000
}

/** Call this on every tick of the audio library's own steady clock; what is returned ends that. */
export function onTick(tick: () => void): () => void {
  ticking.add(tick)
  return () => void ticking.delete(tick)
}

/** Make sound possible, these drums ready to be played; the browser allows it after a gesture. */
export async function soundsWith(drums: Drum[]): Promise<void> {
  await Tone.start()
  if (!sounds) {
    const context = (clock = Tone.getContext())
    context.lookAhead = 0
    const master = makeMaster(context.rawContext as BaseAudioContext, volume.value)
    watch(volume, master.setVolume)
    sounds = new Sounds(master.input)
    context.on('tick', () => {
      ticking.forEach((tick) => tick())
      flush()
    })
  }
  await sounds.kit.prepare(drums)
}

/** Make drums ready that will be played soon. */
export const prepare = (drums: Drum[]) => void sounds?.kit.prepare(drums)

/** Silence everything at once, what is scheduled too. */
export function hush(): void {
  sounds?.hush()
  silence()
}

/** Begin to write down anew. */
export function forgetStruck(): void {
  window.jollyScheduled?.splice(0)
  window.jollyTurned?.splice(0)
  ringing = new Map()
}

/** Sound a note, without writing it down. */
export const sound = (note: Sounded) => sounds?.play(note)
/** Sound a note at once, for so many seconds. */
export const soundNow = (note: Pick<Sounded, 'by' | 'set' | 'pitch' | 'channel' | 'pitched'>, seconds: number) =>
  sound({ ...note, lane: `now ${note.pitch}`, velocity: 100, time: now() + 0.03, seconds, level: 100 })

/** Schedule a note; what still rings on its channel and pitch is cut in the list, as the kit does. */
export function strike(note: Struck): void {
  const { pitch, channel, velocity, time, beat, length, lane } = note
  const port = portOf(`${note.owner}/${lane}`)
  if (port) sendNote(port, note, milliseconds(time), note.seconds * 1000)
  else sounds?.play(note)
  const key = `${channel}/${pitch}`
  const before = ringing.get(key)
  if (before && before.beat + before.length > beat) before.length = beat - before.beat
  const scheduled = { beat, time, lead: time - now(), pitch, velocity, length, lane }
  ringing.set(key, scheduled)
  window.jollyScheduled?.push(scheduled)
}

/** Schedule a controller to be set. */
export function turn(turned: Turned): void {
  const port = portOf(`${turned.owner}/${turned.lane}`)
  if (port) sendControl(port, turned.channel, turned.number, turned.value, milliseconds(turned.time))
  else if (sounds && !turned.outside) {
    const { owner, lane, alone, channel } = turned
    const reached = alone ? sounds.lane(owner, lane, channel) : sounds.channel(channel)
    reached.set(turned.number, turned.value, turned.time)
  }
  window.jollyTurned?.push({ ...turned })
}
