/** Pitched notes as they sound: each with its envelope; one at a time on a pitch, gliding where its voice is set so. */
import type { Channel } from './channel'
import { voiceOf, type Controls } from './voices'

/** A pitched note to be struck at `time` on the audio clock, for so many seconds. */
export interface PitchedNote {
  by: string
  /** The controls of its sound, in percent. */
  set: Record<string, number>
  /** The pattern of its lane, where it has one. */
  owner?: number
  lane: string
  pitch: number
  channel: number
  velocity: number
  time: number
  seconds: number
  /** In percent. */
  level: number
}

const GLIDE_SECONDS = 0.5
const CUT = 0.006
/** A note is silent after so many times of the constant of its release. */
const TAILS = 7
/** A single note at full velocity is as loud as this. */
const LOUDEST = 0.4

interface Sounding {
  gain: GainNode
  end: number
  hertz: number
  stop: (at: number, within: number) => void
}

/** Stay where it is at a time; browsers that cannot hold cut off what comes later. */
function holdAt(param: AudioParam, at: number): void {
  if ('cancelAndHoldAtTime' in param) param.cancelAndHoldAtTime(at)
  else (param as AudioParam).cancelScheduledValues(at)
}

const controls = ({ set }: PitchedNote): Controls =>
  Object.fromEntries(Object.entries(set).map(([name, percent]) => [name, percent / 100]))
/** How many seconds a note sounds after it is let go, at the most. */
export const ringsAfter = (note: PitchedNote) => (TAILS * voiceOf(note.by).shape(controls(note)).release) / 3

export const hertzOf = (pitch: number) => 440 * 2 ** ((pitch - 69) / 12)

export class Poly {
  private readonly byPitch = new Map<string, Sounding>()
  private readonly byLane = new Map<string, Sounding>()
  private readonly live = new Set<Sounding>()

  constructor(private readonly channelOf: (note: PitchedNote) => Channel) {}

  /** End what a note ends: what sounds on its channel and pitch, and what it glides from, which is returned. */
  cut(note: PitchedNote): { hertz: number } | null {
    this.byPitch.get(`${note.channel}/${note.pitch}`)?.stop(note.time, CUT)
    const before = this.byLane.get(note.lane)
    if (!note.set.glide || !before || before.end <= note.time + 0.001 || before.hertz === hertzOf(note.pitch)) {
      return null
    }
    before.stop(note.time, CUT)
    return before
  }

  /** Sound a note; what is returned lets it go sooner, at a time. */
  play(note: PitchedNote): (at: number) => void {
    const channel = this.channelOf(note)
    const { context } = channel.input
    const set = controls(note)
    const voice = voiceOf(note.by)
    const shape = voice.shape(set)
    const key = `${note.channel}/${note.pitch}`
    const hertz = hertzOf(note.pitch)
    const before = this.cut(note)

    const sources: AudioScheduledSourceNode[] = []
    const gain = context.createGain()
    const body = voice.make({
      context, out: gain, bend: channel.bend, hertz, from: before?.hertz ?? null,
      glide: GLIDE_SECONDS * (set.glide ?? 0), time: note.time,
    }, set, (source) => sources.push(source))
    body.connect(gain).connect(channel.input)
    const peak = LOUDEST * (note.velocity / 127) ** 1.6 * (note.level / 100)
    gain.gain.setValueAtTime(0, note.time)
    gain.gain.linearRampToValueAtTime(peak, note.time + (before ? CUT : shape.attack))
    gain.gain.setTargetAtTime(peak * shape.sustain, note.time + shape.attack, shape.decay / 3)
    sources.forEach((source) => source.start(note.time))

    let stopped = Infinity
    const end = note.time + Math.max(note.seconds, 0.01)
    const stop = (at: number, within: number): void => {
      if (at >= stopped) return
      stopped = at
      holdAt(gain.gain, at)
      gain.gain.setTargetAtTime(0, at, within)
      sources.forEach((source) => source.stop(at + TAILS * within))
    }
    const sounding: Sounding = { gain, end, hertz, stop }
    const pedalled = {
      end,
      release: (at: number) => stop(at, shape.release / 3),
      hold: () => {
        if (stopped !== end) return
        stopped = Infinity
        gain.gain.cancelScheduledValues(end)
        gain.gain.setTargetAtTime(peak * shape.sustain, Math.max(end, note.time + shape.attack), shape.decay / 3)
        sources.forEach((source) => source.stop(end + 600))
      },
    }
    stop(end, shape.release / 3)
    channel.add(pedalled)
    const last = sources[0]
    if (last) last.onended = () => {
      gain.disconnect()
      channel.forget(pedalled)
      this.live.delete(sounding)
      if (this.byPitch.get(key) === sounding) this.byPitch.delete(key)
      if (this.byLane.get(note.lane) === sounding) this.byLane.delete(note.lane)
    }
    this.byPitch.set(key, sounding)
    this.byLane.set(note.lane, sounding)
    this.live.add(sounding)
    return (at) => stop(Math.max(at, note.time + shape.attack), shape.release / 3)
  }

  /** Silence everything at once, what is scheduled too. */
  hush(): void {
    for (const { gain, stop } of this.live) {
      const { currentTime } = gain.context
      gain.gain.cancelScheduledValues(currentTime)
      gain.gain.setTargetAtTime(0, currentTime, CUT)
      stop(currentTime + CUT, CUT)
    }
    this.byPitch.clear()
    this.byLane.clear()
  }
}
