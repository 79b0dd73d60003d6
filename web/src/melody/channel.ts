/**
 * A MIDI channel of the built-in sounds, or a single lane on one that sets controllers by itself: what its
 * controllers do to all that sounds on it. 7 and 11 are level, 10 place, 74 brightness, 1 and channel pressure
 * vibrato, 64 the sustain pedal; pitch bend reaches two semitones.
 */
const BEND_CENTS = 200
const VIBRATO_HERTZ = 5.4
const VIBRATO_CENTS = 45
const SMOOTH = 0.008
const OPEN = 18_000
/** So many seconds after everything was silenced nothing of it sounds. */
const DYING = 1

/** Notes wait for the pedal with this. */
export interface Pedalled {
  /** When the key is let go, on the audio clock. */
  end: number
  release: (at: number) => void
  hold: (from: number) => void
}

export class Channel {
  readonly input: GainNode
  /** What bends pitch, in cents: connect it to a detune. */
  readonly bend: GainNode
  private readonly filter: BiquadFilterNode
  private readonly volume: GainNode
  private readonly expression: GainNode
  private readonly place: StereoPannerNode
  private readonly bending: ConstantSourceNode
  private readonly vibrato: GainNode
  private readonly shake: OscillatorNode
  private readonly sounding = new Set<Pedalled>()
  private held: number | null = null

  /** `under`: the channel that a lane lies on, whose controllers reach it too. */
  constructor(context: BaseAudioContext, out: AudioNode, private readonly under: Channel | null = null) {
    this.input = context.createGain()
    this.filter = context.createBiquadFilter()
    this.filter.frequency.value = OPEN
    this.filter.Q.value = 0.5
    this.volume = context.createGain()
    this.expression = context.createGain()
    this.place = context.createStereoPanner()
    this.input.connect(this.filter).connect(this.volume).connect(this.expression).connect(this.place).connect(out)
    this.bend = context.createGain()
    this.bending = context.createConstantSource()
    this.bending.offset.value = 0
    this.bending.connect(this.bend)
    this.bending.start()
    under?.bend.connect(this.bend)
    const shake = this.shake = context.createOscillator()
    shake.frequency.value = VIBRATO_HERTZ
    this.vibrato = context.createGain()
    this.vibrato.gain.value = 0
    shake.connect(this.vibrato).connect(this.bend)
    shake.start()
  }

  /** A controller is set to a value at a time on the audio clock. */
  set(number: number | string, value: number, time: number): void {
    const share = value / 127
    if (number === 'bend') this.bending.offset.setTargetAtTime((value / 8192) * BEND_CENTS, time, 0.003)
    else if (
      number === 1 || number === 'pressure'
    ) this.vibrato.gain.setTargetAtTime(share * VIBRATO_CENTS, time, SMOOTH)
    else if (number === 7) this.volume.gain.setTargetAtTime((value / 100) ** 2, time, SMOOTH)
    else if (number === 11) this.expression.gain.setTargetAtTime(share ** 2, time, SMOOTH)
    else if (number === 10) this.place.pan.setTargetAtTime(Math.max(-1, (value - 64) / 63), time, SMOOTH)
    else if (number === 74) this.filter.frequency.setTargetAtTime(180 * (OPEN / 180) ** share, time, SMOOTH)
    else if (number === 64) this.pedal(value >= 64, time)
  }
  private pedal(down: boolean, time: number): void {
    if (down === (this.held !== null)) return
    if (down) {
      this.held = time
      for (const note of this.sounding) if (note.end >= time) note.hold(time)
      return
    }
    this.held = null
    for (const note of this.sounding) note.release(Math.max(time, note.end))
  }
  /** A note begins; with the pedal down it waits for it. */
  add(note: Pedalled): void {
    this.under?.add(note)
    this.sounding.add(note)
    if (this.held !== null && note.end >= this.held) note.hold(this.held)
  }
  forget(note: Pedalled): void {
    this.under?.forget(note)
    this.sounding.delete(note)
  }
  /** As it was before anything was set. */
  reset(time: number): void {
    const params: [AudioParam, number][] = [[this.bending.offset, 0], [this.vibrato.gain, 0], [this.volume.gain, 1],
      [this.expression.gain, 1], [this.place.pan, 0], [this.filter.frequency, OPEN]]
    for (const [param, value] of params) {
      param.cancelScheduledValues(0)
      param.setTargetAtTime(value, time, SMOOTH)
    }
    this.held = null
    this.sounding.clear()
  }
  /** It is not needed any more: what still sounds dies away with it. */
  dispose(time: number): void {
    for (const source of [this.bending, this.shake]) source.stop(time + DYING)
    this.bending.onended = () => {
      this.under?.bend.disconnect(this.bend)
      this.place.disconnect()
    }
  }
}
