import { expect, test } from 'vitest'
import { lastBars, wholeBars } from './lastBars'

test('the last bars are found in the fewest passes, the one under way among them', () => {
  // Three passes of two bars, and one bar of the next.
  const lengths = [8, 8, 8, 4]
  expect(wholeBars(lengths, 4)).toBe(7)
  expect(lastBars(lengths, 4, 1)).toEqual({ first: 3, firstBar: 1 })
  expect(lastBars(lengths, 4, 2)).toEqual({ first: 2, firstBar: 2 })
  expect(lastBars(lengths, 4, 3)).toEqual({ first: 2, firstBar: 1 })
  expect(lastBars(lengths, 4, 7)).toEqual({ first: 0, firstBar: 1 })
})

test('a pass that was stopped within a bar counts by its whole bars', () => {
  expect(wholeBars([7, 9.5], 3.5)).toBe(4)
  expect(lastBars([7, 9.5], 3.5, 2)).toEqual({ first: 1, firstBar: 1 })
  expect(lastBars([4, 0.5], 4, 1)).toEqual({ first: 0, firstBar: 1 })
  expect(wholeBars([], 4)).toBe(0)
})
