/** Drums as they sound, from their buffers on the audio clock: each ends what it ends, at its gate or by itself. */
import type { Drum, Drums } from './drums'
import type { Recording } from './recordings'

const RELEASE = 0.03
/** A drum that was let go is silent after so many times of its release. */
const TAILS = 8

/** A drum to be struck at `time` on the audio clock; level and the controls of its kit are in percent. */
export interface DrumNote extends Drum {
  /** The pattern of its lane, where it has one. */
  owner?: number
  lane: string
  /** The lane that cuts it short. */
  choked_by?: string | null
  /** Semitones by which it is tuned. */
  tune?: number
  set: Record<string, number>
  channel: number
  velocity: number
  time: number
  seconds: number
  level: number
}

/** A struck drum while it sounds. */
interface Struck {
  gain: GainNode
  time: number
  chokedBy: string | null
}

/** What a struck drum is found by: a recording sounds once at a time in its lane. */
const keyOf = ({ pitch, channel, lane, own }: Pick<DrumNote, 'pitch' | 'channel' | 'lane' | 'own'>) =>
  (own ? lane : `${channel}/${pitch}`)
/** Before it is let go. A ring of 50 % leaves a drum as it is; less damps it. */
const holdsFor = (seconds: number, { ring = 50 }: DrumNote['set']) => Math.max(seconds, 0.12) * (ring / 50)

/** How many seconds a drum sounds at the most; what is not at hand does not sound. */
export function ringsFor({ own, seconds, set, tune = 0, ...drum }: Omit<DrumNote, 'time'>, drums: Drums): number {
  const whole = (drums.of({ own, ...drum })?.duration ?? 0) / 2 ** (((own?.tune ?? 0) + tune) / 12)
  return own ? whole + 0.01 : Math.min(whole, holdsFor(seconds, set) + TAILS * RELEASE)
}

/** End a sound at a time, without a click. */
function cut({ gain }: Struck, time: number): void {
  gain.gain.cancelScheduledValues(time)
  gain.gain.setTargetAtTime(0, time, 0.004)
}

function playDrum(
  source: AudioBufferSourceNode, gain: AudioParam, { time, seconds, set, tune = 0 }: DrumNote, loudness: number,
): void {
  source.playbackRate.value = 2 ** (tune / 12)
  gain.setValueAtTime(loudness, time)
  const end = time + holdsFor(seconds, set)
  gain.setTargetAtTime(0, end, RELEASE)
  source.start(time)
  source.stop(end + TAILS * RELEASE)
}

/** A recording from its start to its end, tuned as on a tape; the fades are within what is played. */
function playTrimmed(
  source: AudioBufferSourceNode, gain: AudioParam, own: Recording, { time, tune: more = 0 }: DrumNote, loudness: number,
): void {
  const { start = 0, end = 100, tune = 0, fade_in = 0, fade_out = 5 } = own
  const whole = source.buffer?.duration ?? 0
  const rate = 2 ** ((tune + more) / 12)
  const lasts = (whole * (end - start)) / 100 / rate
  const rises = Math.min(fade_in / 1000, lasts)
  const falls = Math.min(fade_out / 1000, lasts - rises)
  source.playbackRate.value = rate
  gain.setValueAtTime(rises ? 0 : loudness, time)
  if (rises) gain.linearRampToValueAtTime(loudness, time + rises)
  gain.setValueAtTime(loudness, time + lasts - falls)
  gain.linearRampToValueAtTime(0, time + lasts)
  source.start(time, (whole * start) / 100)
  source.stop(time + lasts + 0.01)
}

export class Kit {
  private readonly sounding = new Map<string, Struck>()
  private readonly live = new Set<Struck>()

  constructor(private readonly channelOf: (drum: DrumNote) => AudioNode, private readonly drums: Drums) {}

  /** Make these sounds ready to be played. */
  prepare(drums: Iterable<Drum>): Promise<void> {
    return this.drums.prepare(drums)
  }

  /** End what a note ends: what sounds on its channel and pitch, or of its recording, and what its lane chokes. */
  cut({ pitch, channel, lane, own, time }: DrumNote): void {
    const before = this.sounding.get(keyOf({ pitch, channel, lane, own }))
    if (before) cut(before, time)
    for (const struck of this.live) if (struck.chokedBy === lane && struck.time < time) cut(struck, time)
  }

  /**
   * Sound one note at `time` on the audio clock (seconds), cutting what still sounds on its
   * channel and pitch, and what its lane chokes. Drums ring at least as long as their gate, recordings
   * to the end of their trim.
   */
  play(drum: DrumNote): void {
    const { own, velocity, time, level } = drum
    const buffer = this.drums.of(drum)
    if (!buffer) {
      void this.drums.prepare([drum])
      return
    }
    const out = this.channelOf(drum)
    const { context } = out
    const key = keyOf(drum)
    this.cut(drum)
    const gain = context.createGain()
    const source = context.createBufferSource()
    source.buffer = buffer
    const loudness = (velocity / 127) ** 1.6 * (level / 100)
    if (own) playTrimmed(source, gain.gain, own, drum, loudness)
    else playDrum(source, gain.gain, drum, loudness)
    source.connect(gain).connect(out)
    const struck = { gain, time, chokedBy: drum.choked_by ?? null }
    source.onended = () => {
      gain.disconnect()
      this.live.delete(struck)
      if (this.sounding.get(key) === struck) this.sounding.delete(key)
    }
    this.sounding.set(key, struck)
    this.live.add(struck)
  }

  /** Silence everything at once, what is scheduled too. */
  hush(): void {
    for (const { gain } of this.live) {
      gain.gain.cancelScheduledValues(0)
      gain.gain.setTargetAtTime(0, gain.context.currentTime, 0.01)
    }
    this.sounding.clear()
  }
}
