import { describe, expect, it } from 'vitest'
import { nearest, onward, places, stepsApart, type Mark } from './strip'

const mark = (at: number, hits: number[] = []): Mark =>
  ({ hits, value: hits.length, at, words: '', group: 0, amount: null, degrees: null })

describe('a strip', () => {
  it('lays marks of one value side by side, never before those of a lower one', () => {
    for (const marks of [
      [mark(0), mark(0), mark(0.5), mark(1), mark(1)], [mark(0), mark(0)], [mark(0)], [mark(0), mark(0.01), mark(1)],
    ]) {
      const found = places(marks)
      expect(found).toHaveLength(marks.length)
      expect(found.every((at, i) => at >= 0 && at <= 1 && at >= (found[i - 1] ?? 0))).toBe(true)
    }
    expect(places([mark(0), mark(0), mark(0.5)])[1]).toBeLessThan(0.5)
    expect(places([])).toEqual([])
  })
  it('finds the nearest mark between its brackets, and walks no further than they let', () => {
    const at = [0, 0.25, 0.5, 1]
    expect(nearest(at, 0.3, [0, 1])).toBe(1)
    expect(nearest(at, 0.3, [0.4, 1])).toBe(2)
    expect(nearest(at, 0.3, [0.6, 0.9])).toBe(-1)
    expect(onward(at, 1, 1, [0, 1])).toBe(2)
    expect(onward(at, 3, 5, [0, 1])).toBe(3)
    expect(onward(at, 2, -9, [0.2, 1])).toBe(1)
    expect(onward(at, 0, 1, [0.6, 0.9])).toBe(-1)
  })
  it('tells how far rhythms are apart', () => {
    expect(stepsApart([0, 4, 8], [0, 5, 8, 9])).toBe(3)
  })
})
