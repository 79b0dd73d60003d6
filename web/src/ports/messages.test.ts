import { expect, test } from 'vitest'
import { control, noteOff, noteOn, position, told } from './messages'

// Known bytes of MIDI 1.0.
test.each([
  [noteOn(10, 36, 100), [0x99, 36, 100], 'note on 36, velocity 100, channel 10'],
  [noteOff(1, 60), [0x80, 60, 0], 'note off 60, channel 1'],
  [control(16, 74, 127), [0xbf, 74, 127], 'controller 74 to 127, channel 16'],
  [control(1, 'bend', 0), [0xe0, 0, 64], 'pitch bend 0, channel 1'],
  [control(1, 'bend', 8191), [0xe0, 127, 127], 'pitch bend 8191, channel 1'],
  [control(1, 'bend', -8192), [0xe0, 0, 0], 'pitch bend -8192, channel 1'],
  [control(3, 'pressure', 9), [0xd2, 9], 'pressure 9, channel 3'],
  [position(32.5), [0xf2, 2, 1], 'position 32.5 beats'],
  [position(1e9), [0xf2, 127, 127], 'position 4095.75 beats'],
])('%j', (bytes, known, words) => {
  expect(bytes).toEqual(known)
  expect(told(bytes)).toBe(words)
})
