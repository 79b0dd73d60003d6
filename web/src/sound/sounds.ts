/** All built-in sounds on one context: kits and voices, through the channels that controllers shape. */
import { Kit, type DrumNote } from '@/drum/kit'
import { Channel } from '@/melody/channel'
import { Poly, type PitchedNote } from '@/melody/poly'

/** A note of a voice, or of a kit. */
export type Sounded = PitchedNote & DrumNote & { pitched: boolean }

export class Sounds {
  readonly kit: Kit
  private readonly poly: Poly
  private readonly channels = new Map<number, Channel>()

  constructor(private readonly out: AudioNode) {
    this.kit = new Kit((number) => this.channel(number).input)
    this.poly = new Poly((number) => this.channel(number))
  }
  /** A MIDI channel, from 1. */
  channel(number: number): Channel {
    let channel = this.channels.get(number)
    if (!channel) {
      channel = new Channel(this.out.context, this.out)
      this.channels.set(number, channel)
    }
    return channel
  }
  /** Sound a note; what is returned lets a pitched one go sooner, at a time on the audio clock. */
  play(note: Sounded): (at: number) => void {
    if (note.pitched) return this.poly.play(note)
    this.kit.play(note)
    return () => undefined
  }
  /** Silence everything at once, and leave every controller as it was before anything was set. */
  hush(): void {
    this.kit.hush()
    this.poly.hush()
    for (const channel of this.channels.values()) channel.reset(this.out.context.currentTime)
  }
}
