/** What a hand makes of notes while it drags: the same as the server will, for the picture and the ear. */
import type { ClipView } from '@/api/client'

/** How far the chosen notes are taken; in beats, degrees, semitones, velocity. */
export interface Move {
  later?: number
  degrees?: number
  semitones?: number
  longer?: number
  louder?: number
}
const SHORTEST = 1 / 960

/** The clip with its chosen notes moved, or copies of them; in their places, so that what was held is still held. */
export function moved(view: ClipView, chosen: readonly number[], move: Move, copies = false): ClipView {
  const held = new Set(chosen)
  const taken = chosen.map((place) => view.notes[place]).filter((note) => note !== undefined)
  const first = Math.min(...taken.map(([start]) => start))
  const last = Math.max(...taken.map(([start]) => start))
  const later = Math.max(-first, Math.min(move.later ?? 0, view.beats - SHORTEST - last))
  const notes = view.notes.map((note, place): ClipView['notes'][number] => {
    if (!held.has(place)) return note
    const [start, length, pitch, velocity, lane, tune] = note
    const pitched = view.lanes[lane]?.kind === 'pitched'
    return [
      start + later, Math.max(SHORTEST, length + (move.longer ?? 0)),
      pitched ? byDegrees(pitch, move.degrees ?? 0, view) + (move.semitones ?? 0) : pitch,
      Math.min(127, Math.max(1, velocity + (move.louder ?? 0))), lane, tune,
    ]
  })
  return { ...view, notes: copies ? [...notes, ...taken] : notes }
}

/** A pitch so many of the key's notes higher or lower. */
function byDegrees(pitch: number, degrees: number, { scale }: ClipView): number {
  let at = pitch
  for (let left = Math.abs(degrees); left > 0; ) {
    at += Math.sign(degrees)
    if (scale.notes.includes((at - scale.root + 1200) % 12)) left -= 1
  }
  return at
}
