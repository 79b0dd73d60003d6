/** Notes and places of a clip in words. */
import type { ClipView } from '@/api/client'
import { namesOf } from '@/melody/noteName'
import { sectionAt } from '@/sound/pace'

/** What notes of a lane are called: drums by their names, others with their degrees. */
export function notesCalled({ lanes, scale }: ClipView, row: number, pitches: number[], drums: Record<string, string>): string {
  const lane = lanes[row]
  return lane ? namesOf({ kind: lane.kind, scale, controller: null, sound: lane.sound }, pitches, drums) : ''
}

/** A place as bar and beat, counted from 1. */
export function barAndBeat(view: ClipView, at: number): { bar: number; beat: number } {
  const { start, bar, barBeats, meter } = sectionAt(view, at) ?? { start: 0, bar: 1, barBeats: view.bar_beats, meter: view.meter }
  const bars = Math.floor((at - start) / barBeats + 1e-9)
  return { bar: bar + bars, beat: Math.floor(((at - start - bars * barBeats) * meter[1]) / 4 + 1e-9) + 1 }
}
