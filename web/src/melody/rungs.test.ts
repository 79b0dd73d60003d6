/** The rungs under pitched wedges. */
import { expect, test } from 'vitest'
import type { Lane } from '@/api/client'
import { degreesBetween, rungsOf } from './rungs'

const lane = (pitches: number[], more: object = {}) => ({
  bounds: null, scale: { root: 2, notes: [0, 2, 3, 5, 7, 9, 10] },
  drawn: { hits: pitches.map((pitch) => [0, 100, true, [[0, 1, 90, pitch]]]) }, ...more,
}) as unknown as Lane

test('a row holds all that the lane plays, and at least nine semitones', () => {
  const wide = rungsOf(lane([40, 77, 61]), [])!
  expect([wide.low, wide.high]).toEqual([39, 78])
  const narrow = rungsOf(lane([60]), [])!
  expect(narrow.high - narrow.low).toBeGreaterThanOrEqual(9)
  expect(narrow.low).toBeLessThan(60)
  expect(narrow.high).toBeGreaterThan(60)
  const silent = rungsOf(lane([]), [])!
  expect([silent.low, silent.high]).toEqual([59, 73])
})

test('a controller has its bounds, a drum no rungs', () => {
  expect(rungsOf(lane([], { bounds: [-8192, 8191] }), [])).toMatchObject({ low: -8192, high: 8191, notes: [] })
  expect(rungsOf(lane([], { scale: null }), [])).toBeNull()
})

test('a drag over an octave is as many degrees as the scale has, and never none', () => {
  const rungs = rungsOf(lane([60]), [])!
  expect(degreesBetween(rungs, 50, 62)).toBe(7)
  expect(degreesBetween(rungs, 50, 52)).toBe(1)
  expect(degreesBetween(rungs, 50, 50)).toBe(1)
  expect(degreesBetween({ ...rungs, notes: [0] }, 50, 74)).toBe(2)
})
