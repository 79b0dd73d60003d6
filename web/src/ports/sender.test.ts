/** Whatever is sent, cut short or silenced: each note that begins ends, and none begins twice. */
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { settings } from './access'
import { CONTROL, NOTE_OFF, NOTE_ON, STOP } from './messages'

const quiet = { hidden: false, addEventListener: () => undefined }
vi.stubGlobal('document', quiet)
vi.stubGlobal('window', quiet)
const { flush, sendControl, sendNote, silence } = await import('./sender')

/** A port that writes down what it is sent. */
function port(id: string) {
  const sent: { bytes: readonly number[]; time: number; ahead: number }[] = []
  return {
    id, name: id, sent,
    send: (bytes: readonly number[], time: number) => void sent.push({ bytes, time, ahead: time - performance.now() }),
  }
}
/** Numbers that look random and are the same each time. */
function chances(seed: number) {
  let state = seed
  return (below: number) => ((state = (state * 1_103_515_245 + 12_345) % 2 ** 31) >> 8) % below
}
/** Let time go by, the clock of the sound library ticking. */
function pass(milliseconds: number): void {
  for (let i = 0; i < milliseconds; i += 25) {
    vi.advanceTimersByTime(25)
    flush()
  }
}
beforeEach(() => void vi.useFakeTimers())
afterEach(() => {
  silence()
  settings.value.lead = 0
  vi.useRealTimers()
})

test.each(Array.from({ length: 40 }, (_, seed) => seed))('every note-on has its note-off, seed %i', (seed) => {
  const draw = chances(seed + 1)
  const ports = [port('a'), port('b')]
  for (let round = 0; round < 60; round += 1) {
    const to = ports[draw(2)] ?? port('')
    const at = performance.now() + 150 + draw(300) // nothing begins sooner than that after a silence
    for (let i = 0; i < 3; i += 1) {
      sendNote(to, { channel: 1 + draw(3), pitch: 60 + draw(4), velocity: 1 + draw(127) }, at + draw(50), 5 + draw(400))
    }
    if (draw(4) === 0) sendControl(to, 1, 74, draw(128), at)
    pass(draw(200))
    if (draw(9) === 0) silence()
  }
  pass(1500)
  for (const { sent } of ports) {
    const sounding = new Set<string>()
    for (const { bytes: [status = 0, pitch = 0] } of [...sent].sort((a, b) => a.time - b.time)) {
      const key = `${status & 15}/${pitch}`
      if ((status & 0xf0) === NOTE_ON) {
        expect(sounding.has(key)).toBe(false)
        sounding.add(key)
      } else if ((status & 0xf0) === NOTE_OFF) sounding.delete(key)
    }
    expect([...sounding]).toEqual([])
    expect(Math.min(...sent.map(({ ahead }) => ahead))).toBeGreaterThanOrEqual(0)
  }
})

test('at one time, ends come before controllers and those before beginnings', () => {
  const to = port('a')
  const at = performance.now() + 200
  sendNote(to, { channel: 2, pitch: 60, velocity: 90 }, at, 100)
  sendNote(to, { channel: 2, pitch: 62, velocity: 90 }, at + 100, 100)
  sendControl(to, 2, 1, 64, at + 100)
  pass(600)
  expect(to.sent.map(({ bytes: [status = 0], time }) => [status & 0xf0, time - at])).toEqual(
    [[NOTE_ON, 0], [NOTE_OFF, 100], [CONTROL, 100], [NOTE_ON, 100], [NOTE_OFF, 200]])
})

test('what waits is taken back by stop, and what sounds is ended', () => {
  const to = port('simulated')
  settings.value.lead = 30
  const at = performance.now() + 50
  sendNote(to, { channel: 1, pitch: 60, velocity: 90 }, at, 5000)
  sendNote(to, { channel: 1, pitch: 64, velocity: 90 }, at + 1000, 100)
  pass(50)
  expect(to.sent).toHaveLength(1)
  expect(to.sent[0]?.time).toBe(at - 30)
  silence(true)
  pass(3000)
  expect(to.sent.map(({ bytes }) => bytes[0])).toEqual([NOTE_ON, NOTE_OFF, CONTROL])
  expect(to.sent.some(({ bytes }) => bytes[0] === STOP)).toBe(false)
})
