/**
 * What lies over what while the order plays: under everything what plays by itself, over it a pattern that is there
 * while its key is held, and over both a stretch that is repeated. The time line counts beats since play was pressed.
 */
import type { Edit, OrderView } from '@/api/client'
import { ratio } from '@/app/ratio'
import { snap } from '@/sound/heardPasses'
import { beatAfter, followed, placeAt } from './programme'

/**
 * What plays by itself from the beat `at` of the time line on: the order from one of its beats, or a pattern from one
 * of its own.
 */
export type Course =
  | { kind: 'order'; from: number; at: number }
  | { kind: 'pattern'; pattern: number; own: number; at: number }

/** What sounds at a beat of the time line, and until which beat of it that holds. */
export interface Leg {
  block: number | null
  pattern: number
  edits: Edit[]
  speed: string
  own: number
  end: number
  /** Whether it is a stretch that is repeated while a key is held. */
  repeats?: boolean
}

export class Courses {
  under: Course = { kind: 'order', from: 0, at: 0 }
  /** A pattern that is there while its key is held. */
  over: Course | null = null
  /** From a beat of the time line on, the last beats before it. */
  private repeated: { from: number; beats: number; leg: Leg } | null = null

  constructor(private readonly order: () => OrderView | null) {}

  begin(under: Course): void {
    this.under = under
    this.over = this.repeated = null
  }
  /** The beat of the order at a beat of the time line; null while a pattern is played by itself. */
  beatOfOrder(at: number): number | null {
    if (this.under.kind !== 'order') return null
    const view = this.order()
    return view ? beatAfter(view, this.under.from, at - this.under.at) : at
  }
  /** What plays at a beat of the time line, on top or by itself; null after its end. */
  legAt(at: number, course = this.over ?? this.under): Leg | null {
    if (course.kind === 'pattern') {
      const own = snap(course.own + at - course.at)
      return { block: null, pattern: course.pattern, edits: [], speed: '1', own, end: Infinity }
    }
    const view = this.order()
    const found = view && placeAt(view, beatAfter(view, course.from, at - course.at))
    const block = found && view.blocks[found.block]
    if (!block) return null
    return {
      block: found.block, pattern: block.pattern, edits: block.problem ? [] : (block.edits as Edit[]),
      speed: block.speed, own: snap(found.own), end: at + found.left,
    }
  }
  /** What sounds at a beat of the time line. */
  soundingAt(at: number): Leg | null {
    if (!this.repeated) return this.legAt(at)
    const { from, beats, leg } = this.repeated
    const times = Math.floor((at - from) / beats + 1e-6)
    return {
      ...leg, own: snap(leg.own + (at - from - (times + 1) * beats) * ratio(leg.speed)),
      end: from + (times + 1) * beats, repeats: true,
    }
  }
  /** From a beat of the time line on, go round in the last beats before it, where there are so many. */
  repeat(from: number, beats: number): void {
    const leg = this.legAt(from)
    if (leg && leg.own >= beats * ratio(leg.speed) - 1e-9) this.repeated = { from, beats, leg }
  }
  /** The stretch that is repeated, if one is. */
  get round(): { from: number; beats: number } | null {
    return this.repeated
  }
  repeatNoMore(): void {
    this.repeated = null
  }
  /** The order has become another: what plays at a beat of the time line stays in its block. */
  stayInBlock(before: OrderView, view: OrderView, until: number): void {
    if (this.under.kind !== 'order') return
    const was = placeAt(before, beatAfter(before, this.under.from, until - this.under.at))
    const block = was && view.blocks[followed(before, view, was.block)]
    if (!was || !block) return
    const inside = Math.min(was.at - (before.blocks[was.block]?.at ?? 0), block.beats - 1e-6)
    this.under = { kind: 'order', from: block.at + inside, at: until }
  }
}
