/** The lanes of a pattern as they are struck: its notes, and its controllers where they change or stand. */
import type { Lane, View } from '@/api/client'
import { levelOf } from './levels'
import { strike, turn } from './output'
import { soundFrom } from './soundFrom'
import { valueAt } from './valueAt'

/** What lies so close before a stretch belongs to it, and what lies so close before its end to the next. */
const HAIR = 1e-9

/**
 * How a pattern's own beats are heard: where on the time line, when on the audio clock, and how many seconds one lasts.
 */
export interface Heard {
  /** The pattern. */
  owner: number
  beatOf: (own: number) => number
  timeOf: (beat: number) => number
  /** Beats of the time line in one of its own. */
  scale: number
  seconds: number
}

/** What controllers were set to last, so that none is set to what it stands at. */
export class Standing {
  private readonly values = new Map<string, number>()

  clear(): void {
    this.values.clear()
  }
  private set(
    lane: Lane, number: number | string, value: number, own: number, heard: Heard, outside = false,
  ): void {
    const { owner, beatOf, timeOf } = heard
    const { id, channel } = lane
    const alone = lane.kind !== 'control'
    const key = alone ? `${owner}/${id}/${number}` : `${channel}/${number}`
    if (this.values.get(key) === value) return
    this.values.set(key, value)
    const beat = beatOf(own)
    turn({ owner, lane: id, alone, channel, number, value, beat, time: timeOf(beat), outside })
  }
  /** Schedule what controllers change to in the pattern's own beats [from, to). */
  turnIn(view: View, from: number, to: number, heard: Heard): void {
    for (const lane of view.lanes) {
      for (const [changes, outside] of [[lane.drawn.changes, false], [lane.drawn.tunings, true]] as const) {
        for (const [time, number, value] of changes) {
          if (time >= from - HAIR && time < to - HAIR) this.set(lane, number, value, time, heard, outside)
        }
      }
    }
  }
  /** What controllers stand at from one of its own beats on: playing, and unmuting, begin with it. */
  begin(view: View, own: number, heard: Heard): void {
    for (const lane of view.lanes) {
      for (const { number, corners } of lane.audible ? lane.drawn.lines : []) {
        const value = valueAt(corners, own)
        if (value !== null) this.set(lane, number, Math.round(value), own, heard)
      }
    }
  }
}

/** What a lane is heard by at a time of its own: words of its sound may move from bar to bar, or hit to hit. */
export const soundAt = ({ sound, drawn }: Pick<Lane, 'sound' | 'drawn'>, own: number) =>
  soundFrom(drawn.sounds, own) ?? sound

/** Schedule the notes that begin in the pattern's own beats [from, to), but for those that are silent. */
export function strikeView(
  view: View, from: number, to: number, heard: Heard, silent?: (lane: string, own: number) => boolean,
): void {
  const { owner, beatOf, timeOf, scale, seconds } = heard
  for (const lane of view.lanes) {
    const { id, kind, channel, drawn } = lane
    for (const [start, length, pitch, velocity, tune] of drawn.notes) {
      if (start < from - HAIR || start >= to - HAIR || silent?.(id, start)) continue
      const beat = beatOf(start)
      strike({
        ...soundAt(lane, start), owner, pitched: kind === 'pitched', lane: id, pitch, tune, channel, velocity, beat,
        length: length * scale, time: timeOf(beat),
        seconds: length * seconds, level: levelOf(owner, id),
      })
    }
  }
}

/** All drums that a view has notes of: a roll or an octave may reach others than a lane's own. */
export const drumsIn = (view: View) => view.lanes.filter((lane) => lane.kind === 'drum').flatMap((lane) =>
  [
    { ...lane.sound, pitch: lane.note },
    ...lane.drawn.notes.map(([start, , pitch]) => ({ ...soundAt(lane, start), pitch })),
  ])
