import { expect, test } from 'vitest'
import type { InParts } from '@/api/client'
import { useParts } from './inParts'

const answer = (view: object, parts: object) => ({ view, parts }) as unknown as InParts
const lane = (stamp: string) => ({ tempo: 98, chords: { part: 'none' }, lanes: [{ part: 'pump' }, { part: stamp }] })

const assembledOf = (view: object, parts: object) => useParts().assembled(answer(view, parts))

test('parts that were sent once stay the same objects, those within others too', () => {
  const { have, assembled } = useParts()
  expect(have()).toEqual([])
  const first = assembled(answer(lane('drip'), {
    none: [], pump: { id: 'pump', drawn: { part: 'p1' } }, p1: { cells: [0, 1], hits: [[0, [1]]] },
    drip: { id: 'drip', drawn: { part: 'p1' } },
  }))
  expect(first).toEqual({
    tempo: 98, chords: [], lanes: [
      { id: 'pump', drawn: { cells: [0, 1], hits: [[0, [1]]] } },
      { id: 'drip', drawn: { cells: [0, 1], hits: [[0, [1]]] } },
    ],
  })
  expect(new Set(have())).toEqual(new Set(['none', 'pump', 'p1', 'drip']))
  const second = assembled(
    answer(lane('other'), { other: { id: 'drip', drawn: { part: 'p2' } }, p2: { cells: [5], hits: [] } }),
  )
  expect(second.lanes[0]).toBe(first.lanes[0])
  expect(second.lanes[1]).not.toBe(first.lanes[1])
  expect(new Set(have())).toEqual(new Set(['none', 'pump', 'p1', 'other', 'p2']))
})

test('an answer that was overtaken is still whole, and one that names what is long gone is an error', () => {
  const { assembled } = useParts()
  const parts = (stamp: string) => ({ none: [], pump: { id: 'pump' }, [stamp]: { id: stamp } })
  for (const stamp of ['a', 'b', 'c']) assembled(answer(lane(stamp), parts(stamp)))
  expect(assembled(answer(lane('a'), {})).lanes[1]).toEqual({ id: 'a' })
  for (let each = 0; each < 32; each += 1) assembled(answer(lane(`d${each}`), parts(`d${each}`)))
  expect(() => assembled(answer(lane('a'), {}))).toThrow('missing')
})

test('a part may stand anywhere in a part, beside plain text too', () => {
  const view = assembledOf({ sentence: { clauses: [{ part: 'c' }] } }, {
    c: { parts: ['Spread ', { slot: 'steps', options: { part: 'o' } }] }, o: [{ value: 8 }],
  })
  expect(view).toEqual({ sentence: { clauses: [{ parts: ['Spread ', { slot: 'steps', options: [{ value: 8 }] }] }] } })
})

test('a whole view is what it is', () => {
  const view = { tempo: 98, lanes: [] } as never
  expect(useParts().assembled(view)).toBe(view)
})
