/**
 * What is heard, written down as segments: stretches of a time line, each with the revision and the
 * edits that its notes came from. A pass that has gone by is handed on whole.
 */
import type { HeardPass } from '@/api/client'
import { ratio } from '@/app/ratio'
import { STATED } from '@/generated/stated'
import type { Source } from '@/pattern/sight'

/** Parts of a beat: places this close to one are on it, whatever sums of floating point have made of them. */
const FINE = 6720
/** A beat as it is meant: on a place of the fine grid, if it is within a hair of one. */
export function snap(beat: number): number {
  const near = Math.round(beat * FINE) / FINE
  return Math.abs(beat - near) < 1e-6 ? near : beat
}

/** A stretch of the time line, in beats, and what was heard in it. */
export type Stretch = Pick<HeardPass, 'beats' | 'start' | 'segments'>

export class HeardPasses {
  private segments: HeardPass['segments'] = []
  private passStart = 0
  private current: Source | null = null

  /** handOn takes the pass and where it began on the time line, in beats, and whether it was heard from end to end. */
  constructor(private readonly handOn: (pass: Stretch, whole: boolean) => void) {}

  /** Where the pass that is under way began. */
  get start(): number {
    return this.passStart
  }
  /** Whether what is heard comes from here already. */
  isFrom(source: Source): boolean {
    return this.current === source
  }
  /** From `at` on what is heard comes from this source, from its own beat `start` on, at a speed. */
  goOn(source: Source, at: number, start: number, speed = '1'): void {
    this.closeSegment(at)
    if (this.segments.length >= STATED.passSegments) this.closePass(at)
    this.current = source
    this.segments.push({ ...source, at, start: snap(start), end: start, speed })
  }
  /** Nothing from `at` on was heard, also of what was to come there already. */
  closeSegment(at: number): void {
    this.segments = this.segments.filter((segment, i) => i === 0 || segment.at < at - 1e-9)
    const open = this.segments.at(-1)
    if (!open) return
    const speed = ratio(open.speed ?? '1')
    open.end = snap(at * speed + (open.start - open.at * speed))
  }
  /** The pass ends at `at`, on the time line; it is whole if it lasted `frame` beats. */
  closePass(at: number, frame = Infinity): void {
    const played = this.segments.filter((segment) => segment.end > segment.start)
    const beats = at - this.passStart
    if (played.length) this.handOn({ start: this.passStart, beats, segments: played }, beats >= frame - 1e-6)
    this.segments = []
    this.passStart = at
    this.current = null
  }
  /** The pass that is under way as far as its last whole bar before `at`; null where none of its bars was heard yet. */
  soFar(at: number, bar: number): Stretch | null {
    const beats = Math.floor((at - this.passStart) / bar + 1e-6) * bar
    const until = this.passStart + beats
    const segments = this.segments.filter((segment) => segment.at < until - 1e-6).map((segment, i, all) => {
      const to = Math.min(until, all[i + 1]?.at ?? until)
      return { ...segment, end: snap(segment.start + (to - segment.at) * ratio(segment.speed ?? '1')) }
    }).filter(({ start, end }) => end > start)
    return beats > 0 && segments.length ? { start: this.passStart, beats, segments } : null
  }
  /** What follows comes from elsewhere. */
  breakOff(): void {
    this.current = null
  }
}
