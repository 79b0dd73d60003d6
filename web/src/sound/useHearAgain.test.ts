// @vitest-environment happy-dom
/** Passes of the Trail, heard again in time: once, in turns, over and over. */
import { beforeEach, expect, test, vi } from 'vitest'
import { beginAnew, struck, until } from '@testing/output'
import { FakeServer } from '@testing/server'
import { setLevel } from './levels'
import { useHearAgain } from './useHearAgain'

vi.mock('@/sound/output', () => import('@testing/output'))
vi.mock('@/pattern/pattern', () => ({ usePattern: () => ({ id: 7 }) }))
vi.mock('@/app/notices', () => ({ useNotices: () => ({ trouble: said }) }))
const { said } = vi.hoisted(() => ({ said: vi.fn() }))

const lanes = [{ id: 'pump', kind: 'drum', channel: 10, sound: { by: 'tin', set: {} }, drums: {}, sounds: [] }]
/** Four beats, the last two of them at half the tempo. */
const slowing = {
  beats: 4, tempo: 60, marks: [{ time: 2, name: '', tempo: 30 }], lanes, changes: [], tunings: [],
  notes: [[0, 0.5, 36, 100, 0], [1, 0.5, 36, 90, 0], [3, 0.5, 36, 80, 0]],
}
const short = { ...slowing, beats: 1, marks: [], notes: [[0, 0.5, 38, 70, 0]] }

let server: FakeServer
let hearing: ReturnType<typeof useHearAgain>
const times = () => struck.map(({ time }) => time)

async function hear(passes: Record<number, object>, stay = false): Promise<void> {
  const asked = hearing.hearAgain(Object.keys(passes).map(Number), stay)
  for (const [pass, view] of Object.entries(passes)) await (await server.next(`patterns/7/trail/${pass}`)).answer(view)
  await asked
}

beforeEach(() => {
  localStorage.clear()
  beginAnew()
  server = new FakeServer()
  hearing = useHearAgain()
})

test('a pass sounds once, as fast as it went and by the sounds of its own lanes', async () => {
  setLevel(7, 'pump', 40)
  await hear({ 3: slowing })
  expect(hearing.again.value).toEqual([3])
  await until(5.9)
  expect(times()).toEqual([0, 1, 4])
  expect(struck[0]).toMatchObject({ by: 'tin', lane: 'pump', owner: 7, level: 40, seconds: 0.5 })
  expect(struck[2], 'half as fast').toMatchObject({ beat: 3, seconds: 1 })
  await until(6.1)
  expect(hearing.again.value, 'it is over').toEqual([])
  setLevel(7, 'pump', 100)
})

test('two sound in turns, and one over and over, until they are stopped', async () => {
  await hear({ 3: slowing, 4: short })
  await until(8.1)
  hearing.endAgain()
  await until(20)
  expect([times(), hearing.again.value]).toEqual([[0, 1, 4, 6, 7, 8], []])
  beginAnew()
  hearing = useHearAgain()
  await hear({ 4: short }, true)
  await until(2.1)
  hearing.endAgain()
  expect(times()).toEqual([0, 1, 2])
})

test('one that is gone is said, and nothing sounds', async () => {
  const asked = hearing.hearAgain([9])
  await (await server.next('trail/9')).answer({ detail: 'Not found' }, 404)
  await asked
  await until(1)
  expect([said.mock.calls.length, struck.length, hearing.again.value]).toEqual([1, 0, []])
})
