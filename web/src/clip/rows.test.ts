/** Where the notes of a clip stand, and which of them is under the hand. */
import { expect, test } from 'vitest'
import type { ClipView } from '@/api/client'
import {
  beatAt, firstFrom, heightOf, longestOf, noteAt, pitchAt, rowsOf, standing, xOf, yOf, type Frame, type Note, type Row,
} from './rows'

const notes: Note[] = [
  [0, 4, 36, 100, 0, 0], [1, 0.5, 60, 127, 1, 0], [1, 0.25, 67, 30, 1, 0], [2, 1, 72, 90, 1, 0], [9, 0.5, 36, 64, 0, 0],
]
const view = {
  lanes: [{ kind: 'drum' }, { kind: 'pitched' }, { kind: 'control' }, { kind: 'control' }], notes, beats: 16,
  changes: [[0, 74, 5, 2], [1, 'bend', -200, 3]], scale: { root: 2, notes: [0, 2, 3, 5, 7, 9, 10] },
} as unknown as ClipView
const frame: Frame = { width: 800, height: 400, start: 0, span: 8 }
const at = (place: number): Row => rowsOf(view, 400)[place]!

test('rows follow one another without overlap and take no more room than there is, or what they need', () => {
  for (const room of [100, 300, 900]) {
    const rows = rowsOf(view, room)
    rows.slice(1).forEach((row, i) => expect(row.top).toBeGreaterThanOrEqual(rows[i]!.top + rows[i]!.height))
    expect(heightOf(rows)).toBeLessThanOrEqual(Math.max(room, 32 + 76 + 36 + 36 + 16))
  }
  expect(rowsOf({ ...view, lanes: [] }, 300)).toEqual([])
})

test('a pitched row has room around what it plays, a controller its own range', () => {
  const { low, high } = at(1).rungs!
  expect(low).toBeLessThanOrEqual(60 - 2)
  expect(high).toBeGreaterThanOrEqual(72 + 2)
  expect(high - low).toBeGreaterThanOrEqual(16)
  expect([at(2).rungs?.low, at(2).rungs?.high]).toEqual([0, 127])
  expect([at(3).rungs?.low, at(3).rungs?.high]).toEqual([-8192, 8191])
  expect(at(0).rungs).toBeNull()
})

test('places and pitches are the way back from where they stand', () => {
  for (const beat of [0, 1.25, 7.9]) expect(beatAt(xOf(beat, frame), frame)).toBeCloseTo(beat, 9)
  for (const pitch of [58, 60, 71, 74]) expect(pitchAt(yOf(pitch, at(1)), at(1))).toBeCloseTo(pitch, 9)
  expect(yOf(72, at(1))).toBeLessThan(yOf(60, at(1)))
  const soft = standing([0, 0, 60, 1, 1, 0], at(1), frame)
  expect([soft.tall, soft.long]).toEqual([3, 4]) // never too small to be taken
})

test('a note is found by its tip, its end and what lies between, the last begun of several', () => {
  const rows = rowsOf(view, 400)
  const found = (place: number, dx: number, up: number) => {
    const { x, base, tall } = standing(notes[place]!, rows[notes[place]![4]]!, frame)
    return noteAt(view, rows, frame, { x: x + dx, y: base - up * tall })
  }
  expect(found(0, 1, 1)).toEqual({ place: 0, part: 'tip' })
  expect(found(0, 200, 0.1)).toEqual({ place: 0, part: 'body' })
  expect(found(0, 399, 0.1)).toEqual({ place: 0, part: 'end' })
  expect(found(3, 50, 0)).toEqual({ place: 3, part: 'body' })
  expect(found(1, 30, -3)).toBeNull()
  const later: Frame = { ...frame, start: 3 } // a long note that began before is still there
  expect(noteAt(view, rows, later, { x: 50, y: yOf(36, rows[0]!) - 2 })?.place).toBe(0)
})

test('the first note from a beat on is found in the order of time', () => {
  expect([0, 0.5, 1, 2.5, 99].map((beat) => firstFrom(notes, beat))).toEqual([0, 1, 1, 4, 5])
  expect(longestOf(view)).toBe(4)
  expect(firstFrom([], 3)).toBe(0)
})
