/** Notes and places of a clip in words. */
import type { ClipView } from '@/api/client'
import { namesOf } from '@/melody/noteName'

/** What notes of a lane are called: drums by their names, others with their degrees. */
export function notesCalled({ lanes, scale }: ClipView, row: number, pitches: number[], drums: Record<string, string>): string {
  const lane = lanes[row]
  return lane ? namesOf({ kind: lane.kind, scale, controller: null, sound: lane.sound }, pitches, drums) : ''
}

/** A place as bar and beat, counted from 1. */
export function barAndBeat({ bar_beats: bar, meter }: Pick<ClipView, 'bar_beats' | 'meter'>, at: number): { bar: number; beat: number } {
  const bars = Math.floor(at / bar + 1e-9)
  return { bar: bars + 1, beat: Math.floor(((at - bars * bar) * meter[1]) / 4 + 1e-9) + 1 }
}
