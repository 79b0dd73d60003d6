import { expect, test } from 'vitest'
import { shareRoom } from './shareRoom'

const size = (share: number, least: number, most: number) => ({ share, least, most })

test('by shares, within bounds, and all of the room where that can be', () => {
  expect(shareRoom([size(1, 0, 999), size(3, 0, 999)], 100)).toEqual([25, 75])
  expect(shareRoom([size(1, 40, 50), size(3, 0, 999)], 100)).toEqual([40, 60])
  expect(shareRoom([size(1, 0, 10), size(3, 0, 20), size(1, 0, 999)], 100)).toEqual([10, 20, 70])
  expect(shareRoom([size(1, 30, 50), size(1, 30, 50)], 10)).toEqual([30, 30])
  expect(shareRoom([size(1, 30, 50), size(1, 30, 50)], 999)).toEqual([50, 50])
  expect(shareRoom([], 100)).toEqual([])
})
