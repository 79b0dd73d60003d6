/** The tempo of a clip changes where its marks say so. */
import { expect, test } from 'vitest'
import { beatAfter, paceAt, secondsTo } from './pace'

const mark = (time: number, tempo: number | null, meter: [number, number] | null) =>
  ({ time, name: '', tempo, meter, key: null })
const view = { tempo: 120, beats: 20, marks: [mark(4, null, null), mark(6, 90, [7, 8]), mark(13, 120, null)] }

test('the tempo holds until the mark that names another', () => {
  expect(paceAt(view, 0)).toEqual({ tempo: 120, until: 6 })
  expect(paceAt(view, 6)).toEqual({ tempo: 90, until: 13 })
  expect([0, 6, 9, 13, 15].map((beat) => secondsTo(view, beat))).toEqual([
    0, 3, 5, expect.closeTo(3 + 14 / 3), expect.closeTo(4 + 14 / 3),
  ])
  expect(paceAt(view, 19)).toEqual({ tempo: 120, until: 20 })
})

test('the beat after so many seconds is the one that they lead to, and none beyond the end', () => {
  for (const beat of [0, 2.5, 6, 9, 13, 15, 20]) {
    expect(beatAfter(view, secondsTo(view, beat))).toBeCloseTo(beat, 9)
  }
  expect(beatAfter(view, 1000)).toBe(20)
  expect(beatAfter(view, -0.3), 'before it has begun').toBeLessThan(0)
})
