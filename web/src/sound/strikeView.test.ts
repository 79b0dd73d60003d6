/** What of a drawn pattern is struck, when, and what controllers are set to. */
import { beforeEach, expect, test, vi } from 'vitest'
import type { ClipView, View } from '@/api/client'
import type { Turned } from './output'
import { strikeStretch } from './strikes'
import { drumsIn, Standing, strikeView, type Heard } from './strikeView'

const struck: { lane: string; beat: number; time: number; seconds: number; set: object; tune?: number }[] = []
const turned: Turned[] = []
vi.mock('./output', () => ({
  strike: (note: (typeof struck)[number]) => struck.push(note),
  turn: (change: Turned) => turned.push(change),
}))
vi.mock('./levels', () => ({ levelOf: () => 100 }))

const lane = (id: string, drawn: object, more: object = {}) => ({
  id, kind: 'drum', channel: 10, note: 36, number: null, audible: true, sound: { by: 'dry', set: {} },
  drawn: { notes: [], changes: [], tunings: [], lines: [], sounds: [], ...drawn }, ...more,
})
const view = {
  lanes: [
    lane('pump', { notes: [[0, 0.5, 36, 100], [1, 0.5, 36, 90], [2, 0.5, 38, 80]] }),
    lane('glow', {
      changes: [[0, 74, 10], [1, 74, 10], [1.5, 74, 90], [3, 74, 20]],
      lines: [{ number: 74, corners: [[0, 10], [1.5, 10], [1.5, 90], [4, 90]] }],
    }, { kind: 'control', channel: 3 }),
  ],
} as unknown as View
/** At half speed, from beat 8 and second 100 on. */
const heard: Heard = {
  owner: 1, beatOf: (own) => 8 + 2 * own, timeOf: (beat) => 100 + (beat - 8) / 2, scale: 2, seconds: 1,
}
beforeEach(() => {
  struck.length = turned.length = 0
})

test('notes of a stretch are struck once, in time, as long as they last', () => {
  strikeView(view, 0, 1, heard)
  strikeView(view, 1, 2 + 1e-12, heard)
  expect(struck.map(({ beat, time, seconds }) => [beat, time, seconds])).toEqual([[8, 100, 0.5], [10, 101, 0.5]])
  strikeView(view, 2 - 1e-12, 4, heard) // a hair before belongs to the stretch that begins there
  expect(struck).toHaveLength(3)
})

test('a sound whose words move is struck as it is at that time', () => {
  const bright = (value: number) => ({ by: 'bass', set: { bright: value } })
  const moving = {
    lanes: [
      lane('pump', {
        notes: [[0, 1, 36, 100], [1, 1, 36, 90], [3, 1, 38, 80]], sounds: [[1, bright(20)], [2, bright(80)]],
      }),
    ],
  } as unknown as View
  strikeView(moving, 0, 4, heard)
  expect(struck.map(({ set }) => set)).toEqual([{}, { bright: 20 }, { bright: 80 }])
  expect(drumsIn(moving).map(({ set }) => set)).toEqual([{}, {}, { bright: 20 }, { bright: 80 }])
  // So is a clip that keeps what was drawn for each hit.
  struck.length = 0
  const [{ sound, drawn }] = moving.lanes as [View['lanes'][number]]
  const kept = { tempo: 60, changes: [], tunings: [], lanes: [{ id: 'pump', kind: 'drum', sound, sounds: drawn.sounds }] }
  const notes = drawn.notes.map(([start, length, pitch, velocity]) => [start, length, pitch, velocity, 0, 0])
  strikeStretch({ ...kept, notes } as unknown as ClipView, 0, 4, 0, 0)
  expect(struck.map(({ set }) => set)).toEqual([{}, { bright: 20 }, { bright: 80 }])
})

test('what is silent is not struck', () => {
  strikeView(view, 0, 4, heard, (id, own) => id === 'pump' && own >= 1)
  expect(struck.map(({ beat }) => beat)).toEqual([8])
})

test('a controller is set where it changes, and never to what it stands at', () => {
  const standing = new Standing()
  standing.begin(view, 0.5, heard)
  standing.turnIn(view, 0.5, 4, heard)
  expect(turned.map(({ value, beat }) => [value, beat])).toEqual([[10, 9], [90, 11], [20, 14]])
  standing.clear()
  standing.begin(view, 2, heard)
  expect(turned.at(-1)).toMatchObject({ lane: 'glow', value: 90, beat: 12 })
})

test('what a lane of notes sets is its own, though others share its channel', () => {
  const set = (value: number) =>
    ({ changes: [[0, 74, value]], lines: [{ number: 74, corners: [[0, value], [4, value]] }] })
  const both = { lanes: [lane('pump', set(30)), lane('mist', set(30)), lane('mute', set(99), { audible: false })] }
  const standing = new Standing()
  standing.begin(both as unknown as View, 0, heard)
  standing.turnIn({ lanes: both.lanes.slice(0, 2) } as unknown as View, 0, 4, heard)
  expect(
    turned.map(({ lane: of, value, alone }) => [of, value, alone]),
  ).toEqual([['pump', 30, true], ['mist', 30, true]])
})

test('a tuned drum is struck tuned; what tunes it by a port is set once, where it is another, for ports alone', () => {
  const bend = (at: number, value: number) => [[at, 6, 12], [at, 'bend', value]]
  const tuned = {
    lanes: [lane('drip', {
      notes: [[0, 0.5, 42, 100, 0], [1, 0.5, 42, 90, 3], [2, 0.5, 42, 90, 3]],
      tunings: [...bend(0, 0), ...bend(1, 2048), ...bend(2, 2048)],
    })],
  } as unknown as View
  strikeView(tuned, 0, 4, heard)
  expect(struck.map(({ tune }) => tune)).toEqual([0, 3, 3])
  const standing = new Standing()
  standing.begin(tuned, 1, heard)
  standing.turnIn(tuned, 1, 4, heard)
  expect(turned.map(({ number, value, outside }) => [number, value, outside])).toEqual(
    [[6, 12, true], ['bend', 2048, true]],
  )
})

test('all drums that a view reaches are known beforehand', () => {
  expect(drumsIn(view).map(({ pitch }) => pitch)).toEqual([36, 36, 36, 38])
})
