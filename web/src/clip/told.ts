/** Notes and places of a clip in words. */
import type { ClipView } from '@/api/client'
import { namesOf } from '@/melody/noteName'

/** What notes of a lane are called: drums by their names, others with their degrees. */
export function notesCalled(
  { lanes, scale }: ClipView, row: number, pitches: number[], drums: Record<string, string>,
): string {
  const lane = lanes[row]
  return lane ? namesOf({ kind: lane.kind, scale, controller: null, sound: lane.sound }, pitches, drums) : ''
}

/** A place as bar and beat, counted from 1. */
export function barAndBeat(view: ClipView, at: number): { bar: number; beat: number } {
  const section = view.sections.findLast(({ start }) => start <= at + 1e-9)
  if (!section) return { bar: 1, beat: 1 }
  const { start, bar, bar_beats: long, meter } = section
  const bars = Math.floor((at - start) / long + 1e-9)
  return { bar: bar + bars, beat: Math.floor(((at - start - bars * long) * meter[1]) / 4 + 1e-9) + 1 }
}

/** The place a beat of the metre before another. */
export function beatBefore(view: ClipView, at: number): number {
  const section = view.sections.findLast(({ start }) => start < at - 1e-9)
  return Math.max(0, at - 4 / (section?.meter[1] ?? 4))
}
