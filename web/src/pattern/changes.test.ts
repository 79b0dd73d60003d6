// @vitest-environment happy-dom
/** What becomes of changes of a pattern, however slow or lost the answers are. */
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, test, vi } from 'vitest'
import { away, unsent } from '@/api/insist'
import type { Edit } from '@/api/client'
import { useNotices } from '@/app/notices'
import { FakeServer, settle } from '@testing/server'
import { hold } from '@/app/hand'
import { usePattern } from './pattern'

const lane = (id: string) => ({ id, name: id, drawn: { stamp: id, cells: [], hits: [], notes: [] } })
const view = (word: number, lanes = ['pump', 'fern']) => ({
  tempo: 120, meter: [4, 4], bar_beats: 4, frame_beats: 4, start: 0, end: 16, shortened: false, lanes: lanes.map(lane),
  word,
  chosen: { lane: 'pump', steps: 16, sentence: { clauses: [] } },
})
const state = (revision: number, more: object = {}) => ({
  id: 7, name: 'Drizzle', revision, history: { undo: `change ${revision}`, redo: null }, view: view(revision), ...more,
})
const set = (value: number): Edit => ({ do: 'set', lane: 'pump', slot: 'steps', value, also: [] })

let server: FakeServer
let pattern: ReturnType<typeof usePattern>
const shown = () => (pattern.view as unknown as { word: number } | null)?.word

beforeEach(async () => {
  setActivePinia(createPinia())
  server = new FakeServer()
  pattern = usePattern()
  const opening = pattern.open(7)
  await (await server.next('patterns/7/state')).answer(state(1))
  await (await server.next('patterns/7/look')).answer(view(1))
  await opening
})

test('changes follow each other, each made on what the one before has left', async () => {
  const [one, two] = [pattern.commit([set(1)]), pattern.commit([set(2)])]
  const first = await server.next('edits')
  expect(server.open).toEqual([])
  expect(first.body).toMatchObject({ revision: 1, edits: [set(1)] })
  await first.answer(state(2))
  const second = await server.next('edits')
  expect(second.body).toMatchObject({ revision: 2, edits: [set(2)] })
  expect(second.body.key).not.toBe(first.body.key)
  await second.answer(state(3))
  expect(await Promise.all([one, two])).toEqual([true, true])
  expect([pattern.revision, shown(), pattern.history.undo]).toEqual([3, 3, 'change 3'])
})

test('a look that a newer wish has waited for is given up, and the newest is asked for', async () => {
  const now = vi.spyOn(performance, 'now').mockReturnValue(1000)
  for (const value of [1, 2]) void pattern.preview([set(value)])
  const [first, second] = [await server.next('look'), await server.next('look')]
  now.mockReturnValue(1100)
  void pattern.preview([set(3)])
  expect(first.givenUp).toBe(false)
  now.mockReturnValue(1300)
  void pattern.preview([set(4)])
  const newest = await server.next('look')
  expect([first.givenUp, second.givenUp, newest.body.edits]).toEqual([true, false, [set(4)]])
  await newest.answer(view(4))
  await second.answer(view(2))
  expect([shown(), away.value]).toEqual([4, false])
  now.mockRestore()
})

test('an answer that is lost is asked for again, with the same key', async () => {
  vi.useFakeTimers({ toFake: ['setTimeout'], shouldAdvanceTime: true, advanceTimeDelta: 200 })
  const done = pattern.commit([set(1)])
  const lost = await server.next('edits')
  await lost.lose()
  expect([away.value, unsent.value]).toEqual([true, 1])
  window.dispatchEvent(new Event('online'))
  const again = await server.next('edits')
  expect(again.body).toEqual(lost.body)
  await again.answer({ detail: 'Bad gateway' }, 502)
  window.dispatchEvent(new Event('online'))
  await (await server.next('edits')).answer(state(2))
  expect(await done).toBe(true)
  expect([away.value, unsent.value, pattern.revision]).toEqual([false, 0, 2])
  vi.useRealTimers()
})

test('what is tried out is seen, of many wishes only the latest, and an older answer never over a newer', async () => {
  for (const value of [2, 3, 4, 5]) void pattern.preview([set(value)])
  const [first, second] = [await server.next('look'), await server.next('look')]
  expect(server.open, 'two at a time').toEqual([])
  expect([first.body.edits, second.body.edits]).toEqual([[set(2)], [set(3)]])
  await second.answer(view(3))
  expect(shown()).toBe(3)
  await first.answer(view(2))
  expect(shown()).toBe(3)
  const last = await server.next('look')
  expect(last.body.edits).toEqual([set(5)])
  await last.answer(view(5))
  expect(shown()).toBe(5)
  expect(pattern.seen?.source).toEqual({ revision: 1, edits: [set(5)] })
})

test('a look that was asked for before a change is stored comes too late', async () => {
  void pattern.preview([set(2)])
  const early = await server.next('look')
  void pattern.preview([set(3)])
  const late = await server.next('look')
  const done = pattern.commit([set(4)])
  await early.answer(view(2))
  await late.answer(view(3))
  expect(shown(), 'what the hand has left behind').toBe(1)
  await (await server.next('edits')).answer(state(2, { view: view(4) }))
  await done
  expect([shown(), pattern.tried]).toEqual([4, []])
})

test('what is refused is said in its own words, and the picture is as it was', async () => {
  void pattern.preview([set(200)])
  await (await server.next('look')).answer(view(200))
  const done = pattern.commit([set(200)])
  await (await server.next('edits')).answer({ detail: 'Steps go from 1 to 128.' }, 422)
  expect(await done).toBe(false)
  expect(useNotices().current?.text).toBe('Steps go from 1 to 128.')
  await (await server.next('look')).answer(view(1))
  expect([shown(), pattern.tried, pattern.revision]).toEqual([1, [], 1])
})

test('where the pattern has moved on elsewhere, it is shown as it is now, and what was tried is offered', async () => {
  const done = pattern.commit([set(9)])
  await (await server.next('edits')).answer(
    { detail: 'It was changed in another tab.', tried: 'steps 9', state: state(5) }, 409,
  )
  expect(await done).toBe(false)
  const notice = useNotices().current
  expect(notice).toMatchObject({
    text: 'It was changed in another tab. Yours was: steps 9.', action: { label: 'Do it here too' },
  })
  expect([pattern.revision, shown()]).toEqual([5, 5])
  notice?.action?.run()
  const again = await server.next('edits')
  expect(again.body).toMatchObject({ revision: 5, edits: [set(9)] })
  await again.answer(state(6))
  expect(pattern.revision).toBe(6)
})

test('undo goes through the same queue, and takes back what was tried out', async () => {
  const one = pattern.commit([set(1)])
  const back = pattern.undo()
  await (await server.next('edits')).answer(state(2))
  await one
  const undo = await server.next('undo')
  expect(undo.body.revision).toBe(2)
  await undo.answer(state(3, { view: view(1), history: { undo: null, redo: 'change 2' } }))
  await back
  expect([shown(), pattern.history.redo]).toEqual([1, 'change 2'])
})

test('Stay is turned back and forth by undo and redo, between changes of the pattern', async () => {
  pattern.toggleStay()
  await (await server.next('look')).answer(view(1))
  expect([pattern.staying, pattern.history.undo]).toEqual([true, 'Stay'])
  await pattern.undo()
  await (await server.next('look')).answer(view(1))
  expect([pattern.staying, pattern.history.redo]).toEqual([false, 'Stay'])
  await pattern.redo()
  await (await server.next('look')).answer(view(1))
  expect(pattern.staying).toBe(true)
  const done = pattern.commit([set(1)])
  await (await server.next('edits')).answer(state(2))
  await done
  expect(pattern.history.undo, 'the change came after it').toBe('change 2')
})

test('what a hand still holds is stored first, in the pattern where it was turned', async () => {
  const held = vi.fn(() => void pattern.commit([set(3)]))
  hold(document.body, held)
  const opening = pattern.open(8)
  const call = await server.next('edits')
  expect(call.path).toBe('patterns/7/edits')
  expect(server.open, 'the other pattern waits').toEqual([])
  await call.answer(state(2))
  await (await server.next('patterns/8/state')).answer({ ...state(1), id: 8, view: view(80) })
  await (await server.next('patterns/8/look')).answer(view(80))
  await opening
  expect([held.mock.calls.length, pattern.id, shown()]).toEqual([1, 8, 80])
})

test('an answer of a pattern that was left changes nothing on the screen', async () => {
  void pattern.preview([set(2)])
  const old = await server.next('look')
  const opening = pattern.open(8)
  await (await server.next('patterns/8/state')).answer({ ...state(1), id: 8, view: view(80) })
  await (await server.next('patterns/8/look')).answer(view(80))
  await opening
  await old.answer(view(2))
  expect([pattern.id, shown()]).toEqual([8, 80])
})

test('a lane that has just been made is the one to go on with', async () => {
  const done = pattern.commit([{ do: 'add_lane', name: 'Mist' } as Edit])
  await (await server.next('edits')).answer(state(2, { view: view(2, ['pump', 'fern', 'mist']) }))
  await done
  expect(pattern.chosen).toBe('mist')
  expect((await server.next('look')).body.chosen).toBe('mist')
})

test('a pattern that was deleted elsewhere is gone, and says so', async () => {
  void pattern.preview([set(2)])
  await (await server.next('look')).answer({ detail: 'There is no such pattern.' }, 404)
  expect([pattern.gone, pattern.tried]).toEqual([true, []])
})

test('while the server is away a look is asked for again by itself', async () => {
  void pattern.preview([set(2)])
  await (await server.next('look')).lose()
  expect(away.value).toBe(true)
  window.dispatchEvent(new Event('online'))
  const again = await server.next('look')
  expect(again.body.edits).toEqual([set(2)])
  await again.answer(view(2))
  await settle()
  expect([away.value, shown()]).toEqual([false, 2])
})
