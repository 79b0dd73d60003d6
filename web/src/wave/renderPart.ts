/** One part of a score, some of its lanes, as sample frames: left and right of each. */
import { HEADROOM } from '@/sound/master'
import type { Drums } from '@/drum/drums'
import { LaneSounds } from './laneSounds'
import { PEDAL, type Part } from './parts'
import { rounds, type Scored, type ScoredTurn } from './scored'

/** So many seconds before a part controllers stand at what they were set to last, and have come to rest. */
const BEFORE = 0.1
/** All in frames. The browser renders in such quanta, and stops between them. */
const HAIR = 1e-6
const QUANTUM = 128
const SLICE = 96 * QUANTUM
/** A context has up to 32 channels: 16 lanes. */
export const MOST_LANES = 16

export type Sides = readonly [Float32Array, Float32Array]

/** What is set before a part begins: the last value of each controller; going round, also from the round before. */
function standing({ turns }: Scored, { from }: Part, wraps: boolean): ScoredTurn[] {
  const last = new Map<string, ScoredTurn>()
  for (const turn of [...(wraps ? turns : []), ...turns.filter(({ frame }) => frame < from)]) {
    const key = `${turn.alone ? turn.row : `channel ${turn.channel}`}/${turn.number}`
    last.delete(key)
    last.set(key, turn)
  }
  return [...last.values()]
}

/** The samples of these rows, from the part's first frame to its end. */
export async function renderPart(
  scored: Scored, part: Part, rows: readonly number[], drums: Drums, wraps: boolean,
): Promise<Map<number, Sides>> {
  const { rate, frames } = scored
  const before = Math.round(BEFORE * rate)
  const context = new OfflineAudioContext(2 * rows.length, before + part.end - part.from, rate)
  context.destination.channelInterpretation = 'discrete'
  const together = context.createChannelMerger(2 * rows.length)
  together.connect(context.destination)
  const outs = new Map(rows.map((row, place) => {
    const out = context.createGain()
    out.gain.value = HEADROOM
    out.channelCount = 2
    out.channelCountMode = 'explicit'
    const split = context.createChannelSplitter(2)
    out.connect(split)
    split.connect(together, 0, 2 * place)
    split.connect(together, 1, 2 * place + 1)
    return [row, out] as const
  }))
  const sounds = new LaneSounds(context, scored, outs, drums)
  // A hair before the frame: rounding a time up to its frame gives this one, wherever in a context it lies.
  const timeOf = (frame: number) => (frame - part.from + before - HAIR) / rate

  standing(scored, part, wraps).forEach((turn) => sounds.turn(turn, 0))
  const until = wraps ? part.end : frames
  const ahead = <T extends { frame: number }>(row: readonly T[]) =>
    [...rounds(row, frames, Math.min(until, part.end))].filter(({ frame }) => frame >= part.from)
  const heard = new Set(part.notes)
  const events = [
    ...[...ahead(scored.turns), ...(wraps ? [] : pedalsUp(scored))].map((turn) => ({
      frame: turn.frame, run: () => sounds.turn(turn, timeOf(turn.frame)),
    })),
    ...ahead(scored.notes).map((each) => ({
      frame: each.frame,
      run: () => sounds.strike(
        { ...each.note, time: timeOf(each.frame) }, heard.has(each) && outs.has(each.row),
      ),
    })),
  ]
  events.sort((a, b) => a.frame - b.frame)
  let next = 0
  const schedule = (until: number) => {
    for (let event = events[next]; event && event.frame < until; event = events[next]) {
      event.run()
      next += 1
    }
  }
  // What is not there yet costs nothing: notes are built slice by slice, as while playing.
  for (let at = SLICE; at < context.length; at += SLICE) {
    void context.suspend(at / rate).then(() => {
      schedule(part.from - before + at + SLICE + QUANTUM)
      return context.resume()
    })
  }
  schedule(part.from - before + SLICE + QUANTUM)
  const audio = await context.startRendering()
  return new Map(rows.map((row, place) => {
    const side = (of: 0 | 1) => audio.getChannelData(2 * place + of).subarray(before)
    return [row, [side(0), side(1)]]
  }))
}

/** At the end of what does not go round, pedals are let go. */
function pedalsUp({ turns, frames }: Scored): ScoredTurn[] {
  const last = new Map<string, ScoredTurn>()
  for (const turn of turns) if (turn.number === PEDAL) last.set(`${turn.alone} ${turn.row} ${turn.channel}`, turn)
  return [...last.values()].map((turn) => ({ ...turn, value: 0, frame: frames }))
}
