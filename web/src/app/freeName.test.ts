import { expect, test } from 'vitest'
import { freeName } from './freeName'

test('a name that is taken is counted on', () => {
  expect(freeName('Bloom', [])).toBe('Bloom')
  expect(freeName('Bloom', ['Bloom'])).toBe('Bloom 2')
  expect(freeName('Bloom 2', ['Bloom', 'Bloom 2', 'Bloom 3'])).toBe('Bloom 4')
  expect(freeName('Pattern 1', ['Pattern 1', 'Pattern 3'])).toBe('Pattern 2')
})
