/** What a hand makes of notes while it drags. */
import { expect, test } from 'vitest'
import type { ClipView } from '@/api/client'
import { moved } from './moved'
import { barAndBeat } from './told'

const view = {
  lanes: [{ kind: 'drum' }, { kind: 'pitched' }], beats: 8, scale: { root: 2, notes: [0, 2, 3, 5, 7, 9, 10] },
  notes: [[0, 1, 36, 100, 0], [1, 1, 62, 100, 1], [6, 1, 65, 100, 1]],
  sections: [{ start: 0, bar: 0, bar_beats: 4, meter: [4, 4] }],
} as unknown as ClipView

test('copies lie where the notes were, and the held ones move on', () => {
  const copied = moved(view, [2], { later: -2 }, true).notes
  expect(copied).toHaveLength(4)
  expect([copied[2]?.[0], copied[3]?.[0]]).toEqual([4, 6])
  expect(view.notes).toHaveLength(3)
})

test('a place is told as bar and beat', () => {
  const seven = { sections: [{ start: 0, end: 7, bar: 1, bar_beats: 3.5, meter: [7, 8] }] } as unknown as ClipView
  expect(barAndBeat(seven, 0)).toEqual({ bar: 1, beat: 1 })
  expect(barAndBeat(seven, 3.5 + 1)).toEqual({ bar: 2, beat: 3 })
})
