/**
 * The built-in kits: every drum of General MIDI's percussion map, synthesised once into a buffer when a lane first
 * needs it; and recordings in their place.
 */
import * as Tone from 'tone'
import { STATED } from '@/generated/stated'
import { evenNoise } from '@/melody/noise'
import { recordingSamples, type Recording } from './recordings'

type Build = (time: number) => void

/** A struck membrane: a tone that falls in pitch. */
function skin(note: string, octaves: number, decay: number, pitchDecay = 0.05): Build {
  return (time) => {
    new Tone.MembraneSynth({
      octaves, pitchDecay, envelope: { attack: 0.001, decay, sustain: 0, release: 0.05 },
    }).toDestination().triggerAttackRelease(note, decay, time)
  }
}

/** Filtered noise, the same each time: rattles, brushes, the wires of a snare. */
function rush(frequency: number, decay: number, type: BiquadFilterType = 'bandpass', gain = -4): Build {
  return (time) => {
    const filter = new Tone.Filter({ frequency, type, Q: 1.1 }).toDestination()
    const loud = new Tone.Volume(gain).connect(filter)
    const envelope = new Tone.AmplitudeEnvelope({ attack: 0.001, decay, sustain: 0, release: 0.02 }).connect(loud)
    new Tone.ToneBufferSource({ url: evenNoise(Tone.getContext()), loop: true }).connect(envelope).start(time)
    envelope.triggerAttackRelease(decay, time)
  }
}

/** Struck metal. */
function metal(frequency: number, decay: number, resonance = 6000, harmonicity = 5.1): Build {
  return (time) => {
    new Tone.MetalSynth({
      volume: -10, harmonicity, modulationIndex: 32, resonance, octaves: 1.2,
      envelope: { attack: 0.001, decay, release: 0.05 },
    }).toDestination().triggerAttackRelease(frequency, decay, time)
  }
}

/** Struck wood or a bell-like bar. */
function bar(frequency: number, decay: number, type: 'sine' | 'triangle' | 'square' = 'triangle'): Build {
  return (time) => {
    new Tone.Synth({
      volume: -4, oscillator: { type }, envelope: { attack: 0.001, decay, sustain: 0, release: 0.02 },
    }).toDestination().triggerAttackRelease(frequency, decay, time)
  }
}

function both(...builds: Build[]): Build {
  return (time) => builds.forEach((build) => build(time))
}

function several(build: Build, ...delays: number[]): Build {
  return (time) => delays.forEach((delay) => build(time + delay))
}

/** Drums in a small room. */
const DRY: Record<number, Build> = {
  35: skin('A0', 5, 0.6, 0.08), 36: skin('C1', 6, 0.45), 37: bar(1700, 0.04, 'square'),
  38: both(skin('A2', 2, 0.14), rush(2400, 0.2)), 39: several(rush(1500, 0.09), 0, 0.012, 0.024),
  40: both(skin('C3', 3, 0.1), rush(3600, 0.16)), 41: skin('F1', 3, 0.5), 42: rush(9000, 0.06, 'highpass'),
  43: skin('A1', 3, 0.45), 44: rush(7000, 0.09, 'highpass', -8), 45: skin('C2', 3, 0.4),
  46: rush(8500, 0.4, 'highpass', -6), 47: skin('E2', 3, 0.36), 48: skin('G2', 3, 0.32),
  49: metal(320, 1.4), 50: skin('B2', 3, 0.3), 51: metal(520, 0.7, 8000), 52: metal(240, 1.1, 4500),
  53: bar(1250, 0.5, 'triangle'), 54: both(rush(8200, 0.16, 'highpass', -8), metal(900, 0.16, 9000)),
  55: metal(440, 0.6), 56: both(bar(540, 0.18, 'square'), bar(800, 0.16, 'square')), 57: metal(350, 1.4),
  58: several(rush(2800, 0.04), 0, 0.04, 0.08, 0.12, 0.16), 59: metal(560, 0.6, 8000), 60: skin('D4', 1, 0.14),
  61: skin('G3', 1, 0.18), 62: skin('E4', 1, 0.08), 63: skin('C4', 1, 0.2), 64: skin('F3', 1, 0.24),
  65: skin('A3', 1.5, 0.2), 66: skin('E3', 1.5, 0.24), 67: bar(1300, 0.25), 68: bar(950, 0.28),
  69: rush(5200, 0.07), 70: rush(6500, 0.05, 'highpass'), 71: bar(2300, 0.12, 'sine'), 72: bar(2300, 0.4, 'sine'),
  73: several(rush(3500, 0.02), 0, 0.02, 0.04), 74: several(rush(3500, 0.03), 0, 0.04, 0.08, 0.12, 0.16),
  75: bar(2500, 0.06, 'sine'), 76: bar(1150, 0.07), 77: bar(780, 0.09), 78: bar(480, 0.09, 'sine'),
  79: bar(360, 0.22, 'sine'), 80: metal(1800, 0.12, 9000), 81: metal(1800, 0.8, 9000),
}

/** A can that is struck: a hollow tone and the rattle of its sheet. */
const can = (frequency: number, decay: number, rattle = 0.6) =>
  both(bar(frequency, decay, 'sine'), metal(frequency * 1.37, decay * rattle, frequency * 6, 3.2))
/** Cans, buckets and pipes: the low drums are buckets, the hats lids, the rest pipes of many lengths. */
const TIN: Record<number, Build> = {
  35: can(52, 0.4, 0.2), 36: can(66, 0.32, 0.25), 37: bar(2100, 0.05, 'square'),
  38: both(can(210, 0.12), rush(3200, 0.12)),
  39: several(metal(900, 0.05, 5200), 0, 0.014, 0.027), 40: both(can(260, 0.1), rush(4600, 0.1)), 41: can(98, 0.4),
  42: metal(1400, 0.05, 9500, 7.1),
  43: can(122, 0.36), 44: metal(1100, 0.08, 8200, 7.1), 45: can(147, 0.32), 46: metal(1250, 0.5, 9000, 7.1),
  47: can(175, 0.28), 48: can(208, 0.26),
  49: metal(410, 1.4, 5200, 2.7), 50: can(247, 0.24), 51: metal(830, 0.7, 7400, 3.9), 52: metal(290, 1.2, 3800, 2.3),
  53: bar(1480, 0.6, 'sine'),
  55: metal(620, 0.5, 7000, 2.7), 57: metal(370, 1.5, 5600, 2.9), 59: metal(760, 0.7, 6800, 3.9),
}
/** What has no can of its own is a pipe, the longer the lower its number in the map. */
const pipe = (note: number): Build =>
  both(bar(180 * 2 ** ((note - 54) / 9), 0.22, 'triangle'), metal(260 * 2 ** ((note - 54) / 9), 0.1, 6200, 4.3))
/** All kits that there are: none can be missing. */
const KITS: Record<(typeof STATED.kits)[number], (note: number) => Build> = {
  dry: (note) => DRY[note] ?? bar(440 * 2 ** ((note - 69) / 12), 0.3),
  tin: (note) => TIN[note] ?? pipe(note),
}

const SECONDS = 1.6
/**
 * Every sound is brought to this level: its loudest stretch of 60 ms, as an effective value; and no sample beyond
 * `PEAK`.
 */
const LEVEL = 0.16
const STRETCH = 0.06
const PEAK = 0.9

/** Bring a sound to the kit's level, so that at equal velocity no drum drowns another. */
function even(audio: AudioBuffer): void {
  const sides = Array.from({ length: audio.numberOfChannels }, (_, side) => audio.getChannelData(side))
  const width = Math.round(STRETCH * audio.sampleRate)
  let peak = 0
  let most = 0
  for (const samples of sides) {
    let sum = 0
    samples.forEach((sample, i) => {
      peak = Math.max(peak, Math.abs(sample))
      sum += sample * sample - (i >= width ? (samples[i - width] ?? 0) ** 2 : 0)
      most = Math.max(most, sum)
    })
  }
  const level = Math.sqrt(most / width)
  const factor = Math.min(LEVEL / (level || 1), PEAK / (peak || 1))
  for (const samples of sides) for (let i = 0; i < samples.length; i += 1) samples[i] = (samples[i] ?? 0) * factor
}

/** A drum of a kit, or a recording in its place. */
export interface Drum {
  by: string
  pitch: number
  own?: Recording | null
}
/** What tells one drum from another. */
export const nameOf = ({ by, pitch, own }: Drum) => own?.file ?? `${by}/${pitch}`

/** Drums of the kits that were made, by rate, kit and note: for all that sounds or is rendered in this page. */
const built = new Map<string, Promise<AudioBuffer | null>>()
// One after another: the library has one context at a time, and gives it back only at the end.
let last: Promise<unknown> = Promise.resolve()

function buildDrum({ by, pitch }: Drum, rate: number): Promise<AudioBuffer | null> {
  const name = `${rate}/${by}/${pitch}`
  let made = built.get(name)
  if (!made) {
    const build = (KITS[by as keyof typeof KITS] ?? KITS[STATED.firstKit])(pitch)
    made = last.then(async () => {
      const audio = (await Tone.Offline(() => build(0), SECONDS, 1, rate)).get() ?? null
      if (audio) even(audio)
      return audio
    })
    last = made
    built.set(name, made)
  }
  return made
}

/** The sounds of drums that are at hand for contexts of one `rate`. */
export class Drums {
  private readonly buffers = new Map<string, AudioBuffer>()
  private readonly making = new Map<string, Promise<void>>()

  constructor(private readonly rate: number) {}

  /** The sound of a drum, if it is there. */
  of(drum: Drum): AudioBuffer | undefined {
    return this.buffers.get(nameOf(drum))
  }
  /** Make these sounds, each named by its kit and note; resolves when all are there. */
  async prepare(drums: Iterable<Drum>): Promise<void> {
    await Promise.all([...drums].map((drum) => this.make(drum)))
  }

  private make(drum: Drum): Promise<void> {
    const name = nameOf(drum)
    let made = this.making.get(name)
    if (!made) {
      made = drum.own ? this.bringBack(drum.own.file, { by: drum.by, pitch: drum.pitch }) : this.build(drum)
      this.making.set(name, made)
    }
    return made
  }
  private async build(drum: Drum): Promise<void> {
    const audio = await buildDrum(drum, this.rate)
    if (audio) this.buffers.set(nameOf(drum), audio)
  }

  /** Have a recording ready, or the kit's drum in its place where it is not kept here. */
  private async bringBack(file: string, otherwise: Drum): Promise<void> {
    try {
      const audio = await recordingSamples(file)
      if (audio) even(audio)
      else await this.make(otherwise)
      const ready = audio ?? this.buffers.get(nameOf(otherwise))
      if (ready) this.buffers.set(file, ready)
    } catch {
      // The server is away: it is asked again when the sound is next wanted.
      this.making.delete(file)
    }
  }
}
