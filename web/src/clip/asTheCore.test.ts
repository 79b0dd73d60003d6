/**
 * What the page works out by itself while a hand drags is what the core makes of it then: cases that the core has made.
 */
import { expect, test } from 'vitest'
import type { ClipView, Lane } from '@/api/client'
import { noteName } from '@/melody/noteName'
import { degreesBetween } from '@/melody/rungs'
import cases from '@testing/cases.json'
import { moved, type Move } from './moved'

type Scale = NonNullable<Lane['scale']>

test('notes are called alike', () => {
  for (const { scale, called } of cases.names) {
    expect(called.map((_, pitch) => noteName(scale as Scale, pitch))).toEqual(called)
  }
})

test('so many degrees of the scale lie between two notes', () => {
  for (const { scale, from, to } of cases.steps) {
    const rungs = { ...scale, low: 0, high: 127, chords: [] }
    expect(
      to.map((pitch) => degreesBetween(rungs, from, pitch)), `${from} ${scale.notes}`,
    ).toEqual(to.map((_, i) => i + 1))
  }
})

test('notes are moved alike', () => {
  for (const { scale, chosen, move, before, after } of cases.moves) {
    const view = {
      notes: before, scale, beats: 4, lanes: [{ kind: 'drum' }, { kind: 'pitched' }],
    } as unknown as ClipView
    const hand: Move =
      move.do === 'lengthen_notes' ? { longer: move.by } : move.do === 'louden_notes' ? { louder: move.by } : move
    const { notes } = moved(view, chosen, hand, move.copy_them)
    const inOrder = [...notes].sort((a, b) => a.map((each, i) => each - (b[i] ?? 0)).find((apart) => apart !== 0) ?? 0)
    expect(inOrder, JSON.stringify([move, scale.notes])).toEqual(after)
  }
})
