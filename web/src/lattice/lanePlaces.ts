/** What is where on a lane: beats, cells, wedges with their tips and bodies, and the lane's end. */
import type { Drawn } from '@/api/client'
import { cellLength } from '@/pattern/cells'
import { bodyAt, tipOf, type Stage } from './draw'

/** So many pixels from a tip, or from the lane's end, it is taken. */
export const REACH = 8
/** The same for a finger. */
export const FINGER = 20

export interface Point {
  x: number
  y: number
}
export interface LaneArea {
  id: string
  steps: number
  drawn: Drawn
  stage: Stage
  canvas: HTMLCanvasElement | null
}

/** Where a beat is, in pixels. */
export const xOfBeat = ({ stage }: LaneArea, beat: number) => ((beat - stage.start) / stage.span) * stage.width

export function placeUnder({ canvas, stage }: LaneArea, event: Pick<PointerEvent, 'clientX' | 'clientY'>): Point & { beat: number } {
  const box = canvas?.getBoundingClientRect()
  const left = event.clientX - (box?.left ?? 0)
  return { x: left, y: event.clientY - (box?.top ?? 0), beat: stage.start + (left / stage.width) * stage.span }
}
/** The cell at a beat, as its place in the lane's cells, or -1. */
export function cellAt(drawn: Drawn, beat: number): number {
  const { cells } = drawn
  for (let i = cells.length - 1; i >= 0; i -= 1) {
    const at = cells[i] ?? 0
    if (at <= beat) return beat < at + cellLength(drawn, i) ? i : -1
  }
  return -1
}
/** The hit in a cell, as its place in the lane's hits, or -1. */
export function hitIn(drawn: Drawn, cell: number): number {
  const at = drawn.cells[cell] ?? 0
  const end = at + cellLength(drawn, cell)
  return drawn.hits.findIndex(([start]) => start >= at - 1e-6 && start < end - 1e-6)
}
/** The hit whose body stands on a rung at a point, or -1. */
export const bodyUnder = ({ drawn, stage }: LaneArea, at: Point) =>
  drawn.hits.findIndex((hit) => bodyAt(hit, stage, at))
/** The hit whose tip is nearest to a point, within reach of it, or -1. */
export function tipUnder({ drawn, stage }: LaneArea, at: Point, reach = REACH): number {
  if (stage.line) return -1
  let [nearest, near] = [-1, reach]
  drawn.hits.forEach((hit, place) => {
    const tip = tipOf(hit, stage)
    const far = tip ? Math.max(Math.abs(tip.x - at.x), Math.abs(tip.y - at.y)) : reach
    if (far < near) [nearest, near] = [place, far]
  })
  return nearest
}
/** Where the lane's first whole run ends, in pixels, or null. */
export function endOf(area: LaneArea): number | null {
  const { drawn, stage } = area
  if (typeof drawn.lengths !== 'number') return null
  const first = drawn.cycles.find((at) => at >= stage.start - 1e-6)
  return first === undefined ? null : xOfBeat(area, first + drawn.period * drawn.lengths)
}
