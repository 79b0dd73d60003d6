/**
 * What is heard, written down as segments: stretches of a time line, each with the revision and the
 * edits that its notes came from. A pass that has gone by is handed on whole.
 */
import type { HeardPass } from '@/api/client'
import type { Source } from '@/pattern/sight'

const MOST_SEGMENTS = 2000

export class HeardPasses {
  private segments: HeardPass['segments'] = []
  private passStart = 0
  private current: Source | null = null

  /** handOn takes the pass and where it began on the time line, in beats. */
  constructor(private readonly handOn: (pass: Pick<HeardPass, 'beats' | 'start' | 'segments'>) => void) {}

  /** Where the pass that is under way began. */
  get start(): number {
    return this.passStart
  }
  /** Whether what is heard comes from here already. */
  isFrom(source: Source): boolean {
    return this.current === source
  }
  /** From `at` on what is heard comes from this source; its own beats lie `shift` later. */
  goOn(source: Source, at: number, shift: number): void {
    this.closeSegment(at)
    if (this.segments.length >= MOST_SEGMENTS) this.closePass(at)
    this.current = source
    this.segments.push({ ...source, at, start: at + shift, end: at + shift })
  }
  closeSegment(at: number): void {
    const open = this.segments.at(-1)
    if (open) open.end = at + (open.start - open.at)
  }
  /** The pass ends at `at`, on the time line. */
  closePass(at: number): void {
    const played = this.segments.filter((segment) => segment.end > segment.start)
    if (played.length) this.handOn({ start: this.passStart, beats: at - this.passStart, segments: played })
    this.segments = []
    this.passStart = at
    this.current = null
  }
  /** What follows comes from elsewhere. */
  breakOff(): void {
    this.current = null
  }
}
