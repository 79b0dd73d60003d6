import { expect, test } from 'vitest'
import { namesOf, noteName } from './noteName'
import { degreesBetween, type Rungs } from './rungs'

const dorian = {
  root: 2, notes: [0, 2, 3, 5, 7, 9, 10], names: ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'B♭', 'B'],
  degrees: ['7th', null, 'root', null, '2nd', '3rd', null, '4th', null, '5th', null, '6th'],
}
const lane = {
  kind: 'pitched', scale: dorian, controller: null, sound: { by: 'bell', set: {}, own: null, choked_by: null },
} as const

test('notes are called by their key, drums by their map, controllers by their value', () => {
  expect(noteName(dorian, 57)).toBe('A3, 5th')
  expect(noteName(dorian, 61)).toBe('C♯4, out of key')
  expect(noteName(null, 60)).toBe('C4')
  expect(namesOf(lane, [62, 65, 62], {})).toBe('D4, root · F4, 3rd')
  expect(namesOf({ ...lane, kind: 'drum' }, [42, 99], { 42: 'Closed hi-hat' })).toBe('Closed hi-hat · D♯7')
  expect(namesOf({ ...lane, kind: 'control', controller: 'brightness (74)' }, [63.6], {})).toBe('brightness (74) 64')
})

test('a wedge moves by the scale’s notes that it crosses, by one at least', () => {
  const rungs: Rungs = { ...dorian, low: 50, high: 74, chords: [] }
  expect(degreesBetween(rungs, 62, 74)).toBe(7)
  expect(degreesBetween(rungs, 62, 65)).toBe(2)
  expect(degreesBetween(rungs, 62, 63)).toBe(1)
})
