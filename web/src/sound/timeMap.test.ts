/** The three times belong together, wherever tempo or place in the recipe turned. */
import { expect, test } from 'vitest'
import { TimeMap } from './timeMap'
import { valueAt } from './valueAt'

test('beats lead to times and back over turns of tempo and place', () => {
  const map = new TimeMap({ time: 10, beat: 0, tempo: 120, shift: 16 })
  expect(map.timeOf(4)).toBeCloseTo(12, 12)
  map.turn(4, { tempo: 60 })
  map.turn(6, { shift: -4 })
  map.turn(8, { tempo: 240, shift: 0 })
  // 4 beats at 120, 4 at 60, then at 240.
  expect(map.timeOf(12)).toBeCloseTo(10 + 2 + 4 + 1, 12)
  for (const [time, beat] of [[10, 0], [11, 2], [12, 4], [13.5, 5.5], [16, 8], [17, 12]] as const) {
    expect(map.beatAt(time)).toBeCloseTo(beat, 12)
  }
  expect(map.now(13).shift).toBe(16)
  expect(map.now(15).shift).toBe(-4)
  expect(map.beatAt(10)).toBeCloseTo(2, 12) // before what is forgotten, the oldest mark leads
  expect(map.now(99).tempo).toBe(240)
})

test('a line through corners: held after a step, between them where it glides', () => {
  const line: [number, number][] = [[1, 10], [2, 20], [2, 50], [4, 40]]
  expect([0, 1, 1.5, 2, 3, 4, 9].map((beat) => valueAt(line, beat))).toEqual([null, 10, 15, 50, 45, 40, 40])
  expect(valueAt([], 1)).toBeNull()
})
