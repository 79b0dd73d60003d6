// @vitest-environment happy-dom
/** The transport: what is struck when, whatever happens to the pattern meanwhile, and which passes were heard. */
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, test, vi } from 'vitest'
import { nextTick, reactive } from 'vue'
import type { Edit, HeardPass, View } from '@/api/client'
import { beginAnew, now, struck, until } from '@testing/output'
import { usePlayer } from './player'

const { passes, open } = vi.hoisted(() => ({
  passes: [] as (HeardPass & { pattern: number })[],
  open: {
    pattern: {} as {
      id: number; seen: Seen; start: number; staying: boolean; view: View; turnTo: (beat: number) => void; span: number,
      settled: () => Promise<unknown>,
    },
  },
}))
interface Seen {
  source: { revision: number; edits: Edit[] }
  view: View
}
vi.mock('@/sound/output', () => import('@testing/output'))
vi.mock('./levels', () => ({ levelOf: () => 100 }))
vi.mock('./render', () => ({ offerRendering: () => undefined }))
vi.mock('./clockOut', () => ({ sendClocks: () => undefined }))
vi.mock('./useHearAgain', () => ({
  useHearAgain: () => ({ again: { value: [] }, hearAgain: () => undefined, endAgain: () => undefined }),
}))
vi.mock('./useHearOnce', () => ({ useHearOnce: () => ({}) }))
vi.mock('@/ports/access', () => ({ portsInUse: () => [], onReceived: () => () => undefined }))
vi.mock('@/ports/sender', () => ({ silence: () => undefined }))
vi.mock('@/pattern/trail', () => ({
  useTrail: () =>
    ({ begin: () => undefined, heard: (pattern: number, pass: HeardPass) => passes.push({ pattern, ...pass }) }),
}))
vi.mock('@/pattern/pattern', () => ({ usePattern: () => open.pattern }))

/** A view over 16 beats with a hit on each: a bar, and a frame, of four beats. */
function seen(pitch: number, revision: number, more: Partial<View> = {}): Seen {
  const lane = {
    id: 'pump', name: 'Pump', kind: 'drum', channel: 10, note: pitch, number: null, audible: true,
    sound: { by: 'dry', set: {} },
    drawn: {
      notes: Array.from({ length: 64 }, (_, beat) => [beat, 0.5, pitch, 100]), changes: [], tunings: [],
      lines: [], sounds: [],
    },
  }
  const view = {
    tempo: 60, meter: [4, 4], bar_beats: 4, frame_beats: 4, start: 0, end: 16, lanes: [lane], ...more,
  } as unknown as View
  return { source: { revision, edits: [] }, view }
}
function show(next: Seen): void {
  open.pattern.seen = next
  open.pattern.view = next.view
}
const rounded = (value: number) => Number(value.toFixed(6))
const heard = () => struck.map(({ beat, pitch, time }) => [rounded(beat), pitch, rounded(time)])
const segments = () => passes.flatMap(
  (pass) => pass.segments.map(({ revision, at, start, end }) => [revision, ...[at, start, end].map(rounded)]),
)

let player: ReturnType<typeof usePlayer>
beforeEach(() => {
  beginAnew()
  passes.length = 0
  const first = seen(36, 1)
  open.pattern = reactive({
    id: 7, start: 0, span: 8, frame: 4, staying: false, seen: first, view: first.view, turnTo: vi.fn(),
    settled: () => Promise.resolve(),
  })
  setActivePinia(createPinia())
  player = usePlayer()
})

test('every note is struck once, at its time, before it is due', async () => {
  const leads: number[] = []
  await player.play()
  await until(0.1)
  for (let at = 0.1; at < 6; at += 0.05) {
    const before = struck.length
    await until(at)
    leads.push(...struck.slice(before).map(({ time }) => time - now()))
  }
  expect(heard()).toEqual([0, 1, 2, 3, 4, 5, 6].map((at) => [at, 36, at]))
  expect(Math.min(...leads)).toBeGreaterThan(0.2)
  expect(player.beat).toBeCloseTo(now(), 6)
})

test('what was changed just before is heard from the first note on', async () => {
  open.pattern.settled = async () => show(seen(40, 2))
  await player.play()
  await until(1.5)
  expect(heard()).toEqual([[0, 40, 0], [1, 40, 1]])
})

test('what changes while it plays is heard from where nothing is scheduled yet, and the pass says so', async () => {
  await player.play()
  await until(1.5)
  show(seen(40, 2))
  await until(4.5)
  expect(heard()).toEqual([[0, 36, 0], [1, 36, 1], [2, 40, 2], [3, 40, 3], [4, 40, 4]])
  expect(segments()).toEqual([[1, 0, 0, 1.8], [2, 1.8, 1.8, 4]])
  expect(
    passes.map(({ pattern, number, start, beats }) => [pattern, number, start, rounded(beats)]),
  ).toEqual([[7, 0, 0, 4]])
})

test('another tempo holds from there on, and no beat is lost', async () => {
  await player.play()
  await until(1.5)
  show(seen(36, 2, { tempo: 120 }))
  await until(3)
  expect(heard()).toEqual([[0, 36, 0], [1, 36, 1], [2, 36, 1.9], [3, 36, 2.4], [4, 36, 2.9]])
})

test('a pass that stays is heard over and over; flowing again, the next ones come', async () => {
  open.pattern.staying = true
  show(seen(36, 1, { end: 8 }))
  await player.play()
  await until(9)
  expect(passes.map(({ number, start }) => [number, rounded(start)])).toEqual([[0, 0], [0, 4]])
  open.pattern.staying = false
  await until(13)
  expect(segments().map((segment) => segment.slice(2))).toEqual([[0, 4], [0, 4], [0, 4]])
  await until(16)
  player.stop()
  expect(segments().at(-1)?.slice(2), 'the second pass follows').toEqual([4, 8])
})

test('where nothing newer is known, what is known goes round until it is', async () => {
  show(seen(36, 1, { end: 8 }))
  await player.play()
  await until(9)
  expect(heard().map(([beat]) => beat)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9])
  expect(segments().map((segment) => segment.slice(1))).toEqual([[0, 0, 4], [4, 4, 8]])
  show(seen(38, 2, { end: 64 }))
  await until(12)
  expect(heard().slice(10)).toEqual([[10, 38, 10], [11, 38, 11], [12, 38, 12]])
  expect(
    segments().slice(2).map((segment) => segment.slice(1)), 'the first pass again',
  ).toEqual([[8, 0, 1.3], [9.3, 1.3, 4]])
})

test('stopping hands on what was heard if it is a beat at least; playing begins at the frame that is shown', async () => {
  await player.play()
  await until(0.5)
  player.stop()
  expect([passes, player.playing]).toEqual([[], false])
  open.pattern.start = 6
  show(seen(36, 1))
  await player.play()
  await until(3)
  expect(struck.at(-1)?.beat).toBe(2)
  player.stop()
  expect(passes.map(({ number, beats }) => [number, rounded(beats)])).toEqual([[1, 2.5]])
  expect(segments()).toEqual([[1, 0, 4, 6.5]])
})

test('another pattern stops it, and another clock sets its pace', async () => {
  player.external = 240
  await player.play()
  await until(1)
  expect(heard()).toEqual([0, 1, 2, 3, 4, 5].map((at) => [at, 36, at / 4]))
  player.external = 120
  await until(2)
  expect(
    heard().slice(6).map(([, , time], i, all) => rounded(Number(time) - Number(all[i - 1]?.[2] ?? time))),
  ).toEqual([0, 0.5])
  open.pattern.id = 8
  await nextTick()
  expect(player.playing).toBe(false)
})
