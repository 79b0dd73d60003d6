// @vitest-environment happy-dom
/** Words that are tied to controllers and keys. */
import { beforeEach, expect, test, vi } from 'vitest'
import { reactive } from 'vue'
import type { Edit } from '@/api/client'
import { useTies } from './ties'

const { open } = vi.hoisted(() => ({
  open: {
    pattern: {} as Pattern,
    player: {} as { playing: boolean; at: number; scheduledBeat: () => number; hearChange: () => void },
  },
}))
interface Pattern {
  id: number
  view: object
  preview: ReturnType<typeof vi.fn>
  commit: ReturnType<typeof vi.fn>
}
vi.mock('@/pattern/pattern', () => ({ usePattern: () => open.pattern }))
vi.mock('@/sound/player', () => ({ usePlayer: () => open.player }))

const word = { slot: 'velocity', label: 'velocity', value: 70, low: 1, high: 127, step: 1, options: [] }
const choice = {
  slot: 'reads', label: 'reading', value: 'loop', low: null, high: null, step: 1,
  options: [{ value: 'loop' }, { value: 'bend' }, { value: 'random' }],
}
const committed = () => open.pattern.commit.mock.lastCall?.[0] as Edit[]
const tried = () => open.pattern.preview.mock.lastCall?.[0] as Edit[]

beforeEach(() => {
  open.pattern = reactive({
    id: 7, view: {
      frame_beats: 4, sentence: { clauses: [] },
      chosen: { lane: 'fern', sentence: { clauses: [{ parts: ['At ', word, choice] }] } },
    },
    preview: vi.fn(() => Promise.resolve()), commit: vi.fn(() => Promise.resolve(true)),
  })
  open.player = reactive({ playing: false, at: 0, scheduledBeat: () => open.player.at, hearChange: vi.fn() })
})

test('a word is tied to the next controller that is turned, follows it, and is stored when the hand is quiet', () => {
  vi.useFakeTimers()
  const { ties, learning, wordAt, turned } = useTies()
  document.body.innerHTML =
    '<p class="lane-words"><b data-slot="velocity">70</b><b data-slot="reads">loop</b><b data-slot="gone">?</b></p>'
  const at = (slot: string) => document.querySelector<HTMLElement>(`[data-slot=${slot}]`) as HTMLElement
  const knob = { kind: 'cc', channel: 1, number: 20 } as const
  expect([wordAt(at('gone')), turned(knob, 64)]).toEqual([false, false])
  expect([
    wordAt(at('velocity')), learning.value, turned(knob, 64), learning.value,
  ]).toEqual([true, 'source', true, null])
  const key = { kind: 'key', channel: 1, number: 60 } as const
  wordAt(at('reads'))
  turned(key, 100)
  expect(ties.value.map(({ slot, kind }) => [slot, kind])).toEqual([['velocity', 'cc'], ['reads', 'key']])
  const set = (slot: string, value: unknown) => ({ do: 'set', lane: 'fern', slot, value, also: [] })
  for (const [value, to] of [[0, 1], [127, 127], [64, 64]] as const) {
    turned(knob, value)
    expect(tried()).toEqual([set('velocity', to)])
  }
  turned(key, 100)
  expect(tried()).toEqual([set('velocity', 64), set('reads', 'bend')])
  expect(open.pattern.commit).not.toHaveBeenCalled()
  vi.advanceTimersByTime(400)
  expect(committed()).toEqual([set('velocity', 64), set('reads', 'bend')])
  turned(knob, 10)
  expect(tried(), 'what was stored is not sent again').toEqual([set('velocity', 11)])
  open.pattern.id = 8
  expect(turned(knob, 10), 'of another pattern').toBe(false)
  vi.useRealTimers()
})
