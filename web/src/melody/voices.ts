/**
 * The built-in voices of pitched lanes, each built of plain oscillators on the audio clock. A voice is
 * told a note and the controls of its sound (0 to 1); what it builds ends by itself.
 */
import type { Schemas } from '@/api/client'
import { evenNoise } from './noise'

/** What a voice is built into: where it sounds, what bends its pitch (cents), and when. */
export interface Note {
  context: BaseAudioContext
  out: AudioNode
  bend: AudioNode
  hertz: number
  /** From where it glides, if from another note, and for how many seconds. */
  from: number | null
  glide: number
  time: number
}
/** Seconds of its attack, its fall toward `sustain`, and its release. */
export interface Shape {
  attack: number
  decay: number
  sustain: number
  release: number
}
type Voices = Schemas['Voices']
/** A voice with these controls. */
interface Build<Control extends string = string> {
  shape: (set: Controls<Control>) => Shape
  make: (note: Note, set: Controls<Control>, start: (source: AudioScheduledSourceNode) => void) => AudioNode
}
export type Controls<Control extends string = string> = Partial<Record<Control, number>>

const control = <Control extends string>(set: Controls<Control>, name: Control) => set[name] ?? 0.5

function oscillator(note: Note, type: OscillatorType, ratio = 1, cents = 0): OscillatorNode {
  const source = note.context.createOscillator()
  source.type = type
  source.detune.value = cents
  note.bend.connect(source.detune)
  if (note.from !== null && note.glide > 0) {
    source.frequency.setValueAtTime(note.from * ratio, note.time)
    source.frequency.exponentialRampToValueAtTime(note.hertz * ratio, note.time + note.glide)
  } else {
    source.frequency.setValueAtTime(note.hertz * ratio, note.time)
  }
  return source
}
function level(note: Note, gain: number): GainNode {
  const node = note.context.createGain()
  node.gain.value = gain
  return node
}
/** A gain that falls from `high` to `low` (both over 0), most of the way within `seconds`. */
function falling(note: Note, high: number, low: number, seconds: number): GainNode {
  const node = level(note, high)
  node.gain.setValueAtTime(high, note.time)
  node.gain.setTargetAtTime(low, note.time, seconds / 3)
  return node
}
function lowpass(note: Note, hertz: number, resonance = 0.7): BiquadFilterNode {
  const filter = note.context.createBiquadFilter()
  filter.type = 'lowpass'
  filter.frequency.value = Math.min(18_000, hertz)
  filter.Q.value = resonance
  return filter
}
/** A lowpass that falls from one frequency to another. */
function closing(note: Note, high: number, low: number, seconds: number, resonance = 0.7): BiquadFilterNode {
  const filter = lowpass(note, high, resonance)
  filter.frequency.setValueAtTime(Math.min(18_000, high), note.time)
  filter.frequency.setTargetAtTime(Math.min(18_000, low), note.time, seconds / 3)
  return filter
}
/** Several sources mixed, each at its level. */
function mixed(
  note: Note, start: (source: AudioScheduledSourceNode) => void, into: AudioNode, ...parts: [OscillatorNode, number][]
): void {
  for (const [source, gain] of parts) {
    source.connect(level(note, gain)).connect(into)
    start(source)
  }
}
/** Even noise that goes round. */
function noise(context: BaseAudioContext): AudioBufferSourceNode {
  const source = context.createBufferSource()
  source.buffer = evenNoise(context)
  source.loop = true
  return source
}

/** All voices that there are, by the API's description: not one of them, nor a control, can be missing or misspelt. */
const VOICES: { [Name in keyof Voices]: Build<keyof Voices[Name] & string> } = {
  bell: {
    shape: (set) => ({
      attack: 0.002, decay: 0.4 + 3.6 * control(set, 'ring'), sustain: 0, release: 0.15 + 0.6 * control(set, 'ring'),
    }),
    make: (note, set, start) => {
      const body = level(note, 0.8)
      const carrier = oscillator(note, 'sine')
      const modulator = oscillator(note, 'sine', 3.5)
      const depth = falling(
        note, note.hertz * 4 * control(set, 'strike') + 0.01, 0.01, 0.25 + 0.9 * control(set, 'ring'),
      )
      modulator.connect(depth).connect(carrier.frequency)
      start(modulator)
      mixed(note, start, body, [carrier, 1], [oscillator(note, 'sine', 0.5), 0.35 * control(set, 'hum')], [
        oscillator(note, 'sine', 2), 0.16,
      ])
      return body
    },
  },
  pluck: {
    shape: (set) => ({ attack: 0.002, decay: 0.25 + 1.9 * control(set, 'ring'), sustain: 0, release: 0.08 }),
    make: (note, set, start) => {
      const filter = closing(
        note, note.hertz * (2 + 14 * control(set, 'bright')), note.hertz * 1.2, 0.12 + 0.5 * control(set, 'ring'), 0.8,
      )
      mixed(note, start, filter, [oscillator(note, 'sawtooth'), 0.62], [
        oscillator(note, 'triangle'), 0.6 * control(set, 'body'),
      ])
      return filter
    },
  },
  bass: {
    shape: () => ({ attack: 0.004, decay: 0.35, sustain: 0.7, release: 0.07 }),
    make: (note, set, start) => {
      const rest = note.hertz * (1.5 + 7 * control(set, 'bright'))
      const filter = closing(note, rest * (1 + 3 * control(set, 'punch')), rest, 0.18, 0.7 + 5 * control(set, 'growl'))
      mixed(
        note, start, filter, [oscillator(note, 'sawtooth'), 0.34],
        [oscillator(note, 'square'), 0.14 + 0.2 * control(set, 'growl')], [oscillator(note, 'sine'), 0.5],
      )
      return filter
    },
  },
  pad: {
    shape: (set) => ({
      attack: 0.02 + 1.3 * control(set, 'swell') ** 1.5, decay: 0.5, sustain: 0.85,
      release: 0.08 + 2.2 * control(set, 'fade') ** 1.5,
    }),
    make: (note, set, start) => {
      const apart = 2.4 * control(set, 'drift')
      const filter = lowpass(note, note.hertz * (1.5 + 9 * control(set, 'bright')), 0.5)
      mixed(note, start, filter, [oscillator(note, 'sawtooth', 1, apart), 0.2], [
        oscillator(note, 'sawtooth', 1, -apart), 0.2,
      ],
        [oscillator(note, 'triangle'), 0.42])
      return filter
    },
  },
  reed: {
    shape: (set) => ({ attack: 0.012 + 0.3 * control(set, 'swell') ** 1.5, decay: 0.2, sustain: 0.8, release: 0.06 }),
    make: (note, set, start) => {
      const filter = lowpass(note, note.hertz * (2.5 + 9 * control(set, 'bright')), 2.2)
      mixed(note, start, filter, [oscillator(note, 'square'), 0.32], [oscillator(note, 'sawtooth', 2), 0.09], [
        oscillator(note, 'sine'), 0.25,
      ])
      const air = noise(note.context)
      const band = note.context.createBiquadFilter()
      band.type = 'bandpass'
      band.frequency.value = Math.min(9000, note.hertz * 4)
      air.connect(band).connect(level(note, 0.12 * control(set, 'breath'))).connect(filter)
      start(air)
      return filter
    },
  },
  glass: {
    shape: (set) => ({
      attack: 0.015, decay: 0.6 + 4.4 * control(set, 'ring'), sustain: 0.12, release: 0.2 + 0.8 * control(set, 'ring'),
    }),
    make: (note, set, start) => {
      const body = level(note, 0.85)
      mixed(
        note, start, body, [oscillator(note, 'sine'), 0.85],
        [oscillator(note, 'sine', 2), 0.2 * control(set, 'bright')],
        [oscillator(note, 'sine', 4), 0.14 * control(set, 'bright')],
      )
      const shimmer = note.context.createOscillator()
      shimmer.frequency.value = 5.1
      shimmer.connect(level(note, 0.16 * control(set, 'shimmer'))).connect(body.gain)
      start(shimmer)
      return body
    },
  },
}

/** The voice of a name; an error where there is none. */
export function voiceOf(name: string): Build {
  if (!(name in VOICES)) throw new Error(`There is no voice “${name}”.`)
  return VOICES[name as keyof Voices]
}
