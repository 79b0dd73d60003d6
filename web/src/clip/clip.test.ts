// @vitest-environment happy-dom
/** The open clip under hands, keys and tools, however late the answers are; and how it is heard round and round. */
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, test, vi } from 'vitest'
import { effectScope, nextTick, type EffectScope } from 'vue'
import type { ClipState } from '@/api/client'
import { useNotices } from '@/app/notices'
import { beginAnew, struck, until } from '@testing/output'
import { FakeServer } from '@testing/server'
import { useClip, type Tool } from './clip'
import { useRound } from './round'
import { useClipKeys } from './useClipKeys'

vi.mock('@/sound/output', () => import('@testing/output'))

type Note = ClipState['view']['notes'][number]
const NOTES: Note[] = [[0, 0.5, 36, 100, 0, 0], [0.5, 0.25, 60, 90, 1, 0], [1, 0.5, 36, 80, 0, 0], [3, 1, 64, 70, 1, 0]]
const lanes = [
  { id: 'pump', name: 'Pump', kind: 'drum', channel: 10, sound: { by: 'dry', set: {} }, drums: {}, sounds: [] },
  { id: 'fern', name: 'Fern', kind: 'pitched', channel: 1, sound: { by: 'bell', set: {} }, drums: {}, sounds: [] },
]
const view = (notes: Note[] = NOTES) =>
  ({
    notes, beats: 4, tempo: 60, lanes, changes: [], tunings: [], marks: [],
    scale: { root: 0, notes: [0, 2, 4, 5, 7, 9, 11] },
  })
const state = (revision: number, more: object = {}) =>
  ({
    id: 5, name: 'Clip', revision, view: view(), chosen: [], tools: [],
    history: { undo: `change ${revision}`, redo: null }, ...more,
  }) as unknown as ClipState

let server: FakeServer
let clip: ReturnType<typeof useClip>
let keys: EffectScope | undefined
const look = { zoom: vi.fn(), show: vi.fn(), close: vi.fn() }
function press(key: string, more: KeyboardEventInit = {}): void {
  document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }))
}

beforeEach(async () => {
  localStorage.clear()
  beginAnew()
  setActivePinia(createPinia())
  server = new FakeServer()
  clip = useClip()
  const opening = clip.open(5)
  await (await server.next('clips/5/state')).answer(state(1))
  await opening
  keys?.stop()
  keys = effectScope()
  keys.run(() => useClipKeys(look))
  Object.values(look).forEach((each) => each.mockClear())
})

test('arrows walk along a lane and from lane to lane; with Shift notes are chosen on the way', () => {
  press('ArrowRight')
  expect([clip.chosen, look.show.mock.lastCall]).toEqual([[0], [0]])
  press('ArrowRight')
  expect(clip.chosen, 'the next of its lane').toEqual([2])
  press('ArrowDown')
  expect(clip.chosen, 'the nearest of the other').toEqual([1])
  press('ArrowRight', { shiftKey: true })
  expect(clip.chosen).toEqual([1, 3])
  press('a', { ctrlKey: true })
  expect(clip.chosen).toEqual([0, 1, 2, 3])
  press('Escape')
  expect([clip.chosen, look.close.mock.calls.length]).toEqual([[], 0])
  press('Escape')
  expect(look.close).toHaveBeenCalledOnce()
})

test('every key is one change of what is chosen, along the grid', async () => {
  clip.choose([1])
  const changes: [string, KeyboardEventInit, object][] = [
    ['ArrowRight', { altKey: true }, { do: 'move_notes', notes: [1], later: 0.25, degrees: 0 }],
    ['ArrowUp', { altKey: true }, { do: 'move_notes', notes: [1], later: -0, degrees: 1 }],
    [']', {}, { do: 'lengthen_notes', notes: [1], by: 0.25 }],
    [',', {}, { do: 'louden_notes', notes: [1], by: -5 }],
    ['Delete', {}, { do: 'remove_notes', notes: [1] }],
    ['Enter', {}, { do: 'add_notes', notes: [{ start: 0.75, length: 0.25, pitch: 60, velocity: 90, lane: 'fern' }] }],
  ]
  for (const [revision, [key, more, edit]] of changes.entries()) {
    press(key, more)
    const call = await server.next('edits')
    expect(call.body).toMatchObject({ revision: revision + 1, edits: [JSON.parse(JSON.stringify(edit))] })
    await call.answer(state(revision + 2, { chosen: [1] }))
  }
  clip.grid = '1/8'
  await nextTick()
  press('[')
  expect((await server.next('edits')).body.edits).toEqual([{ do: 'lengthen_notes', notes: [1], by: -0.5 }])
})

test('what is copied is pasted after what is chosen, or at the bracket, in lanes of the same name', async () => {
  clip.choose([0, 1])
  press('c', { ctrlKey: true })
  press('v', { ctrlKey: true })
  const first = await server.next('edits')
  expect(
    first.body.edits[0].notes.map(({ start, lane }: { start: number; lane: string }) => [start, lane]),
  ).toEqual([[0.75, 'pump'], [1.25, 'fern']])
  await first.answer(state(2))
  clip.round = [3, 4]
  press('v', { ctrlKey: true })
  const second = await server.next('edits')
  expect(second.body.edits[0].notes.map(({ start }: { start: number }) => start)).toEqual([3, 3.5])
})

test('brackets lie around what is chosen, on the grid, and are taken away again', () => {
  clip.choose([1, 2])
  press('b')
  expect(clip.round, 'with the step of the last').toEqual([0.5, 1.25])
  press('b')
  expect(clip.round).toBe(null)
})

test('a tool is tried word by word, of late answers only the newest counts, and it is laid in once', async () => {
  const tool = { kind: 'rotate', by: 1 } as unknown as Tool
  const tried = (by: number) =>
    ({ tool: { ...tool, by, throw: 0 }, view: view([[by, 0.5, 36, 100, 0, 0]]), chosen: [0], sentence: {} })
  clip.choose([0, 2])
  void clip.tryTool(tool)
  void clip.tryTool(tool, 'by', 2)
  const [one, two] = [await server.next('try'), await server.next('try')]
  expect([one.body.notes, two.body.slot, two.body.value]).toEqual([[0, 2], 'by', 2])
  await two.answer(tried(2))
  await one.answer(tried(1))
  expect([clip.view?.notes[0]?.[0], clip.marked]).toEqual([2, [0]])
  press('ArrowRight', { altKey: true })
  expect(server.open, 'notes wait while a tool is tried').toEqual([])
  clip.throwAgain(1)
  expect((await server.next('try')).body.tool.throw).toBe(1)
  press('Enter')
  const laid = await server.next('edits')
  expect(laid.body.edits).toEqual([{ do: 'lay_in', tool: { ...tool, by: 2, throw: 0 }, notes: [0, 2] }])
  await laid.answer(state(2, { chosen: [0, 2] }))
  expect([clip.trying, clip.state?.revision, clip.chosen]).toEqual([null, 2, [0, 2]])
})

test('where it was changed elsewhere, what is there now is shown and what was meant is told', async () => {
  clip.choose([3])
  press('Delete')
  await (await server.next('edits')).answer(
    {
      detail: 'It was changed in another tab.', tried: 'a note deleted',
      state: state(9, { view: view(NOTES.slice(0, 2)) }),
    },
    409,
  )
  expect(useNotices().current).toMatchObject({ text: 'It was changed in another tab. Yours was: a note deleted.' })
  expect([clip.state?.revision, clip.chosen]).toEqual([9, []])
  void clip.undo()
  expect((await server.next('undo')).body.revision).toBe(9)
})

test('what was done last is stored too where the clip is closed before, or another is opened', async () => {
  clip.choose([3])
  press('Delete')
  press(',')
  const first = await server.next('clips/5/edits')
  const opening = clip.open(6)
  await (await server.next('clips/6/state')).answer(state(40, { id: 6 }))
  await opening
  await first.answer(state(2))
  const second = await server.next('clips/5/edits')
  expect(second.body).toMatchObject({ revision: 2, edits: [{ do: 'louden_notes' }] })
  await second.answer(state(3))
  expect([clip.id, clip.state?.revision]).toEqual([6, 40])
})

test('it is heard round and round, between brackets as soon as there are some', async () => {
  const round = useRound()
  await round.play()
  await until(4.5)
  const heard = () => struck.map(({ time, pitch }) => [Number(time.toFixed(6)), pitch])
  expect(heard()).toEqual([[0, 36], [0.5, 60], [1, 36], [3, 64], [4, 36], [4.5, 60]])
  clip.round = [0.5, 1]
  await until(6)
  expect(heard().slice(6).map(([, pitch]) => pitch), 'the one note between them').toEqual([60, 60, 60])
  expect(round.beatNow()).toBeGreaterThanOrEqual(0.5)
  expect(round.beatNow()).toBeLessThan(1)
  // Closing the clip stops nothing; another clip has the keys to itself.
  clip.close()
  await until(7)
  expect(heard().slice(9).map(([, pitch]) => pitch)).toEqual([60, 60])
  clip.state = { ...state(9), id: 77 }
  await nextTick()
  expect(round.playing).toBe(false)
})
