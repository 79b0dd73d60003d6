/** How fast a clip goes, where its tempo changes on the way. */
import type { ClipView } from '@/api/client'

type Paced = Pick<ClipView, 'tempo' | 'marks' | 'beats'>

/** The tempo at a beat of a clip, and the beat at which it becomes another (or the clip's end). */
export function paceAt(view: Paced, beat: number): { tempo: number; until: number } {
  let tempo = view.tempo
  for (const mark of view.marks) {
    if (mark.tempo == null) continue
    if (mark.time > beat + 1e-9) return { tempo, until: mark.time }
    tempo = mark.tempo
  }
  return { tempo, until: view.beats }
}

/** The beat that is reached after so many seconds, up to the clip's end. */
export function beatAfter(view: Paced, seconds: number): number {
  let [at, left] = [0, seconds]
  for (;;) {
    const { tempo, until } = paceAt(view, at)
    const long = ((until - at) * 60) / tempo
    if (left <= long || until >= view.beats) return Math.min(view.beats, at + (left * tempo) / 60)
    left -= long
    at = until
  }
}

/** How many seconds lie before a beat. */
export function secondsTo(view: Pick<Paced, 'tempo' | 'marks'>, beat: number): number {
  let [seconds, at, tempo] = [0, 0, view.tempo]
  for (const mark of view.marks) {
    if (mark.tempo == null || mark.time >= beat) continue
    seconds += ((mark.time - at) * 60) / tempo
    ;[at, tempo] = [mark.time, mark.tempo]
  }
  return seconds + ((beat - at) * 60) / tempo
}
