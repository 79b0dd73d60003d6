/** An order is walked through block by block, and round between its brackets. */
import { expect, test } from 'vitest'
import type { OrderView, ShownBlock } from '@/api/client'
import { beatAfter, followed, nextOn, placeAt, roundOf } from './programme'

const block = (at: number, beats: number, start: number, speed: string) => ({ at, beats, start, speed }) as ShownBlock
const view = {
  blocks: [block(0, 8, 0, '1'), block(8, 4, 16, '1/2'), block(12, 6, 0, '2/3')], beats: 18, between: null,
} as unknown as OrderView

test('a beat of the order is a beat of a pattern, at the speed of its block', () => {
  expect(placeAt(view, 0)).toEqual({ block: 0, at: 0, own: 0, left: 8 })
  expect(placeAt(view, 9)).toEqual({ block: 1, at: 9, own: 16.5, left: 3 })
  expect(placeAt(view, 15)).toEqual({ block: 2, at: 15, own: 2, left: 3 })
  expect(placeAt(view, 8 - 1e-12)?.block).toBe(1)
  expect(placeAt(view, 18)).toBeNull()
})

test('brackets are gone round once the order has come into them, and left alone after them', () => {
  const held = { ...view, between: [1, 1] } as OrderView
  expect(roundOf(view)).toBeNull()
  expect(roundOf(held)).toEqual([8, 12])
  expect([0, 11, 12, 17, 100].map((beats) => beatAfter(held, 0, beats))).toEqual([
    0, 11, expect.closeTo(8, 6), expect.closeTo(9, 6), expect.closeTo(8, 6),
  ])
  expect(beatAfter(held, 12, 5)).toBe(17)
  expect(beatAfter(view, 2, 30)).toBe(32)
})

test('the next place on a grid is the one just reached, or one to come', () => {
  expect([0, 0.1, 0.25, 3.9999999].map((beat) => nextOn(beat, 0.25))).toEqual([0, 0.25, 0.25, 4])
})

test('a block is followed through what becomes of the order around it', () => {
  const order = (patterns: string) =>
    ({ blocks: [...patterns].map((pattern) => ({ pattern, start: 0, speed: '1', edits: [] })) }) as unknown as OrderView
  const cases: [was: string, is: string, block: number, then: number][] = [
    ['ABC', 'ABC', 1, 1], ['ABC', 'XABC', 1, 2], ['ABC', 'ABXC', 1, 1], ['ABC', 'BC', 1, 0], ['ABC', 'AB', 1, 1],
    ['AAA', 'XAAA', 1, 2], ['AAA', 'AAXA', 1, 1],
    ['ABC', 'BAC', 1, 0], ['ABCA', 'CABA', 0, 1], ['ABC', 'AC', 1, 1], ['AB', 'XY', 1, 1],
  ]
  for (const [was, is, block, then] of cases) {
    expect(followed(order(was), order(is), block), `${was} → ${is}`).toBe(then)
  }
})
