/** All built-in sounds on one context: kits and voices, through the channels that controllers shape. */
import { Drums } from '@/drum/drums'
import { Kit, type DrumNote } from '@/drum/kit'
import { Channel } from '@/melody/channel'
import { Poly, type PitchedNote } from '@/melody/poly'

/** A note of a voice, or of a kit. */
export type Sounded = PitchedNote & DrumNote & { pitched: boolean }

export class Sounds {
  readonly kit: Kit
  private readonly poly: Poly
  private readonly channels = new Map<number, Channel>()
  /** Lanes that set controllers of their own, each on its channel. */
  private readonly lanes = new Map<string, Channel>()

  constructor(private readonly out: AudioNode) {
    const channelOf = ({ owner, lane, channel }: PitchedNote | DrumNote) =>
      this.lanes.get(`${owner}/${lane}`) ?? this.channel(channel)
    this.kit = new Kit((drum) => channelOf(drum).input, new Drums(out.context.sampleRate))
    this.poly = new Poly(channelOf)
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
  /** A lane's own place on a channel, for what it alone sets. */
  lane(owner: number, lane: string, channel: number): Channel {
    const name = `${owner}/${lane}`
    const under = this.channel(channel)
    const own = this.lanes.get(name) ?? new Channel(this.out.context, under.input, under)
    this.lanes.set(name, own)
    return own
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
    const { currentTime } = this.out.context
    for (const channel of this.channels.values()) channel.reset(currentTime)
    for (const lane of this.lanes.values()) lane.dispose(currentTime)
    this.lanes.clear()
  }
}
