/**
 * What sounds leave by: kits and voices on the audio context, made with the first gesture. What is struck here is
 * written down, for tests and measurements that lay a list on the page first.
 */
import { useEventListener } from '@vueuse/core'
import { watch } from 'vue'
import { nameOf, type Drum } from '@/drum/drums'
import { portOf } from '@/ports/access'
import { flush, sendControl, sendNote, silence } from '@/ports/sender'
import { awaken, goes, milliseconds, now, onAudio, onEnd, onTick, silent, tryAgain } from './audioClock'
import { makeMaster, volume, type Master } from './master'
import { Sounds, type Sounded } from './sounds'

/** From pressing play to the first sound. */
export const LEAD_IN = 0.35

interface Scheduled {
  beat: number
  /** On the clock of the audio context. */
  time: number
  /** So many seconds before it sounds it was scheduled. */
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

/** A note to be struck at a `time` on the clock of `now`; `beat` and `length` are in beats. */
export interface Struck extends Sounded {
  /** The pattern of its lane. */
  owner: number
  beat: number
  length: number
}
/** A controller to be set at a `time` on the clock of `now`. */
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

export { milliseconds, now, onTick }

let sounds: Sounds | null = null
let context: BaseAudioContext | null = null
let master: Master | null = null
watch(volume, (to) => master?.setVolume(to))
/** The drums that were ever wanted, by which another context begins. */
const wanted = new Map<string, Drum>()
/** The last note on each channel and pitch. */
let ringing = new Map<string, Scheduled>()

onTick(() => queueMicrotask(flush)) // after what is sent on this tick
onEnd(() => sounds?.hush())

/** Have sounds on this context: other ones where it is another. */
async function soundOn(given: BaseAudioContext | null, drums: Drum[]): Promise<void> {
  const another = given !== null && given !== context
  if (another) {
    context = given
    master = makeMaster(given, volume.value)
    sounds = new Sounds(master.input)
  }
  await sounds?.kit.prepare(another ? [...wanted.values()] : drums)
}
function want(drums: Drum[]): void {
  for (const { by, pitch, own } of drums) wanted.set(nameOf({ by, pitch, own }), { by, pitch, own })
}

/**
 * Make sound possible, these drums ready to be played; the browser allows it after a gesture. Where it gives none, what
 * is played goes on all the same.
 */
export async function soundsWith(drums: Drum[]): Promise<void> {
  want(drums)
  await soundOn(await awaken(), drums)
}
/** Have sound, after it was taken away or could not be had. */
export async function haveSound(): Promise<void> {
  if (silent.value) await soundOn(await tryAgain(), [])
}
useEventListener(navigator.mediaDevices as MediaDevices | undefined, 'devicechange', haveSound)

/** Make drums ready that will be played soon. */
export function prepare(drums: Drum[]): void {
  want(drums)
  void sounds?.kit.prepare(drums)
}

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

/** Sound a note, without writing it down; what is returned lets a pitched one go sooner, at a time. */
export function sound(note: Sounded): (at: number) => void {
  const release = goes() ? sounds?.play({ ...note, time: onAudio(note.time) }) : undefined
  return (at) => release?.(onAudio(at))
}
/** Sound a note at once, for so many seconds. */
export const soundNow = (note: Pick<Sounded, 'by' | 'set' | 'pitch' | 'channel' | 'pitched'>, seconds: number) =>
  sound({ ...note, lane: `now ${note.pitch}`, velocity: 100, time: now() + 0.03, seconds, level: 100 })

/** Schedule a note; what still rings on its channel and pitch is cut in the list, as the kit does. */
export function strike(note: Struck): void {
  const { pitch, channel, velocity, time, beat, length, lane } = note
  const port = portOf(`${note.owner}/${lane}`)
  if (port) sendNote(port, note, milliseconds(time), note.seconds * 1000)
  else sound(note)
  const key = `${channel}/${pitch}`
  const before = ringing.get(key)
  if (before && before.beat + before.length > beat) before.length = beat - before.beat
  const scheduled = { beat, time: onAudio(time), lead: time - now(), pitch, velocity, length, lane }
  ringing.set(key, scheduled)
  window.jollyScheduled?.push(scheduled)
}

/** Schedule a controller to be set. */
export function turn(turned: Turned): void {
  const port = portOf(`${turned.owner}/${turned.lane}`)
  if (port) sendControl(port, turned.channel, turned.number, turned.value, milliseconds(turned.time))
  else if (sounds && context && !turned.outside) {
    const { owner, lane, alone, channel } = turned
    const reached = alone ? sounds.lane(owner, lane, channel) : sounds.channel(channel)
    // While nothing sounds it is set at once, so that it stands when sound comes.
    reached.set(turned.number, turned.value, goes() ? onAudio(turned.time) : context.currentTime)
  }
  window.jollyTurned?.push({ ...turned })
}
