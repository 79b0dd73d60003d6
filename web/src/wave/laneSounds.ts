/** The built-in sounds with a way out for each lane: what is heard of each makes together what is heard of all. */
import type { Drums } from '@/drum/drums'
import { Kit } from '@/drum/kit'
import { Channel } from '@/melody/channel'
import { Poly } from '@/melody/poly'
import type { Sounded } from '@/sound/sounds'
import type { Scored, ScoredTurn } from './scored'

export class LaneSounds {
  private readonly kit: Kit
  private readonly poly: Poly
  private readonly rows: Map<string, number>
  /** What controllers of its channel do to a lane, by its row, and what those do that it alone sets. */
  private readonly channels = new Map<number, Channel>()
  private readonly own = new Map<number, Channel>()

  /** `outs`: by row, the lanes that are heard; `drums`: those that they have, at hand. */
  constructor(
    private readonly context: BaseAudioContext, private readonly scored: Scored, outs: ReadonlyMap<number, AudioNode>,
    drums: Drums,
  ) {
    this.rows = new Map(scored.lanes.map(({ id }, row) => [id, row]))
    for (const [row, out] of outs) this.channels.set(row, new Channel(context, out))
    const channelOf = ({ lane }: { lane: string }): Channel => {
      const row = this.rows.get(lane) ?? -1
      const channel = this.own.get(row) ?? this.channels.get(row)
      if (!channel) throw new Error(`Lane ${lane} is not heard here.`)
      return channel
    }
    this.kit = new Kit((drum) => channelOf(drum).input, drums)
    this.poly = new Poly(channelOf)
  }

  turn({ row, alone, channel, number, value }: ScoredTurn, time: number): void {
    if (!alone) {
      for (const [each, under] of this.channels) {
        if (this.scored.lanes[each]?.channel === channel) under.set(number, value, time)
      }
      return
    }
    const under = this.channels.get(row)
    if (!under) return
    const own = this.own.get(row) ?? new Channel(this.context, under.input, under)
    this.own.set(row, own)
    own.set(number, value, time)
  }
  /** Sound a note of a lane that is heard; of any other, only end what it ends. */
  strike(note: Sounded, heard: boolean): void {
    const sounds = note.pitched ? this.poly : this.kit
    if (heard) sounds.play(note)
    else sounds.cut(note)
  }
}
