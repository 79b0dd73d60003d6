/** A wedge in a hand: pulled by its tip, painted over others, or moved over the rungs by its body. */
import type { Edit } from '@/api/client'
import { degreesBetween } from '@/melody/rungs'
import { cellLength } from '@/pattern/cells'
import { standing, tallest, type Stage } from './draw'
import { cellAt, xOfBeat, type LaneArea, type Point } from './lanePlaces'

const LEAST_NUDGE_PIXELS = 6
const MOST_TOUCHED = 512

type Touching = Extract<Edit, { do: 'touch' }>
type Touch = Touching['places'][number]
/** A tip that was taken at a point, where the hand was last, and what it has painted since. */
export interface Tip {
  kind: 'tip'
  from: Point
  last: Point
  hit: number
  painted: Map<number, Touch>
}

/** The loudness drawn at a height above the base line, and as much louder, or softer, as there is loudness. */
const loudness = (stage: Stage, y: number, base = stage.floor) => ((base - y) / tallest(stage)) * 127
const within = (louder: number) => Math.min(127, Math.max(-127, Math.round(louder)))

/** The places of the hits on the chosen steps, if this one is on one of them; else its own alone. */
function together({ drawn }: LaneArea, place: number, chosen: readonly number[]): number[] {
  const { cells, steps, hits } = drawn
  const isChosen = (at: number) => chosen.includes(steps[cellAt(drawn, at + 1e-6)] ?? -1)
  if (!isChosen(place) || !cells.length) return [place]
  return hits.map(([at]) => at).filter(isChosen).slice(0, MOST_TOUCHED)
}

/** A wedge moved over the rungs from one height to another: its degree, or what a controller is set to. */
export function raised(
  area: LaneArea, hit: number, from: number, to: number, chosen: readonly number[],
): Touching | null {
  const { drawn, stage, id } = area
  const { rungs } = stage
  const taken = drawn.hits[hit]
  const stroke = taken?.[3][0]
  if (!taken || !stroke || !rungs) return null
  const baseOf = (pitch: number) => standing([0, 0, 0, pitch], stage).base
  const pixels = (baseOf(rungs.low) - baseOf(rungs.high)) / (rungs.high - rungs.low)
  const semitones = (from - to) / pixels
  const pitch = stroke[3] + Math.round(semitones)
  const higher = stage.line ? Math.round(semitones) : Math.abs(semitones) < 0.5 ? 0
    : semitones > 0 ? degreesBetween(rungs, stroke[3], pitch) : -degreesBetween(rungs, pitch, stroke[3])
  const places = together(area, taken[0], chosen).map((place) => ({ at: place, louder: 0, later: 0, higher }))
  return { do: 'touch', lane: id, places }
}

/** A tip pulled to a point: louder and later; further than its own cell, what it crosses takes its height. */
export function pulled(area: LaneArea, tip: Tip, at: Point, chosen: readonly number[]): Touching | null {
  const { drawn, stage, id } = area
  const taken = drawn.hits[tip.hit]
  if (!taken) return null
  const wide = (cellLength(drawn, cellAt(drawn, taken[0] + 1e-6)) / stage.span) * stage.width
  const { from, last } = tip
  tip.last = at
  const aside = at.x - from.x
  if (tip.painted.size === 0 && Math.abs(aside) <= wide) {
    const sideways = Math.abs(aside) < LEAST_NUDGE_PIXELS ? 0 : Math.round((aside / wide) * 100)
    const louder = within(loudness(stage, at.y) - loudness(stage, from.y))
    const later = Math.min(50, Math.max(-50, sideways))
    const places = together(area, taken[0], chosen).map((place) => ({ at: place, louder, later, higher: 0 }))
    return { do: 'touch', lane: id, places }
  }
  const known = tip.painted.size
  paint(area, tip, known === 0 ? { x: from.x, y: last.y } : last, at, wide)
  return tip.painted.size > known ? { do: 'touch', lane: id, places: [...tip.painted.values()] } : null
}

/** Every hit between two points takes the height of the line between them. */
function paint(area: LaneArea, { painted }: Tip, from: Point, to: Point, wide: number): void {
  const { drawn, stage } = area
  const [left, right] = from.x < to.x ? [from, to] : [to, from]
  drawn.hits.forEach(([place, , , strokes], hit) => {
    const across = xOfBeat(area, place)
    const stroke = strokes[0]
    if (!stroke || across < left.x - wide / 2 || across > right.x || painted.has(hit)) return
    const share = right.x === left.x ? 0 : Math.min(1, Math.max(0, (across - left.x) / (right.x - left.x)))
    const height = left.y + share * (right.y - left.y)
    const louder = within(loudness(stage, height, standing(stroke, stage).base) - stroke[2])
    painted.set(hit, { at: place, louder, later: 0, higher: 0 })
  })
}
