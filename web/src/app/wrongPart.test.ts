import { expect, test } from 'vitest'
import { wrongPart } from './wrongPart'

test('what a refusal quotes is marked in the text, and all of it where nothing is quoted', () => {
  expect(wrongPart('ii V7 Xq I', 'Chord 3, “Xq”, is not known; write it as ii7 or Dm7.')).toEqual([6, 8])
  expect(wrongPart('500', 'The tempo goes from 20 to 400.')).toEqual([0, 3])
  expect(wrongPart('5/3', '“major” and “5/3” do not go together.')).toEqual([0, 3])
})
