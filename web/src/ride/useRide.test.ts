/** Lanes that are ridden: which path takes over when, and what of it is laid in. */
import { beforeEach, expect, test, vi } from 'vitest'
import { nextTick, reactive } from 'vue'
import type { Edit } from '@/api/client'
import { handOver, handover } from '@/sound/handover'
import { useRide } from './useRide'

interface Path { start: string; beats: string; step: string; human: number }
const { open } = vi.hoisted(() => ({
  open: {
    pattern: {} as ReturnType<typeof makePattern>, player: {} as { playing: boolean; at: number; beat: number },
    /** What happens while an answer is on its way. */
    meanwhile: (): void => undefined,
  },
}))
vi.mock('@/pattern/pattern', () => ({ usePattern: () => open.pattern }))
vi.mock('@/sound/player', () => ({ usePlayer: () => open.player }))

const number = (text: string) => text.split('/').map(Number).reduce((over, under) => over / under)
const laid = (edits: Edit[]): Path[] => edits.flatMap((edit) => (edit.do === 'lay_path' ? edit.path as Path[] : []))
/** A frame of 4 beats with a note in each cell, cells of sixteenths where no path lies; two passes of it. */
function viewOf(edits: Edit[]) {
  const cells: number[] = []
  const path = laid(edits)
  for (let at = 0; at < 4 - 1e-9;) {
    const over = path.find(
      ({ start, beats }) => at >= number(start) - 1e-9 && at < number(start) + number(beats) - 1e-9,
    )
    const next = Math.min(...path.map(({ start }) => number(start)).filter((start) => start > at + 1e-9), 4)
    cells.push(at)
    at = Math.min(next, at + 4 * number(over?.step ?? '1/16'))
  }
  const both = [...cells, ...cells.map((cell) => cell + 4)]
  const drawn = { stamp: JSON.stringify(path), cells: both, notes: both.map((at) => [at, 0.1, 42, 90, 0]), changes: [] }
  return { start: 0, end: 8, frame_beats: 4, tempo: 120, lanes: [{ id: 'drip', drawn }] }
}
function makePattern() {
  return {
    view: viewOf([]), took: [] as Edit[][], committed: [] as Edit[][],
    foresee: async (edits: Edit[]) => {
      await Promise.resolve()
      open.meanwhile()
      return { source: { edits }, view: viewOf(edits) }
    },
    take(seen: { source: { edits: Edit[] }; view: ReturnType<typeof viewOf> }) {
      open.pattern.view = seen.view
      open.pattern.took.push(seen.source.edits)
      return true
    },
    preview: vi.fn(), commit: (edits: Edit[]) => (open.pattern.committed.push(edits), Promise.resolve(true)),
  }
}
const settle = async () => {
  for (let i = 0; i < 40; i += 1) await Promise.resolve()
}
const heard = () => laid(open.pattern.took.at(-1) ?? []).map(({ start, beats, step }) => [start, beats, step])

beforeEach(() => {
  handover.value = null
  open.meanwhile = () => undefined
  open.pattern = makePattern()
  open.player = reactive({ playing: true, at: 0.3, beat: 0, scheduledBeat: () => open.player.at })
})

test('paces take over with a cell, what holds goes round, and each round is laid in as it was heard', async () => {
  const { ridden, chosen, words, steer, letGo, layIn } = useRide(() => 'drip')
  steer('1/8', 50)
  await settle()
  expect(heard()).toEqual([['24/48', '168/48', '1/8']])
  open.player.at = 1.6
  steer('1/24', 80)
  await settle()
  expect(heard(), 'the cell of 1/8 that has begun ends first').toEqual(
    [['24/48', '72/48', '1/8'], ['96/48', '96/48', '1/24']],
  )
  open.player.beat = open.player.at = 3.2
  await nextTick()
  await settle()
  expect(open.pattern.took, 'not before its time').toHaveLength(2)
  handOver(4)
  expect(heard()).toEqual([['0/48', '192/48', '1/24']])
  open.player.at = 5.02
  await letGo()
  expect(open.pattern.took.at(-1)).toEqual([])
  expect(words.value).toEqual(['1/8 for 1.5, 1/24 for 2', '1/24 for 1.33'])
  expect(chosen.value).toBe(0)
  chosen.value = 1
  await layIn()
  expect(laid(open.pattern.committed[0] ?? [])).toEqual([{ start: '0/48', beats: '64/48', step: '1/24', human: 80 }])
  expect(ridden.value).toEqual([])
})

test('an answer that comes too late is not taken, and asked for again later', async () => {
  vi.useFakeTimers()
  const { riding, steer } = useRide(() => 'drip')
  steer('1/8', 0)
  await settle()
  open.player.at = 1
  open.meanwhile = () => (open.player.at = 2)
  steer('1/32', 0)
  await settle()
  expect([open.pattern.took.length, riding.value]).toEqual([1, true])
  open.meanwhile = () => undefined
  await vi.advanceTimersByTimeAsync(60)
  await settle()
  expect(heard()).toEqual([['24/48', '96/48', '1/8'], ['120/48', '72/48', '1/32']])
  vi.useRealTimers()
})

test('a first pace whose answer comes when its beginning is scheduled begins later', async () => {
  vi.useFakeTimers()
  const { steer } = useRide(() => 'drip')
  open.meanwhile = () => (open.player.at = 0.6)
  steer('1/8', 0)
  await settle()
  expect(open.pattern.took).toEqual([])
  open.meanwhile = () => undefined
  await vi.advanceTimersByTimeAsync(60)
  await settle()
  expect(heard()).toEqual([['60/48', '132/48', '1/8']])
  vi.useRealTimers()
})

test('where the next round is answered too late, the path goes round, and is told so', async () => {
  const { ridden, steer, letGo } = useRide(() => 'drip')
  steer('1/8', 0)
  await settle()
  open.meanwhile = () => (open.player.at = 4.5)
  open.player.beat = open.player.at = 3.5
  await nextTick()
  await settle()
  expect([handover.value, open.pattern.took.length]).toEqual([null, 1])
  await letGo()
  expect(ridden.value.map(({ pass, stretches }) => [pass, stretches.map(({ from, to }) => [from, to])])).toEqual(
    [[0, [[24, 192]]], [1, [[24, 48]]]], // to the end of the cell that has begun
  )
})
