import { describe, expect, it } from 'vitest'
import type { ClipView } from '@/api/client'
import { Drums } from '@/drum/drums'
import { inParts, silentAt } from './parts'
import { rounds, scored } from './scored'
import { Tape } from './tape'
import { pcm, quantised, wavHead } from './wav'

const view = (changes: ClipView['changes'] = []): ClipView => ({
  tempo: 97.3, beats: 32, marks: [{ time: 16, tempo: 120 }],
  lanes: [{ id: 'bells', name: 'Bells', kind: 'pitched', channel: 3, sound: { by: 'bell', set: {} }, sounds: [] }],
  notes: Array.from({ length: 32 }, (_, i) => [i + (i % 3) / 7, 0.5, 60, 90, 0, 0]),
  changes,
} as unknown as ClipView)
const drums = new Drums(48_000)

describe('what is rendered', () => {
  it('begins where a MIDI file has it: at its ticks, and its microseconds in a beat', () => {
    const { notes, frames } = scored(view(), 48_000, () => 100)
    const tick = Math.round((1 + 1 / 7) * 960) / 960
    expect(notes[1]?.frame).toBe(Math.round((tick * 616_650 * 48_000) / 1e6)) // 60e6 / 97.3 is 616,649.5
    expect(frames).toBe(Math.round(16 * 0.61665 * 48_000 + 16 * 0.5 * 48_000))
    // The tick nearest to a seventh of a beat.
    const between = scored(view(), 48_000, () => 100, [16, 20])
    expect([between.notes.length, between.notes[0]?.frame, between.frames]).toEqual([
      4, Math.round((137 / 960) * 24_000), 96_000,
    ])
  })
  it('goes round and round in the order of time', () => {
    expect([...rounds([{ frame: 0 }, { frame: 7 }], 10, 28)].map(({ frame }) => frame)).toEqual([0, 7, 10, 17, 20, 27])
  })
  it('is cut into parts that hold each note once, and last until all of it is silent', () => {
    const score = scored(view(), 48_000, () => 100)
    const parts = inParts(score, drums, false, 3)
    expect(parts.length).toBeGreaterThan(4)
    expect(parts.flatMap(({ notes }) => notes)).toEqual(score.notes)
    expect([parts[0]?.from, ...parts.map(({ to }) => to)]).toEqual([...parts.map(({ from }) => from), score.frames])
    for (const { from, to, end, notes } of parts) {
      for (const note of notes) {
        expect(note.frame).toBeGreaterThanOrEqual(from)
        expect(note.frame).toBeLessThan(to)
        expect(silentAt(note, score, drums, false)).toBeLessThanOrEqual(end)
      }
    }
  })
  it('waits for the pedal, at the latest until the end', () => {
    const last = (changes: ClipView['changes'], wraps = false) => {
      const score = scored(view(changes), 48_000, () => 100)
      const [first] = score.notes
      return (first ? silentAt(first, score, drums, wraps) : 0) - score.frames
    }
    expect(last([])).toBeLessThan(-48_000 * 10)
    expect(last([[0, 64, 127, 0]])).toBeGreaterThan(0)
    expect(last([[0, 64, 127, 0], [4, 64, 0, 0]])).toBeLessThan(-48_000 * 10)
    expect(last([[1, 64, 0, 0], [2, 64, 127, 0]], true)).toBeLessThan(0)
  })
})

describe('a sound file', () => {
  it('has lanes that are exactly the whole together, each within one of its own', () => {
    const rows = Array.from({ length: 24 }, (_, row) =>
      Float32Array.from({ length: 999 }, (_, i) => Math.sin(i * (row + 1)) / 30))
    const found = quantised(rows, 0.9, 16)
    for (let i = 0; i < 999; i += 1) {
      const sum = rows.reduce((total, row) => total + (row[i] ?? 0) * 0.9 * 32_768, 0)
      expect(found.reduce((total, row) => total + (row[i] ?? 0), 0)).toBe(Math.round(sum) + 0)
    }
    found.forEach((row, place) => row.forEach((whole, i) =>
      expect(Math.abs(whole - (rows[place]?.[i] ?? 0) * 0.9 * 32_768)).toBeLessThan(1 + 1e-9)))
  })
  it('is of bytes that say their length, low byte first', () => {
    expect([...pcm(Int32Array.of(-2, 0x1234), 16)]).toEqual([0xfe, 0xff, 0x34, 0x12])
    expect([...pcm(Int32Array.of(-2, 0x123456), 24)]).toEqual([0xfe, 0xff, 0xff, 0x56, 0x34, 0x12])
    const head = new DataView(wavHead(10, 44_100, 24).buffer)
    expect([head.getUint32(4, true), head.getUint32(40, true), head.getUint16(32, true)]).toEqual([96, 60, 6])
  })
  it('keeps what is done, and adds what rings over', async () => {
    const tape = new Tape()
    tape.add([Float32Array.of(1, 2, 3), Float32Array.of(4, 5, 6)])
    tape.finish(2)
    tape.add([Float32Array.of(1, 1), Float32Array.of(1, 1)])
    tape.finish(1)
    expect([...(await tape.part(0)), ...(await tape.part(1)), ...tape.tail()]).toEqual([1, 4, 2, 5, 4, 7, 1, 1])
  })
})
