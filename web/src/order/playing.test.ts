// @vitest-environment happy-dom
/** Hearing the order, and hands over it: what is struck, when, and what lies on the Trail of it. */
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, test, vi } from 'vitest'
import { nextTick } from 'vue'
import type { Edit, HeardPass, OrderState, View } from '@/api/client'
import { useNotices } from '@/app/notices'
import { beginAnew, struck, until } from '@testing/output'
import { useOrder } from './order'
import { usePlaying } from './playing'

const { passes } = vi.hoisted(() => ({ passes: [] as (HeardPass & { pattern: number })[] }))
vi.mock('@/sound/output', () => import('@testing/output'))
vi.mock('@/sound/levels', () => ({ levelOf: () => 100 }))
vi.mock('@/sound/clockOut', () => ({ sendClocks: () => undefined }))
vi.mock('@/ports/access', () => ({ portsInUse: () => [], onReceived: () => () => undefined }))
vi.mock('@/ports/sender', () => ({ silence: () => undefined }))
vi.mock('@/pattern/trail', () => ({
  useTrail: () =>
    ({ begin: () => undefined, heard: (pattern: number, pass: HeardPass) => passes.push({ pattern, ...pass }) }),
}))
vi.mock('./scores', () => ({
  Scores: class {
    private readonly known = new Map<string, object>()
    of = (pattern: number, revision: number, edits: Edit[]) => {
      const key = JSON.stringify([pattern, revision, edits])
      return this.known.get(key) ?? this.known.set(key, { pattern, source: { revision, edits } }).get(key)
    }
    view = ({ pattern, source }: { pattern: number; source: { edits: Edit[] } }) => viewOf(pattern, source.edits)
    forget = () => undefined
  },
}))

/** A pattern of four beats: a note on each beat, at the pitch of its number, and a quiet one beside it; of 120 bpm. */
const made = new Map<string, View>()
function viewOf(pattern: number, edits: Edit[]): View {
  const key = JSON.stringify([pattern, edits])
  const change = edits.find((edit) => edit.do === 'adapt')
  const lane = (id: string, pitch: number, velocity: number) => ({
    id, name: id, kind: 'drum', channel: 10, note: pitch, number: null, audible: true, sound: { by: 'dry', set: {} },
    drawn: {
      notes: Array.from({ length: 64 }, (_, beat) => [beat, 0.5, pitch, velocity]), changes: [], tunings: [],
      lines: [], sounds: [],
    },
  })
  const moved = 10 * pattern + (change?.semitones ?? 0)
  const found = made.get(key) ?? ({
    tempo: 120, meter: [4, 4], bar_beats: 4, frame_beats: 4, start: 0, end: 64,
    lanes: [lane('pump', moved, 100), lane('mist', moved, 30)].filter(({ id }) => !change?.without?.includes(id)),
  } as unknown as View)
  made.set(key, found)
  return found
}
const block = (at: number, beats: number, pattern: number, more: object = {}) =>
  ({ at, beats, pattern, start: 0, speed: '1', edits: [], problem: null, bar: 1 + at / 4, count: 1, ...more })
function orderOf(blocks: object[], between: [number, number] | null = null): OrderState {
  return {
    revision: 1, heads: { 1: 5, 2: 5, 3: 5 }, history: { undo: null, redo: null },
    view: { blocks, between, beats: 100, chosen: null },
  } as unknown as OrderState
}

let order: ReturnType<typeof useOrder>
let playing: ReturnType<typeof usePlaying>
/** [beat, pitch] of what was struck loud. */
const loud = () =>
  struck.filter(({ velocity }) => velocity === 100).map(({ beat, pitch }) => [Number(beat.toFixed(6)), pitch])

beforeEach(() => {
  beginAnew()
  passes.length = 0
  localStorage.clear()
  setActivePinia(createPinia())
  order = useOrder()
  playing = usePlaying()
  order.state = orderOf([block(0, 4, 1), block(4, 4, 2, { speed: '2' })])
})

test('blocks follow each other in time, each at its own speed, and the end is the end', async () => {
  await playing.play()
  await until(1)
  expect(playing.place).toMatchObject({ block: 0, at: expect.closeTo(2, 6) })
  expect(playing.where).toBe('bar 1 · beat 3')
  await until(5)
  expect(loud()).toEqual([
    ...[0, 1, 2, 3].map((at) => [at, 10]), ...Array.from({ length: 8 }, (_, i) => [4 + i / 2, 20]),
  ])
  expect(struck.every(({ time, beat }) => Math.abs(time - beat / 2) < 1e-9), 'at its time on the clock').toBe(true)
  expect(struck.filter(({ pitch }) => pitch === 20).every(({ length }) => length === 0.25)).toBe(true)
  expect([playing.playing, playing.place, playing.sounding]).toEqual([false, null, null])
})

test('every pass lies on the Trail with where its notes came from', async () => {
  await playing.play()
  await until(5)
  expect(
    passes.map(({ pattern, number, start, beats }) => [pattern, number, start, beats]),
  ).toEqual([[1, 0, 0, 4], [2, 0, 4, 2], [2, 1, 6, 2]])
  expect(passes.flatMap(({ segments }) => segments)).toMatchObject([
    { revision: 5, edits: [], at: 0, start: 0, end: 4, speed: '1' }, { at: 4, start: 0, end: 4, speed: '2' },
    { at: 6, start: 4, end: 8, speed: '2' },
  ])
})

test('brackets are gone round, and an empty order says what to do', async () => {
  order.state = orderOf([block(0, 4, 1), block(4, 4, 2)], [0, 0])
  await playing.play()
  await until(5)
  expect(loud().map(([, pitch]) => pitch)).toEqual(Array(11).fill(10))
  playing.stop()
  order.state = orderOf([])
  await playing.play()
  expect([playing.playing, useNotices().current?.text]).toEqual([
    false, 'The order is empty: add a pattern to it, or press a pattern’s key.',
  ])
})

test('a hand goes to a pattern at the next bar, the order waits, and goes on from there', async () => {
  order.state = orderOf([block(0, 16, 1)])
  await playing.play()
  await until(0.6)
  playing.goTo(3, false)
  expect(playing.going).toBe(3)
  await until(3)
  expect([playing.sounding, playing.going, playing.waiting, playing.place]).toEqual([3, null, 0, null])
  playing.when = 'beat'
  await nextTick()
  playing.backToOrder()
  await until(3.6)
  expect(loud()).toEqual([...[0, 1, 2, 3].map((at) => [at, 10]), ...[4, 5, 6].map((at) => [at, 30]), [7, 10]])
  expect(playing.place?.block).toBe(0)
})

test('a pattern that is there while its key is held leaves the order in time underneath', async () => {
  order.state = orderOf([block(0, 4, 1), block(4, 12, 2)])
  playing.when = 'beat'
  await playing.play()
  await until(0.7)
  playing.goTo(3, true)
  await until(2.2)
  playing.comeBack(3)
  await until(3)
  expect(loud()).toEqual([[0, 10], [1, 10], [2, 30], [3, 30], [4, 30], [5, 20], [6, 20]])
  playing.goTo(3, true)
  playing.comeBack(3) // let go before it began: it never comes
  await until(4)
  expect(loud().slice(7)).toEqual([[7, 20], [8, 20]])
})

test('a repeat goes over the last beats again while it is held, and what plays is back in time', async () => {
  order.state = orderOf([block(0, 16, 1)])
  playing.hands = { ...playing.hands, repeat: '1/4' }
  playing.when = 'step'
  await playing.play()
  await until(0.9)
  playing.press('repeat')
  await until(2.4)
  playing.release('repeat')
  await until(3)
  expect(loud().map(([beat]) => beat)).toEqual([0, 1, 2, 3, 4, 5, 6])
  await until(3.6)
  playing.stop()
  const heard = passes.flatMap(({ segments }) => segments).map(({ at, start, end }) => [at, start, end])
  expect(heard.slice(0, -1), 'the third beat, again and again').toEqual([[0, 0, 3], [3, 2, 3], [4, 2, 3], [5, 2, 3]])
  expect(heard.at(-1)).toEqual([6, 6, expect.closeTo(7.2, 6)])
})

test('higher, lower and silence change what sounds from the next step on, and are on the Trail', async () => {
  order.state = orderOf([block(0, 16, 1)])
  playing.hands = { repeat: '1/8', by: 2, unit: 'semitones' }
  playing.left = ['pump']
  await playing.play()
  await until(0.7)
  playing.press('higher')
  await until(1.2)
  playing.release('higher')
  playing.press('silence')
  await until(2.2)
  playing.release('silence')
  await until(2.7)
  expect(loud()).toEqual([[0, 10], [1, 10], [2, 12], [3, 10], [4, 10], [5, 10]])
  expect(
    struck.filter(({ velocity }) => velocity === 30).map(({ beat }) => beat), 'all but the lanes that are left',
  ).toEqual([0, 1, 2, 5])
  playing.stop()
  const edits = passes.flatMap(({ segments }) => segments).map((segment) => segment.edits)
  expect(edits).toContainEqual([{ do: 'adapt', semitones: 2, without: [] }])
  expect(edits).toContainEqual([{ do: 'adapt', semitones: 0, without: ['mist'] }])
})

test('where a block is put before it, what plays goes on in its own block', async () => {
  order.state = orderOf([block(0, 8, 1), block(8, 8, 2)])
  await playing.play()
  await until(2)
  order.state = orderOf([block(0, 4, 3), block(4, 8, 1), block(12, 8, 2)])
  await nextTick()
  await until(2.1)
  expect(playing.place).toMatchObject({ block: 1, at: expect.closeTo(8.2, 6) })
  await until(4.9)
  expect(loud()).toEqual(Array.from({ length: 11 }, (_, at) => [at, at < 8 ? 10 : 20]))
})

test('where a block before it becomes longer, what plays stays where it is; stopping keeps what was heard', async () => {
  order.state = orderOf([block(0, 4, 1), block(4, 8, 2)])
  await playing.play()
  await until(3)
  order.state = orderOf([block(0, 8, 1), block(8, 8, 2)])
  await nextTick()
  await until(4.1)
  expect(playing.place).toMatchObject({ block: 1, at: expect.closeTo(12.2, 6) })
  playing.stop()
  expect(loud()).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8].map((at) => [at, at < 4 ? 10 : 20]))
  expect(
    passes.map(({ pattern, start, beats }) => [pattern, start, beats]),
  ).toEqual([[1, 0, 4], [2, 4, expect.closeTo(4, 6)]])
  await playing.play()
  await until(4.1 + 1)
  playing.stop()
  expect(passes.at(-1)).toMatchObject({ pattern: 1, start: 0, beats: expect.closeTo(2, 6) })
})
