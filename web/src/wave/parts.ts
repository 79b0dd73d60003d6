/**
 * A score in parts, each rendered by itself: the notes that begin within it, with all that they ring on. What they ring
 * over into the next is added there, so that parts make no seam, however long it is.
 */
import { ringsAfter } from '@/melody/poly'
import type { Drums } from '@/drum/drums'
import { ringsFor } from '@/drum/kit'
import { rounds, type Scored, type ScoredNote } from './scored'

/** So long a part is, in seconds, and so many notes begin in it, at the most. */
const LONGEST_PART = 12
const MOST_NOTES = 8000
/** The controller of the sustain pedal. */
export const PEDAL = 64
/** A pedal that is never let go holds no longer than this, in seconds. */
const LONGEST_HELD = 600

export interface Part {
  /** Frames [from, to): its notes begin there. */
  from: number
  to: number
  /** The frame by which all of them are silent. */
  end: number
  notes: readonly ScoredNote[]
}

/** The frame at which a note is silent, at the latest. wraps: it goes round and round. */
export function silentAt({ row, frame, note }: ScoredNote, scored: Scored, drums: Drums, wraps: boolean): number {
  const { rate, frames } = scored
  if (!note.pitched) return frame + Math.ceil(ringsFor(note, drums) * rate)
  const end = frame + Math.ceil(Math.max(note.seconds, 0.01) * rate)
  return heldUntil(end, row, scored, wraps ? Infinity : frames) + Math.ceil(ringsAfter({ ...note, time: 0 }) * rate) + 1
}

/** Until when the pedal of its lane or channel holds a note that ends at a frame: `last`, at the latest. */
function heldUntil(end: number, row: number, { turns, lanes, rate, frames }: Scored, last: number): number {
  const own = turns.filter((turn) => turn.number === PEDAL && (
    turn.alone ? turn.row === row : turn.channel === lanes[row]?.channel))
  if (!own.length) return end
  const latest = Math.max(end, Math.min(last, end + LONGEST_HELD * rate))
  for (const turn of rounds(own, frames, last === Infinity ? latest : Math.min(latest, frames))) {
    if (turn.frame >= end && turn.value < 64) return turn.frame
  }
  return latest
}

/** `longest`: seconds of a part. */
export function inParts(scored: Scored, drums: Drums, wraps: boolean, longest = LONGEST_PART): Part[] {
  const { rate, frames, notes } = scored
  const parts: Part[] = []
  let from = 0
  for (let next = 0; from < frames; ) {
    const first = next
    let to = Math.min(frames, from + Math.round(longest * rate))
    while (next < notes.length && (notes[next]?.frame ?? 0) < to && next - first < MOST_NOTES) next += 1
    const after = notes[next]
    if (after && after.frame < to) {
      // Chords stay whole: those that begin together are in one part.
      while (notes[next]?.frame === after.frame) next += 1
      to = Math.min(frames, after.frame + 1)
    }
    const within = notes.slice(first, next)
    const end = within.reduce((late, note) => Math.max(late, silentAt(note, scored, drums, wraps)), to)
    parts.push({ from, to, end, notes: within })
    from = to
  }
  return parts
}
