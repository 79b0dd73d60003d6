/** Another program's clock, with jitter. */
import { expect, test } from 'vitest'
import { CLOCKS_A_BEAT } from '@/ports/messages'
import { ClockIn } from './clockIn'

/** A clock that has come for so many beats; each message later or sooner by turns of a fixed list. */
function come(clock: ClockIn, tempo: number, beats: number, jitter: number, from = 1000): number {
  const apart = 60_000 / tempo / CLOCKS_A_BEAT
  for (let i = 0; i < beats * CLOCKS_A_BEAT; i += 1) clock.tick(from + i * apart + jitter * Math.sin(i * 12.9898))
  return from + beats * CLOCKS_A_BEAT * apart
}

test.each([40, 97.5, 124, 180, 300])('the tempo is found through three milliseconds of jitter: %d', (tempo) => {
  const clock = new ClockIn()
  expect(clock.tempo()).toBeNull()
  come(clock, tempo, 8, 3)
  expect(Math.abs((clock.tempo() ?? 0) / tempo - 1)).toBeLessThan(0.005)
})

test('a new tempo is followed within four beats, and begin forgets the old one', () => {
  const clock = new ClockIn()
  const at = come(clock, 120, 8, 1)
  come(clock, 90, 4, 1, at)
  expect(clock.tempo()).toBeCloseTo(90, 0)
  clock.begin()
  expect([clock.tempo(), clock.count]).toEqual([null, 0])
})

test('who is behind is sped up, who is ahead slowed down, by three per cent at most', () => {
  const clock = new ClockIn()
  come(clock, 120, 8, 0)
  const beats = (clock.count - 1) / CLOCKS_A_BEAT
  expect(clock.followed(beats)).toBeCloseTo(120, 1)
  expect(clock.followed(beats - 0.1)).toBeGreaterThan(120.5)
  expect(clock.followed(beats + 0.1)).toBeLessThan(119.5)
  expect(clock.followed(beats - 50)).toBeCloseTo(123.6, 1)
  expect(clock.followed(beats + 50)).toBeCloseTo(116.4, 1)
})
