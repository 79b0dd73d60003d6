/**
 * What sounds leave by: the kit on the audio clock, made with the first gesture. What is struck here is
 * written down, for tests and measurements that lay a list on the page first.
 */
import * as Tone from 'tone'
import { watch } from 'vue'
import { Kit } from '@/drum/kit'
import { makeMaster, volume } from './master'

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
  }
}

/** A note to be struck at a `time` on the audio clock; `beat` and `length` are in beats. */
export interface Struck {
  lane: string
  pitch: number
  channel: number
  velocity: number
  beat: number
  length: number
  time: number
  seconds: number
  /** In percent. */
  level: number
}

let kit: Kit | null = null
// Held on to, since the library lends its place to another context while it renders a drum.
let clock: Tone.BaseContext | null = null
/** The last note on each channel and pitch. */
let ringing = new Map<string, Scheduled>()
const ticking = new Set<() => void>()

/** The time on the audio clock, in seconds. */
export const now = () => clock?.currentTime ?? 0

/** Call this on every tick of the audio library's own steady clock. */
export function onTick(tick: () => void): void {
  ticking.add(tick)
}

/** The kit with these notes ready to be played; the browser allows it after a gesture. */
export async function kitWith(pitches: number[]): Promise<Kit> {
  await Tone.start()
  if (!kit) {
    const context = (clock = Tone.getContext())
    context.lookAhead = 0
    const master = makeMaster(context.rawContext as BaseAudioContext, volume.value)
    watch(volume, master.setVolume)
    kit = new Kit(master.input)
    context.on('tick', () => ticking.forEach((tick) => tick()))
  }
  await kit.prepare(pitches)
  return kit
}

/** Make notes ready that will be played soon. */
export const prepare = (pitches: number[]) => void kit?.prepare(pitches)

/** Silence everything at once, what is scheduled too. */
export const hush = () => kit?.hush()

/** Begin to write down anew. */
export function forgetStruck(): void {
  window.jollyScheduled?.splice(0)
  ringing = new Map()
}

/** Schedule a note; what still rings on its channel and pitch is cut in the list, as the kit does. */
export function strike(note: Struck): void {
  const { pitch, channel, velocity, time, beat, length, lane } = note
  kit?.play(pitch, channel, velocity, time, note.seconds, note.level)
  const key = `${channel}/${pitch}`
  const before = ringing.get(key)
  if (before && before.beat + before.length > beat) before.length = beat - before.beat
  const scheduled = { beat, time, lead: time - now(), pitch, velocity, length, lane }
  ringing.set(key, scheduled)
  window.jollyScheduled?.push(scheduled)
}
