// @vitest-environment happy-dom
/** Rows of a clip heard once, as fast as the clip goes. */
import { expect, test, vi } from 'vitest'
import { beginAnew, struck, until } from '@testing/output'
import type { ClipView } from '@/api/client'
import { useHearParts } from './useHearParts'

vi.mock('@/sound/output', () => import('@testing/output'))

const lane = (id: string) => ({ id, kind: 'drum', channel: 10, sound: { by: 'tin', set: {} }, drums: {}, sounds: [] })
/** Three bars of two beats, the last of them at half the tempo; a second row that begins later. */
const view = {
  beats: 6, bar_beats: 2, tempo: 60, marks: [{ time: 4, name: '', tempo: 30 }], changes: [], tunings: [],
  lanes: [lane('pump'), lane('mist')],
  notes: [[0, 0.5, 36, 100, 0], [3, 0.5, 54, 90, 1], [4, 0.5, 36, 80, 0], [5, 0.5, 54, 70, 1]],
} as unknown as ClipView

test('begins with the bar of the first note, follows the tempo, and ends', async () => {
  beginAnew()
  const { rows, hear } = useHearParts()
  await hear(view, [0, 1])
  await until(7.9)
  expect(struck.map(({ time, lane: of }) => [Number(time.toFixed(9)), of]))
    .toEqual([[0, 'pump'], [3, 'mist'], [4, 'pump'], [6, 'mist']])
  expect(struck.at(-1), 'half as fast').toMatchObject({ seconds: 1 })
  expect(rows.value.size).toBe(2)
  await until(8.1)
  expect(rows.value.size, 'it is over').toBe(0)
  beginAnew()
  await useHearParts().hear(view, [1])
  await until(2)
  expect(struck.map(({ time }) => time), 'from its bar on').toEqual([1])
})
