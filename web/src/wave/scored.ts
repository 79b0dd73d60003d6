/**
 * What leaves, as it is rendered: which note begins at which sample frame. Times are those of a MIDI file, rounded to
 * its ticks and its whole microseconds in a beat, so that sound and notes lie on each other.
 */
import type { ClipView } from '@/api/client'
import type { Sounded } from '@/sound/sounds'
import { secondsTo } from '@/sound/pace'
import { soundFrom } from '@/sound/soundFrom'

export const RATES = [44_100, 48_000] as const
export type Rate = (typeof RATES)[number]
/** Ticks in a quarter note. */
const TICKS = 960
const HAIR = 1e-9

/** A note on the lane in a `row`, which begins at a sample frame. */
export interface ScoredNote {
  row: number
  frame: number
  note: Omit<Sounded, 'time'>
}
/** A controller that is set at a sample frame: by the lane in a row for itself alone, or for all on its channel. */
export interface ScoredTurn {
  row: number
  alone: boolean
  frame: number
  channel: number
  number: number | string
  value: number
}
export interface Scored {
  rate: Rate
  /** How long it lasts, in sample frames. */
  frames: number
  /** The names of its lanes. */
  lanes: { id: string; name: string; channel: number }[]
  /** Both in the order of time. */
  notes: ScoredNote[]
  turns: ScoredTurn[]
}
/** How much of a clip: beats [from, to). */
export type Stretch = readonly [number, number]

const ticked = (beat: number) => Math.floor(beat * TICKS + 0.5) / TICKS
const filed = (tempo: number) => 6e7 / Math.round(6e7 / tempo)

/** `level`: how loud a lane is heard, in percent. */
export function scored(
  view: ClipView, rate: Rate, level: (lane: string) => number, [from, to]: Stretch = [0, view.beats],
): Scored {
  const pace = {
    tempo: filed(view.tempo),
    marks: view.marks.map(({ time, tempo }) => ({ time: ticked(time), tempo: tempo == null ? tempo : filed(tempo) })),
  } as Pick<ClipView, 'tempo' | 'marks'>
  const begins = secondsTo(pace, ticked(from))
  const secondsOf = (beat: number) => secondsTo(pace, beat) - begins
  const frameOf = (beat: number) => Math.round(secondsOf(beat) * rate)
  const within = (beat: number) => beat >= from - HAIR && beat < to - HAIR
  const notes = view.notes.flatMap(([start, length, pitch, velocity, row, tune]): ScoredNote[] => {
    const lane = view.lanes[row]
    if (!lane || !within(start)) return []
    const at = ticked(start)
    return [{
      row, frame: frameOf(at),
      note: {
        ...(soundFrom(lane.sounds, start) ?? lane.sound), owner: 0, lane: lane.id, pitched: lane.kind === 'pitched',
        pitch, tune, velocity, channel: lane.channel, level: level(lane.id),
        seconds: secondsOf(at + length) - secondsOf(at),
      },
    }]
  })
  const turns = view.changes.flatMap(([time, number, value, row]): ScoredTurn[] => {
    const lane = view.lanes[row]
    if (!lane || time >= to - HAIR) return []
    // What stands when it begins was set before.
    const frame = time < from ? 0 : frameOf(ticked(time))
    return [{ row, alone: lane.kind !== 'control', frame, channel: lane.channel, number, value }]
  })
  return {
    rate, frames: Math.max(1, frameOf(ticked(to))),
    lanes: view.lanes.map(({ id, name, channel }) => ({ id, name, channel })),
    notes: notes.sort((a, b) => a.frame - b.frame), turns: turns.sort((a, b) => a.frame - b.frame),
  }
}

/** The rows that notes are on, each once, in their order. */
export const rowsOf = (notes: readonly ScoredNote[]): number[] =>
  [...new Set(notes.map(({ row }) => row))].sort((a, b) => a - b)

/** What happens before a frame where it goes round and round, `length` frames each time. */
export function* rounds<T extends { frame: number }>(row: readonly T[], length: number, until: number): Generator<T> {
  for (let round = 0; round * length < until; round += 1) {
    for (const each of row) {
      const frame = each.frame + round * length
      if (frame >= until) return
      yield round ? { ...each, frame } : each
    }
  }
}
