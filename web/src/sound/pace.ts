/** How fast a clip goes, and where its bars begin, where tempo and metre change on the way. */
import type { ClipView } from '@/api/client'

type Paced = Pick<ClipView, 'tempo' | 'meter' | 'marks' | 'beats'>

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

/** A stretch in one metre: its bars and beats are counted from where it begins; `bar` is the number of its first. */
export interface Section {
  start: number
  end: number
  bar: number
  meter: readonly [number, number]
  barBeats: number
}

/** The stretches of a clip in which the metre stays. */
export function sectionsOf(view: Paced): Section[] {
  const found: Section[] = []
  const begin = (start: number, meter: readonly [number, number], bar: number) =>
    found.push({ start, end: view.beats, bar, meter, barBeats: (meter[0] * 4) / meter[1] })
  begin(0, view.meter, 1)
  for (const { time, meter } of view.marks) {
    const before = found.at(-1)
    if (!meter || !before) continue
    before.end = time
    begin(time, [meter[0], meter[1]], before.bar + Math.ceil((time - before.start) / before.barBeats - 1e-6))
  }
  return found.filter(({ start, end }) => end > start + 1e-9)
}
export const sectionAt = (view: Paced, beat: number): Section | undefined => sectionsOf(view).findLast(({ start }) => start <= beat + 1e-9)
