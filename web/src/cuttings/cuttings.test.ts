// @vitest-environment happy-dom
/** Where hands are on the strips, what of it is tried out, and what is planted; gusts over it. */
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, test, vi } from 'vitest'
import { nextTick, reactive } from 'vue'
import type { Edit, View } from '@/api/client'
import { useNotices } from '@/app/notices'
import { FakeServer } from '@testing/server'
import { useCuttings } from './cuttings'
import { useGusts } from './gusts'

const { open } = vi.hoisted(() => ({ open: { pattern: {} as Pattern, player: {} as Player } }))
interface Pattern {
  id: number
  revision: number
  view: { lanes: { id: string }[]; spells: View['spells'] }
  tried: Edit[]
  chosen: string
  also: string[]
  frame: number
  span: number
  staying: boolean
  preview: ReturnType<typeof vi.fn>
  commit: ReturnType<typeof vi.fn>
}
interface Player {
  playing: boolean
  beat: number
  hearChange: () => void
  scheduledBeat: () => number
}
vi.mock('@/pattern/pattern', () => ({ usePattern: () => open.pattern }))
vi.mock('@/sound/player', () => ({ usePlayer: () => open.player }))
vi.mock('@/clip/clip', () => ({ useClip: () => ({}) }))
vi.mock('@/order/order', () => ({ useOrder: () => ({}) }))

const mark = (at: number, hits: number[]) =>
  ({ at, value: hits.length, hits, amount: null, degrees: null, measures: {} })
const MARKS = [mark(0, [0]), mark(0.25, [0, 8]), mark(0.5, [0, 4, 8]), mark(1, [0, 4, 8, 12])]
const strip = (lane: string, marks = MARKS) => ({ lane, marks, now: 0.5, hits: [0, 4, 8], low: 0, high: 4 })
const answer = (lanes: string[], wish: object = {}) => ({
  wish: { along: 'density', source: 'now', throw: 0, ...wish }, gusts: {}, sentence: {}, gusts_sentence: {},
  strips: lanes.map((lane) => strip(lane)),
})
const plant = (lane: string, hits: number[]): Edit => ({ do: 'plant', lane, hits, amount: null, degrees: null })

let server: FakeServer
let cuttings: ReturnType<typeof useCuttings>
const tried = () => open.pattern.preview.mock.lastCall?.[0] as Edit[]

beforeEach(async () => {
  localStorage.clear()
  const pattern: Pattern = reactive({
    id: 7, revision: 3, view: { lanes: [{ id: 'pump' }, { id: 'fern' }], spells: [] }, tried: [], chosen: 'pump', also: [],
    frame: 4, span: 8, staying: false,
    preview: vi.fn((edits: Edit[]) => Promise.resolve(void (pattern.tried = edits))),
    commit: vi.fn(() => Promise.resolve(true)),
  })
  open.pattern = pattern
  open.player = reactive({ playing: false, beat: 0, hearChange: vi.fn(), scheduledBeat: () => open.player.beat + 0.5 })
  setActivePinia(createPinia())
  server = new FakeServer()
  cuttings = useCuttings()
  cuttings.open()
  await (await server.next('cuttings')).answer(answer(['pump', 'fern']))
})

test('a hand walks mark by mark, from what is there now, and the ear follows', () => {
  expect([cuttings.trying, cuttings.markAt('pump')]).toEqual([false, -1])
  cuttings.walk('pump', 1)
  expect([cuttings.markAt('pump'), tried()]).toEqual([3, [plant('pump', [0, 4, 8, 12])]])
  cuttings.walk('pump', 9)
  expect(cuttings.markAt('pump'), 'no further than the last').toBe(3)
  cuttings.walk('pump', -2)
  expect(tried()).toEqual([plant('pump', [0, 8])])
  cuttings.asWas('pump')
  expect([tried(), cuttings.trying]).toEqual([[], false])
})

test('brackets hold a hand, and one handle moves all that may move, between their own brackets', () => {
  cuttings.setBrackets('pump', [0, 0.5])
  cuttings.moveAll(1)
  expect(tried().map((edit) => 'hits' in edit && edit.hits.length)).toEqual([2, 4])
  cuttings.toggleStay('fern')
  cuttings.moveAll(0)
  expect(tried(), 'what is to stay, stays').toEqual([plant('pump', [0]), plant('fern', [0, 4, 8, 12])])
  cuttings.moveTo('fern', 0)
  expect(cuttings.markAt('fern')).toBe(3)
})

test('a mark that is pointed at is heard over the rest, and forgotten when it is left', () => {
  cuttings.moveTo('fern', 0)
  cuttings.point({ lane: 'pump', mark: 3 })
  expect(tried()).toEqual([plant('fern', [0]), plant('pump', [0, 4, 8, 12])])
  const calls = open.pattern.preview.mock.calls.length
  cuttings.point({ lane: 'pump', mark: 3 })
  expect(open.pattern.preview.mock.calls.length, 'once').toBe(calls)
  cuttings.point(null)
  expect(tried()).toEqual([plant('fern', [0])])
})

test('A and B are two places of all hands', () => {
  cuttings.moveTo('pump', 0)
  cuttings.mark('A')
  cuttings.moveTo('pump', 3)
  cuttings.mark('B')
  cuttings.mark('A')
  expect(tried()).toEqual([plant('pump', [0])])
  cuttings.mark('B')
  expect(tried()).toEqual([plant('pump', [0, 4, 8, 12])])
})

test('planting one lane leaves the others where the hands are; what is refused stays tried', async () => {
  cuttings.moveTo('pump', 0)
  cuttings.moveTo('fern', 3)
  await cuttings.plant('pump')
  expect(open.pattern.commit).toHaveBeenLastCalledWith([plant('pump', [0])])
  expect(tried()).toEqual([plant('fern', [0, 4, 8, 12])])
  open.pattern.commit.mockResolvedValueOnce(false)
  await cuttings.plant()
  expect(cuttings.trying, 'it was not taken').toBe(true)
  await cuttings.plant()
  expect([cuttings.trying, tried()]).toEqual([false, []])
})

test('another throw and the one before ask for the same wish by its number; a lane that stays keeps its strip', async () => {
  cuttings.toggleStay('fern')
  cuttings.throwAgain(1)
  const next = await server.next('cuttings')
  expect([next.body.wish.throw, next.body.lanes]).toEqual([1, ['pump']])
  await next.answer({ ...answer([], { throw: 1 }), strips: [strip('pump', [mark(0.5, [3])])] })
  expect(
    Object.entries(cuttings.strips).map(([lane, { marks }]) => [lane, marks.length]).sort(),
  ).toEqual([['fern', 4], ['pump', 1]])
  cuttings.throwAgain(-1)
  expect((await server.next('cuttings')).body.wish.throw).toBe(0)
})

test('of several wishes while relatives grow, the latest is grown', async () => {
  cuttings.throwAgain(1)
  const first = await server.next('cuttings')
  cuttings.throwAgain(1)
  cuttings.throwAgain(1)
  expect(server.open).toEqual([])
  await first.answer(answer(['pump', 'fern'], { throw: 99 }))
  const last = await server.next('cuttings')
  expect(last.body.wish.throw).toBe(3)
  expect(cuttings.grown?.wish.throw, 'what was overtaken is not shown').toBe(0)
  await last.answer(answer(['pump', 'fern'], { throw: 3 }))
  expect([cuttings.grown?.wish.throw, cuttings.growing]).toEqual([3, false])
})

test('more like this grows from what is heard, which is planted with what comes of it', async () => {
  cuttings.moveTo('pump', 0)
  cuttings.moreLikeThis()
  const next = await server.next('cuttings')
  expect(next.body.edits).toEqual([plant('pump', [0])])
  await next.answer(answer(['pump', 'fern']))
  cuttings.moveTo('pump', 3)
  await cuttings.plant()
  expect(open.pattern.commit).toHaveBeenLastCalledWith([plant('pump', [0]), plant('pump', [0, 4, 8, 12])])
})

test('a wish that an older page has stored is begun anew, and any other trouble is said', async () => {
  cuttings.leave()
  cuttings.wish = { count: 5, gone: true } as object
  cuttings.open()
  await (await server.next('cuttings')).answer({ detail: 'There is no word “gone”.' }, 422)
  const again = await server.next('cuttings')
  expect([again.body.wish, useNotices().current]).toEqual([{}, null])
  await again.answer({ detail: 'Too much at once; ask for fewer.' }, 422)
  expect(useNotices().current?.text).toBe('Too much at once; ask for fewer.')
})

test('leaving forgets what was tried, and what comes too late is not shown', async () => {
  cuttings.moveTo('pump', 0)
  cuttings.throwAgain(1)
  const late = await server.next('cuttings')
  cuttings.leave()
  expect([cuttings.shown, tried()]).toEqual([false, []])
  await late.answer(answer(['pump', 'fern'], { throw: 1 }))
  expect(cuttings.strips).toEqual({})
})

test('a gust is there while it is held, over what is tried out, and can be planted afterwards', async () => {
  const gusts = useGusts()
  cuttings.moveTo('pump', 0)
  gusts.hold()
  expect(tried()).toEqual([plant('pump', [0]), expect.objectContaining({ do: 'gust', away: 0.4, lanes: null })])
  const gust = tried().at(-1)
  gusts.hold()
  gusts.release()
  expect([tried(), gusts.known]).toEqual([[plant('pump', [0])], true])
  await gusts.plantLast()
  expect(open.pattern.commit).toHaveBeenLastCalledWith([plant('pump', [0]), gust])
  open.pattern.id = 8
  expect(gusts.known, 'of another pattern').toBe(false)
})

test('a gust that came by itself is known as the last, and comes back as a clause', async () => {
  const gusts = useGusts()
  open.pattern.view.spells = [
    { start: 0, end: 8, name: 'Hail', words: '' },
    { start: 4, end: 8, name: 'gust', words: '', gust: { away: 0.7, throw: 1, lanes: ['fern'] } }]
  open.player.playing = true
  open.player.beat = 1
  await nextTick()
  expect(gusts.known).toBe(false)
  open.player.beat = 4.5
  await nextTick()
  expect(gusts.known).toBe(true)
  await gusts.letCome(true)
  expect(open.pattern.commit).toHaveBeenLastCalledWith([{ do: 'add_gust', away: 0.7, lanes: ['fern'], throw: 1 }])
  cuttings.gusts = { over: 'chosen' }
  await gusts.letCome(false)
  expect(open.pattern.commit).toHaveBeenLastCalledWith([
    { do: 'add_gust', away: 0.4, lanes: ['pump'], throw: null }])
})
