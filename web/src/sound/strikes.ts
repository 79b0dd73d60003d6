/** A clip's notes and controllers as they are struck. */
import type { ClipView } from '@/api/client'
import { levelOf } from './levels'
import { strike, turn } from './output'
import { paceAt, secondsTo } from './pace'
import { soundFrom } from './soundFrom'

/** How a clip is heard, where that is not as it stands. */
export interface Struck {
  /** Of its rows, these alone. */
  rows?: ReadonlySet<number>
  /** As fast as this. */
  tempo?: number
  /** As lanes of this pattern: by its ports, as loud as they are set. */
  owner?: number
}

/** All drums that a clip has notes of. */
export const drumsOf = (view: ClipView) =>
  view.lanes.flatMap(
    (lane) =>
      lane.kind === 'drum' ? Object.keys(lane.drums).map((pitch) => ({ ...lane.sound, pitch: Number(pitch) })) : [],
  )

/**
 * Schedule what begins in the beats [from, to): `from` sounds at `time` on the audio clock, and is called `beat` in the
 * list.
 */
export function strikeStretch(
  view: ClipView, from: number, to: number, time: number, beat: number,
  { rows, tempo = view.tempo, owner = 0 }: Struck = {},
): void {
  const seconds = 60 / tempo
  for (const [changes, outside] of [[view.changes, false], [view.tunings, true]] as const) {
    for (const [at, number, value, row] of changes) {
      const lane = view.lanes[row]
      if (!lane || at < from - 1e-9 || at >= to - 1e-9 || (rows && !rows.has(row))) continue
      turn({
        owner, lane: lane.id, alone: lane.kind !== 'control', channel: lane.channel, number, value, beat: at,
        time: time + (at - from) * seconds, outside,
      })
    }
  }
  for (const [start, length, pitch, velocity, row, tune] of view.notes) {
    const lane = view.lanes[row]
    if (start < from - 1e-9 || start >= to - 1e-9 || !lane || (rows && !rows.has(row))) continue
    strike({
      ...(soundFrom(lane.sounds, start) ?? lane.sound), owner, pitched: lane.kind === 'pitched', lane: lane.id, pitch,
      tune, velocity, channel: lane.channel,
      beat: beat + start - from, length,
      time: time + (start - from) * seconds, seconds: length * seconds, level: levelOf(owner, lane.id),
    })
  }
}
/** Schedule the beats [from, to) as fast as the clip goes there, if its first beat sounds at `begun`. */
export function strikePaced(
  view: ClipView, from: number, to: number, begun: number, how: Omit<Struck, 'tempo'>,
): void {
  for (let at = from; at < to - 1e-9; ) {
    const { tempo, until } = paceAt(view, at)
    const end = Math.min(until, to)
    strikeStretch(view, at, end, begun + secondsTo(view, at), at, { ...how, tempo })
    at = end
  }
}
