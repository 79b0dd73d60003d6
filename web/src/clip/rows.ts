/** How the room of a clip is divided among its lanes, and where things stand in it. */
import type { ClipView } from '@/api/client'
import { shareRoom } from '@/app/shareRoom'
import type { Rungs } from '@/melody/rungs'

export interface Row {
  /** The lane's place in the clip. */
  lane: number
  top: number
  height: number
  /** The pitches of a pitched lane, or the values of a controller; null for drums. */
  rungs: Rungs | null
  line: boolean
}
export interface Frame {
  width: number
  height: number
  /** The stretch of beats that is shown. */
  start: number
  span: number
}
export type Note = ClipView['notes'][number]

const SIZES = {
  drum: { share: 1, least: 32, most: 48 }, pitched: { share: 4, least: 76, most: 420 },
  control: { share: 1.2, least: 36, most: 64 },
}
const GAP = 4
const FLOOR = 7
const CEILING = 4
const ROOM_FOR_WEDGE = 20

/** The values of pitch bend, or of any other controller. */
export const boundsOf = (bend: boolean): [number, number] => (bend ? [-8192, 8191] : [0, 127])

/** The rows of a clip, from the top down, in as much room as there is, or more where that is too little. */
export function rowsOf(view: ClipView, room: number): Row[] {
  const heights = shareRoom(view.lanes.map(({ kind }) => SIZES[kind]), room - GAP * view.lanes.length)
  const range = view.lanes.map((): [number, number] => [127, 0])
  for (const [, , pitch, , lane] of view.notes) {
    const known = range[lane]
    if (known) range[lane] = [Math.min(known[0], pitch), Math.max(known[1], pitch)]
  }
  let top = 0
  return view.lanes.map(({ kind }, lane) => {
    const height = heights[lane] ?? 0
    const row: Row = { lane, top, height, rungs: null, line: kind === 'control' }
    top += height + GAP
    let [low, high] = range[lane] ?? [60, 72]
    if (kind === 'control') {
      const bend = view.changes.some(([, number, , of]) => of === lane && number === 'bend')
      const [least, most] = boundsOf(bend)
      row.rungs = { low: least, high: most, root: 0, notes: [], chords: [] }
    } else if (kind === 'pitched') {
      if (low > high) [low, high] = [60, 72]
      // An octave above and below what is there can be drawn into.
      while (high - low < 16) [low, high] = [low - 1, high + 1]
      row.rungs = {
        low: Math.max(0, low - 2), high: Math.min(127, high + 2), root: view.scale.root, notes: view.scale.notes,
        chords: [],
      }
    }
    return row
  })
}
export const heightOf = (rows: readonly Row[]): number =>
  rows.reduce((most, { top, height }) => Math.max(most, top + height), 0)

export const xOf = (beat: number, { start, span, width }: Frame): number => ((beat - start) / span) * width
export const beatAt = (x: number, { start, span, width }: Frame): number => start + (x / width) * span
/** The base line of a pitch (or a controller's value) in a row, in pixels from the top. */
export function yOf(pitch: number, row: Row): number {
  const floor = row.top + row.height - FLOOR
  if (!row.rungs) return floor
  const ceiling = row.top + CEILING + (row.line ? 0 : ROOM_FOR_WEDGE)
  return floor - ((pitch - row.rungs.low) / (row.rungs.high - row.rungs.low)) * (floor - ceiling)
}
/** The pitch, or value, at a height in a row. */
export function pitchAt(y: number, row: Row): number {
  if (!row.rungs) return 0
  const [low, high] = [yOf(row.rungs.low, row), yOf(row.rungs.high, row)]
  return row.rungs.low + ((low - y) / (low - high)) * (row.rungs.high - row.rungs.low)
}
/** The height of the loudest wedge of a row. */
export const tallest = (row: Row): number => (row.rungs ? ROOM_FOR_WEDGE : row.height - FLOOR - CEILING)

/** Where a note stands: its left edge, its base, its height and its width, in pixels. */
export function standing([start, length, pitch, velocity]: Note, row: Row, frame: Frame) {
  return {
    x: xOf(start, frame), base: yOf(pitch, row), tall: Math.max(3, (velocity / 127) * tallest(row)),
    long: Math.max(4, (length / frame.span) * frame.width),
  }
}
export type Part = 'tip' | 'end' | 'body'
/** The note at a point, the last begun of several, and which part of it; null where there is none. */
export function noteAt(view: ClipView, rows: readonly Row[], frame: Frame, at: {
  x: number; y: number,
}): { place: number; part: Part } | null {
  let found: { place: number; part: Part } | null = null
  const first = firstFrom(view.notes, frame.start - longestOf(view))
  for (let place = first; place < view.notes.length; place += 1) {
    const note = view.notes[place]
    if (!note || note[0] > frame.start + frame.span) break
    const row = rows[note[4]]
    if (!row || at.y < row.top || at.y > row.top + row.height) continue
    const { x, base, tall, long } = standing(note, row, frame)
    const wide = Math.max(long, 9)
    if (at.x < x - 4 || at.x > x + wide || at.y > base + 5 || at.y < base - tall - 4) continue
    const part =
      Math.abs(at.x - x) < 6 && at.y < base - tall + 7 ? 'tip' : long > 16 && at.x > x + long - 6
        && at.y > base - 9 ? 'end' : 'body'
    found = { place, part }
  }
  return found
}
const longest = new WeakMap<object, number>()
/** The length of a clip's longest note. */
export function longestOf(view: ClipView): number {
  let known = longest.get(view.notes)
  if (known === undefined) {
    known = view.notes.reduce((most, [, length]) => Math.max(most, length), 0)
    longest.set(view.notes, known)
  }
  return known
}
/** The first note that begins at a beat or later; notes are in the order of time. */
export function firstFrom(notes: readonly Note[], beat: number): number {
  let [low, high] = [0, notes.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if ((notes[middle]?.[0] ?? 0) < beat) low = middle + 1
    else high = middle
  }
  return low
}
