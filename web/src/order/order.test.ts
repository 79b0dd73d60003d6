// @vitest-environment happy-dom
/** The order and its changes, the keys that play it, and the views that it is heard from. */
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, test, vi } from 'vitest'
import { effectScope, reactive, type EffectScope } from 'vue'
import type { OrderEdit, OrderState } from '@/api/client'
import { useNotices } from '@/app/notices'
import { FakeServer, settle } from '@testing/server'
import { useOrderKeys } from './handKeys'
import { useOrder } from './order'
import { Scores } from './scores'

const { hands, midi, pieces } = vi.hoisted(() => ({
  hands: {} as Hands, midi: [] as ((bytes: number[]) => void)[],
  pieces: { patterns: [{ id: 11 }, { id: 12 }, { id: 13 }] },
}))
interface Hands {
  toggle: () => void
  goTo: (pattern: number, onlyHeld: boolean) => void
  comeBack: (pattern: number) => void
  press: (what: string) => void
  release: (what: string) => void
  backToOrder: () => void
  playing: boolean
  whileHeld: boolean
}
vi.mock('./playing', () => ({ usePlaying: () => hands }))
vi.mock('@/pieces/piece', () => ({ usePiece: () => pieces }))
vi.mock('@/ports/access', () => ({
  onReceived: (hear: (bytes: number[]) => void) => (midi.push(hear), () => midi.splice(midi.indexOf(hear), 1)),
}))
vi.mock('@/sound/output', () => ({ prepare: () => undefined }))

const block = (pattern: number, count = 1) => ({ pattern, count, at: 0, beats: 4, start: 0, speed: '1' })
const state = (
  revision: number, chosen: number | null, blocks = [block(11), block(12, 2), block(11)],
  between: [number, number] | null = null,
) =>
  ({
    revision, heads: {}, history: { undo: `change ${revision}`, redo: null }, view: { blocks, between, chosen },
  }) as unknown as OrderState

let server: FakeServer
let order: ReturnType<typeof useOrder>
let scope: EffectScope | undefined
const acts = { edit: vi.fn(), close: vi.fn() }
function key(type: 'keydown' | 'keyup', code: string, more: KeyboardEventInit = {}): void {
  const named = code.replace(/^(Digit|Key)/, '')
  document.body.dispatchEvent(
    new KeyboardEvent(type, {
      code, key: more.shiftKey ? named : named.length === 1 ? named.toLowerCase() : named, bubbles: true,
      cancelable: true, ...more,
    }),
  )
}
/** What a key stores, answered. */
async function stored(code: string, more: KeyboardEventInit, then: number): Promise<OrderEdit[]> {
  key('keydown', code, more)
  const call = await server.next('order/edits')
  await call.answer(state(order.state ? order.state.revision + 1 : 1, then))
  return call.body.edits as OrderEdit[]
}

beforeEach(async () => {
  localStorage.clear()
  scope?.stop()
  setActivePinia(createPinia())
  server = new FakeServer()
  order = useOrder()
  const opening = order.open(3)
  await (await server.next('pieces/3/order')).answer(state(1, 0))
  await opening
  Object.assign(hands, reactive({ playing: true, whileHeld: false }), {
    toggle: vi.fn(), goTo: vi.fn(), comeBack: vi.fn(), press: vi.fn(), release: vi.fn(), backToOrder: vi.fn(),
  })
  scope = effectScope()
  scope.run(() => useOrderKeys(acts))
})

test('the block that keys are on is moved, doubled, lengthened, bracketed and taken out', async () => {
  key('keydown', 'ArrowRight')
  await (await server.next('pieces/3/order')).answer(state(1, 1))
  expect(order.chosen).toBe(1)
  expect(await stored('ArrowLeft', { altKey: true }, 0)).toEqual([{ do: 'move_block', block: 1, to: 0 }])
  expect(order.chosen, 'and is still the chosen one').toBe(0)
  expect(await stored('KeyD', {}, 1)).toEqual([{ do: 'duplicate_block', block: 0 }])
  expect(await stored('', { key: ']' }, 1)).toEqual([{ do: 'set_length', block: 1, count: 3 }])
  expect(await stored('KeyB', {}, 1)).toEqual([{ do: 'between', blocks: [1, 1] }])
  expect(await stored('Delete', {}, 1)).toEqual([{ do: 'remove_block', block: 1 }])
  key('keydown', 'Enter')
  key('keydown', 'Escape')
  expect([acts.edit.mock.calls.length, acts.close.mock.calls.length]).toEqual([1, 1])
})

test('brackets grow as far as another block, and a bracketed block loses them', async () => {
  order.state = state(1, 0, undefined, [1, 1])
  expect(await stored('KeyB', { shiftKey: true }, 0)).toEqual([{ do: 'between', blocks: [0, 1] }])
  order.state = state(2, 0, undefined, [0, 1])
  expect(await stored('KeyB', {}, 0)).toEqual([{ do: 'between', blocks: null }])
})

test('a key leads to its pattern, to stay or while it is held; a window that is left lets go', () => {
  key('keydown', 'Digit2')
  expect(hands.goTo).toHaveBeenLastCalledWith(12, false)
  key('keyup', 'Digit2')
  expect(hands.comeBack).not.toHaveBeenCalled()
  key('keydown', 'Digit3', { shiftKey: true })
  expect(hands.goTo).toHaveBeenLastCalledWith(13, true)
  key('keyup', 'Digit3')
  expect(hands.comeBack).toHaveBeenLastCalledWith(13)
  key('keydown', 'KeyZ')
  key('keydown', 'KeyV')
  key('keydown', 'KeyV', { repeat: true })
  expect(vi.mocked(hands.press).mock.calls).toEqual([['repeat'], ['silence']])
  window.dispatchEvent(new Event('blur'))
  expect(vi.mocked(hands.release).mock.calls).toEqual([['repeat'], ['silence']])
  key('keydown', 'Digit9')
  expect(hands.goTo, 'there is no ninth').toHaveBeenCalledTimes(2)
})

test('notes of a MIDI keyboard lead to patterns too', () => {
  hands.whileHeld = true
  const [hear] = midi
  hear?.([0x90, 37, 100])
  expect(hands.goTo).toHaveBeenLastCalledWith(12, true)
  hear?.([0x90, 37, 0])
  expect(hands.comeBack).toHaveBeenLastCalledWith(12)
  hear?.([0x90, 35, 100])
  hear?.([0xb0, 36, 100])
  expect(hands.goTo, 'no pattern is there').toHaveBeenCalledOnce()
})

test('changes wait for each other, and what was overtaken elsewhere is told', async () => {
  void order.preview([{ do: 'remove_block', block: 0 }])
  const look = await server.next('order/look')
  const [one, two] = [
    order.commit([{ do: 'remove_block', block: 0 }]), order.commit([{ do: 'duplicate_block', block: 0 }]),
  ]
  await (await server.next('order/edits')).answer(state(2, 0, [block(12)]))
  await look.answer({ blocks: [], between: null, chosen: null })
  expect(order.view?.blocks.length, 'a look that came too late').toBe(1)
  const second = await server.next('order/edits')
  expect(second.body.revision).toBe(2)
  await second.answer(
    { detail: 'It was changed in another tab.', tried: 'block doubled', state: state(7, 0, [block(13)]) }, 409,
  )
  expect(await Promise.all([one, two])).toEqual([true, false])
  expect([order.state?.revision, useNotices().current?.text]).toEqual([
    7, 'It was changed in another tab. Yours was: block doubled.',
  ])
  void order.undo()
  await (await server.next('order/undo')).answer(state(8, 0))
  expect(order.state?.revision).toBe(8)
})

test('another piece is opened: an answer that is late changes nothing of it', async () => {
  const done = order.commit([{ do: 'remove_block', block: 0 }])
  const late = await server.next('order/edits')
  const opening = order.open(4)
  await late.answer(state(2, 0, [block(12)]))
  await done
  await (await server.next('pieces/4/order')).answer(state(1, 0, [block(77)]))
  await opening
  expect(order.view?.blocks.map(({ pattern }) => pattern)).toEqual([77])
})

test('views are asked for once, where they are wanted, and kept; trouble is said and asked for again later', async () => {
  vi.useFakeTimers({ toFake: ['setTimeout'], shouldAdvanceTime: true, advanceTimeDelta: 50 })
  const trouble = vi.fn()
  const scores = new Scores(trouble)
  const score = scores.of(11, 4, [])
  expect(scores.of(11, 4, [])).toBe(score)
  expect(scores.of(11, 5, [])).not.toBe(score)
  expect([scores.view(score, 33.5), scores.view(score, 33.5)]).toEqual([null, null])
  const call = await server.next('patterns/11/look')
  expect([call.body, server.open]).toEqual([{ revision: 4, edits: [], start: 33, end: 65, chosen: null, have: [] }, []])
  await call.answer({ start: 33, end: 65, lanes: [] })
  expect(scores.view(score, 64.9)).toMatchObject({ start: 33 })
  expect(scores.view(score, 65)).toBe(null)
  await (await server.next('patterns/11/look')).answer({ detail: 'Gone.' }, 404)
  await settle()
  expect(trouble).toHaveBeenCalledOnce()
  scores.view(score, 65)
  expect(server.open, 'not at once').toEqual([])
  vi.advanceTimersByTime(2100)
  await settle()
  scores.view(score, 65)
  expect((await server.next('patterns/11/look')).body.start).toBe(65)
  vi.useRealTimers()
})
