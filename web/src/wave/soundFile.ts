/**
 * A sound file of what leaves: rendered offline by the very sounds that are heard, faster than it plays, the same bytes
 * each time. The limiter that guards ears is left out, so that lanes add up to the whole; what would be too loud is
 * made softer as a whole.
 */
import { downloadZip } from 'client-zip'
import { Refusal } from '@/api/client'
import { Drums } from '@/drum/drums'
import { inParts, type Part } from './parts'
import { MOST_LANES, renderPart } from './renderPart'
import { rowsOf, type Scored } from './scored'
import { Tape } from './tape'
import { MOST_WAV, pcm, quantised, wavHead, type Bits } from './wav'

export interface Wanted {
  bits: Bits
  /** Each lane as a file, in a .zip. */
  lanes: boolean
  /** What rings on at the end is laid under the beginning; or else the file is longer by it. */
  seamless: boolean
}
/** How far it is, of how much; asked before each piece of work, which is not begun once `stopped`. */
export interface Progress {
  at: (done: number, of: number) => void
  stopped: () => boolean
}
export interface Made {
  blob: Blob
  /** By how many decibels it was made softer, so that no sample is cut. */
  softer: number
}
/** Samples stay below this. */
const CEILING = 0.98
/** In bytes: what is at hand at once, and what is kept meanwhile, at the most. */
const AT_HAND = 96 * 2 ** 20
const MOST_RINGING = 768 * 2 ** 20
const MOST_KEPT = 2 ** 31
const PER_FRAME = 8
/** So many batches are rendered at once, each in a thread of its own. */
const AT_ONCE = 4
const ZIPPED_ON = new Date(1980, 0, 1)

/** Make it, with files for lanes under these names; null where it was stopped. A Refusal says why it is too much. */
export async function soundFile(
  scored: Scored, wanted: Wanted, names: readonly string[], progress: Progress,
): Promise<Made | null> {
  const { rate, frames } = scored
  const rows = rowsOf(scored.notes)
  const tapes = wanted.lanes ? rows.map(() => new Tape()) : [new Tape()]
  if (!rows.length) throw new Refusal('There is no note in it, so there is nothing to hear; take another stretch.', 422)
  check(frames * PER_FRAME * tapes.length <= MOST_KEPT && frames * 6 <= MOST_WAV, wanted.lanes)
  const drums = new Drums(rate)
  const struck = scored.notes.filter(({ note }) => !note.pitched).map(({ note }) => note)
  await drums.prepare(struck)
  if (!struck.every((drum) => drums.of(drum))) {
    throw new Refusal('A recording cannot be had while the server is away; try it again in a moment.', 0)
  }
  const parts = inParts(scored, drums, wanted.seamless)
  const longestPart = Math.max(...parts.map(({ from, end }) => end - from))
  check(longestPart * PER_FRAME * (tapes.length + 1) <= MOST_RINGING, wanted.lanes)
  const work = parts.map((part) => ({ part, turns: together(batches(part)) }))
  const of = work.reduce((count, { turns }) => count + turns.length, 0) + 2 * parts.length
  let done = 0
  for (const { part, turns } of work) {
    for (const turn of turns) {
      progress.at(done++, of)
      if (progress.stopped()) return null
      const rendered = await Promise.all(turn.map((batch) => renderPart(scored, part, batch, drums, wanted.seamless)))
      // In the order of lanes, whichever came first, so that sums are the same each time.
      for (const [row, sides] of rendered.flatMap((each) => [...each])) {
        tapes[wanted.lanes ? rows.indexOf(row) : 0]?.add(sides)
      }
    }
    tapes.forEach((tape) => tape.finish(part.to - part.from))
  }

  const tails = tapes.map((tape) => tape.tail())
  const numbers = [...parts.keys()]
  const chunk = async (number: number): Promise<Float32Array[]> => {
    const found = await Promise.all(tapes.map((tape) => tape.part(number)))
    if (wanted.seamless) found.forEach((samples, i) => wrap(samples, parts[number]?.from ?? 0, frames, tails[i]))
    return found
  }
  let peak = wanted.seamless ? 0 : loudest(tails)
  for (const number of numbers) {
    progress.at(done++, of)
    if (progress.stopped()) return null
    peak = Math.max(peak, loudest(await chunk(number)))
  }
  const gain = Math.min(1, CEILING / (peak || 1))
  const blobs: Blob[][] = tapes.map(() => [])
  const lay = (samples: Float32Array[]) => quantised(samples, gain, wanted.bits).forEach((whole, i) => {
    blobs[i]?.push(new Blob([pcm(whole, wanted.bits)]))
  })
  for (const number of numbers) {
    progress.at(done++, of)
    if (progress.stopped()) return null
    lay(await chunk(number))
  }
  const rings = wanted.seamless ? 0 : ringing(tails, gain, wanted.bits)
  if (rings) lay(tails.map((tail) => filled(tail, 2 * rings)))
  const head = wavHead(frames + rings, rate, wanted.bits)
  const files = blobs.map((each) => new Blob([head, ...each], { type: 'audio/wav' }))
  return {
    blob: wanted.lanes
      ? await downloadZip(files.map((input, i) => ({
        name: `${names[rows[i] ?? 0] ?? `lane ${i + 1}`}.wav`, input, lastModified: ZIPPED_ON,
      }))).blob()
      : files[0] ?? new Blob(),
    softer: gain < 1 ? -20 * Math.log10(gain) : 0,
  }
}

function check(fits: boolean, lanes: boolean): void {
  if (fits) return
  const instead = lanes ? 'take fewer bars, or the whole as one file' : 'take fewer bars'
  throw new Refusal(`That is more sound than can be kept at hand here; ${instead}.`, 422)
}

const inSlices = <T>(row: readonly T[], most: number): T[][] =>
  Array.from({ length: Math.ceil(row.length / most) }, (_, i) => row.slice(i * most, (i + 1) * most))
/** The rows of a part, so many to a batch as fit, and no more than give every thread one. */
function batches({ notes, from, end }: Part): number[][] {
  const rows = rowsOf(notes)
  const fit = Math.floor(AT_HAND / AT_ONCE / ((end - from) * PER_FRAME))
  return inSlices(rows, Math.max(1, Math.min(MOST_LANES, fit, Math.ceil(rows.length / AT_ONCE))))
}
/** Batches that are rendered at the same time. */
const together = (all: number[][]): number[][][] => inSlices(all, AT_ONCE)

/** Lay what rings on after `frames` under samples from a frame on, as often as it goes round. */
function wrap(samples: Float32Array, from: number, frames: number, tail: Float32Array = new Float32Array(0)): void {
  for (let i = 0; i < samples.length; i += 1) {
    for (let at = 2 * from + i; at < tail.length; at += 2 * frames) samples[i] = (samples[i] ?? 0) + (tail[at] ?? 0)
  }
}

/** The peak of several rows, and of all together. */
function loudest(rows: readonly Float32Array[]): number {
  let peak = 0
  const length = Math.max(...rows.map((row) => row.length))
  for (let i = 0; i < length; i += 1) {
    let sum = 0
    for (const row of rows) {
      const sample = row[i] ?? 0
      sum += sample
      peak = Math.max(peak, Math.abs(sample))
    }
    peak = Math.max(peak, Math.abs(sum))
  }
  return peak
}

/** How many frames of tails are heard in so many bits. */
function ringing(tails: readonly Float32Array[], gain: number, bits: Bits): number {
  const least = 0.5 / 2 ** (bits - 1) / gain
  const last = Math.max(-1, ...tails.map((tail) => tail.findLastIndex((sample) => Math.abs(sample) >= least)))
  return Math.ceil((last + 1) / 2)
}
function filled(samples: Float32Array, length: number): Float32Array {
  const row = new Float32Array(length)
  row.set(samples.subarray(0, length))
  return row
}
