/** A fresh view shares with the one before all that is the same, so that it need not be drawn anew. */
import { expect, test } from 'vitest'
import { sameAsBefore } from './sameAsBefore'

const view = (more: object = {}) => ({
  tempo: 120,
  lanes: [{ id: 'a', drawn: { stamp: 's1', cells: [1, 2] } }, { id: 'b', drawn: { stamp: 's2', cells: [3] } }], ...more,
})

test('what is the same in everything is the very same', () => {
  const before = view()
  expect(sameAsBefore(before, view())).toBe(before)
})

test('what differs is fresh, and all around it that does not stays', () => {
  const before = view()
  const now = sameAsBefore(before, view({ tempo: 121 }))
  expect(now).not.toBe(before)
  expect(now.tempo).toBe(121)
  expect(now.lanes).toBe(before.lanes)
  const other = view()
  other.lanes[1]!.drawn = { stamp: 's3', cells: [4] }
  const mixed = sameAsBefore(before, other)
  expect(mixed.lanes[0]).toBe(before.lanes[0])
  expect(mixed.lanes[1]).not.toBe(before.lanes[1])
  expect(mixed.lanes[1]?.drawn.cells).toEqual([4])
})

test('a stamp says that a drawing is the same without a look at it', () => {
  const before = { stamp: 'x', cells: [1] }
  expect(sameAsBefore(before, { stamp: 'x', cells: [9] })).toBe(before)
  expect(sameAsBefore(before, { stamp: 'y', cells: [1] })).not.toBe(before)
})

test('what has become of another kind, longer or null is fresh', () => {
  expect(sameAsBefore([1, 2], [1, 2, 3])).toEqual([1, 2, 3])
  expect(sameAsBefore({ a: null }, { a: { b: 1 } })).toEqual({ a: { b: 1 } })
  expect(sameAsBefore([1], { 0: 1 } as unknown)).toEqual({ 0: 1 })
  expect(sameAsBefore(null, { a: 1 })).toEqual({ a: 1 })
})
