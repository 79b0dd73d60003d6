import { expect, test } from 'vitest'
import { readValues, written, type Value } from './written'

test('values are read as they are written', () => {
  const values: Value[] = [96, -3, 0.5, [60, 90], [-4, -1], { all: [0, 2, 4] }, { all: [-2, 0] }, { all: 'chord' }]
  expect(readValues(values.map(written).join(' '))).toEqual({ values })
  expect(readValues('96, 60-90  -3..5;2 Chord')).toEqual({ values: [96, [60, 90], [-3, 5], 2, { all: 'chord' }] })
  expect(readValues('96 loud 3')).toEqual({ wrong: 'loud' })
  expect(readValues('96 1+')).toEqual({ wrong: '1+' })
})
