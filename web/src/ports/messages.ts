/** MIDI 1.0 messages as bytes, and in words. Channels count from 1. */
export const NOTE_OFF = 0x80
export const NOTE_ON = 0x90
export const CONTROL = 0xb0
export const PRESSURE = 0xd0
export const BEND = 0xe0
export const POSITION = 0xf2
export const CLOCK = 0xf8
export const START = 0xfa
export const CONTINUE = 0xfb
export const STOP = 0xfc
export const ALL_NOTES_OFF = 123
/** Clock messages in a quarter note. */
export const CLOCKS_A_BEAT = 24

export const noteOn = (channel: number, pitch: number, velocity: number): number[] =>
  [NOTE_ON + channel - 1, pitch, velocity]
export const noteOff = (channel: number, pitch: number): number[] => [NOTE_OFF + channel - 1, pitch, 0]
/** A controller, pitch bend (-8192 to 8191) or channel pressure. */
export function control(channel: number, number: number | string, value: number): number[] {
  if (number === 'bend') return [BEND + channel - 1, (value + 8192) & 127, (value + 8192) >> 7]
  if (number === 'pressure') return [PRESSURE + channel - 1, value]
  return [CONTROL + channel - 1, Number(number), value]
}
/** A song position, in beats. */
export function position(beats: number): number[] {
  const sixteenths = Math.min(16_383, Math.max(0, Math.round(beats * 4)))
  return [POSITION, sixteenths & 127, sixteenths >> 7]
}

/** A message as people read it. */
export function told([status = 0, a = 0, b = 0]: readonly number[]): string {
  const channel = `channel ${(status & 15) + 1}`
  if (status === CLOCK) return 'clock'
  if (status === START) return 'start'
  if (status === CONTINUE) return 'continue'
  if (status === STOP) return 'stop'
  if (status === POSITION) return `position ${(a + (b << 7)) / 4} beats`
  const kind = status & 0xf0
  if (kind === NOTE_ON && b > 0) return `note on ${a}, velocity ${b}, ${channel}`
  if (kind === NOTE_OFF || kind === NOTE_ON) return `note off ${a}, ${channel}`
  if (kind === CONTROL) return a === ALL_NOTES_OFF ? `all notes off, ${channel}` : `controller ${a} to ${b}, ${channel}`
  if (kind === BEND) return `pitch bend ${a + (b << 7) - 8192}, ${channel}`
  if (kind === PRESSURE) return `pressure ${a}, ${channel}`
  return [status, a, b].map((byte) => byte.toString(16)).join(' ')
}
