import { beforeEach, expect, test } from 'vitest'
import type { ClipView } from '@/api/client'
import { beside, isReplaced, stretchesBeside } from './beside'

const view = { beats: 6, lanes: [{ id: 'drip' }] } as unknown as ClipView
beforeEach(() => (beside.value = { id: 1, view, instead: true, from: null }))

test('a clip begins with the next bar and goes round from there', () => {
  expect(stretchesBeside(3, 4, 4)).toEqual([])
  expect(stretchesBeside(4, 9, 4)).toEqual([{ view, place: 0, beats: 5, at: 4 }])
  expect(stretchesBeside(9, 12, 4).map(({ place, beats, at }) => [place, beats, at])).toEqual([[5, 1, 9], [0, 2, 10]])
})

test('the lanes that it stands for are silent from there on', () => {
  expect(isReplaced('drip', 5)).toBe(false)
  stretchesBeside(7.5, 8, 4)
  expect([isReplaced('drip', 7.9), isReplaced('drip', 8), isReplaced('fern', 8)]).toEqual([false, true, false])
  beside.value = { id: 1, view, instead: false, from: 0 }
  expect(isReplaced('drip', 8)).toBe(false)
})
