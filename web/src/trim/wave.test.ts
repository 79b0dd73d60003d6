import { expect, test } from 'vitest'
import { snapped, waveOf } from './wave'

const RATE = 44_100
/** Strikes that ring down, over a little noise. */
function struck(...at: number[]): Float32Array {
  return Float32Array.from({ length: RATE }, (_, i) => {
    const since = at.map((ms) => i / RATE - ms / 1000).filter((each) => each >= 0)
    return 0.001 * Math.sin(i) + since.reduce(
      (sum, each) => sum + 0.6 * Math.exp(-each * 30) * Math.sin(each * 6283 + 1), 0,
    )
  })
}

test('attacks are found where it is struck, and a place snaps to the nearest within reach', () => {
  const wave = waveOf(struck(50, 400), RATE)
  expect(wave.length).toBeCloseTo(1000, 3)
  expect(wave.attacks.length).toBe(2)
  expect(wave.attacks[0]).toBeCloseTo(50, 0)
  expect(wave.attacks[1]).toBeCloseTo(400, 0)
  expect(Math.max(...wave.peaks)).toBe(1)
  expect(snapped(44, wave, 8)).toBe(wave.attacks[0])
  expect(snapped(30, wave, 8)).toBe(30)
  expect(snapped(5, waveOf(new Float32Array(RATE), RATE), 8)).toBe(5)
})
