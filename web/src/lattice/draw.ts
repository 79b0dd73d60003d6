/** Drawing a lane in true time: ground, beats, knots and diamonds; wedges on their rungs; a controller's line. */
import type { Drawn } from '@/api/client'
import type { Ground } from '@/app/colours'
import { diamond, wedge } from '@/app/marks'
import { drawRungs, type Rungs } from '@/melody/rungs'
import { drawSetLines } from '@/melody/setLines'
import { cellLength, EDGE, labelledBars, visibleCells } from '@/pattern/cells'

export interface Stage {
  width: number
  height: number
  start: number
  span: number
  beat: number
  bar: number
  colour: string
  ground: Ground
  audible: boolean
  /** The cell that the keyboard is on, or -1. */
  cursor: number
  /** The base line that wedges stand on, and the height of the loudest, in pixels from the top. */
  floor: number
  ceiling: number
  /** Pitches (or a controller's values) from the floor up; null: all wedges stand on the floor. */
  rungs: Rungs | null
  /** A controller: its line is drawn, with a mark for each hit. */
  line: boolean
  /** Steps that are chosen. */
  chosen: number[]
  /** Where the lane's first run ends, if it can be pulled there. */
  end: number | null
  /** Many bars at once: no diamonds and no outlines. */
  coarse: boolean
}
export type Stroke = Drawn['hits'][number][3][number]

/** The base line and the greatest height of wedges in a row of this height. */
export const reachOf = (height: number) => ({ floor: height - FLOOR, ceiling: CEILING })

/** Where a stroke stands: its left edge, its base and its height, in pixels. */
export function standing([at, length, velocity, pitch]: Stroke, stage: Stage) {
  const { floor, ceiling, rungs, width, start, span } = stage
  const x = ((at - start) / span) * width
  const long = Math.max(3, (length / span) * width)
  if (!rungs) return { x, long, base: floor, tall: Math.max(3, (velocity / 127) * (floor - ceiling)) }
  const top = stage.line ? 0 : tallest(stage)
  const base = floor - ((pitch - rungs.low) / (rungs.high - rungs.low)) * (floor - ceiling - top)
  return { x, long, base, tall: stage.line ? 0 : Math.max(3, (velocity / 127) * top) }
}
/** The height of the loudest wedge. */
export const tallest = ({ floor, ceiling, rungs }: Stage): number =>
  rungs ? Math.min(22, Math.max(8, (floor - ceiling) * 0.3)) : floor - ceiling

/** The tip of a hit's first wedge, in pixels, if it is on the stage. */
export function tipOf(hit: Drawn['hits'][number], stage: Stage): { x: number; y: number } | null {
  const stroke = hit[3][0]
  if (!stroke || stroke[0] < stage.start - EDGE || stroke[0] >= stage.start + stage.span) return null
  const { x, base, tall } = standing(stroke, stage)
  return { x, y: base - tall }
}
/** Whether a wedge that stands on a rung is under a point; it may be taken by its body. */
export function bodyAt(hit: Drawn['hits'][number], stage: Stage, at: { x: number; y: number }): boolean {
  if (!stage.rungs) return false
  return hit[3].some((stroke) => {
    const { x, base, tall, long } = standing(stroke, stage)
    return at.x > x - 3 && at.x < x + Math.min(Math.max(long, 9), 60) && at.y < base + 4 && at.y > base - tall - 3
  })
}

const FLOOR = 9
const CEILING = 5
const LEAST_APART = 8

export function drawLane(context: CanvasRenderingContext2D, drawn: Drawn, stage: Stage): void {
  const { width, height, start, span, ground, colour } = stage
  const x = (beat: number) => ((beat - start) / span) * width
  const base = stage.floor
  const cycles = drawn.cycles.filter((at) => at >= start - EDGE && at < start + span - EDGE)
  const light = shade(context, cycles, stage, x)

  context.lineWidth = 1
  const pace = stage.coarse ? stage.bar * labelledBars(span / stage.bar) : stage.beat
  for (let at = Math.ceil(start / pace - EDGE) * pace; at < start + span; at += pace) {
    const isBar = Math.abs(at / stage.bar - Math.round(at / stage.bar)) < EDGE
    context.strokeStyle = isBar ? ground.line : ground.beat
    line(context, Math.round(x(at)) + 0.5, 0, height)
  }
  if (stage.rungs && !stage.line) {
    drawRungs(context, stage.rungs, stage, (pitch) => standing([start, 0, 0, pitch], stage).base)
  }
  // Where knots would stand on top of each other, they tell nothing.
  const apart = x(cycles[1] ?? start + span) - x(cycles[0] ?? start)
  if (apart > LEAST_APART) for (const at of cycles) if (at > start + EDGE) knot(context, x(at), height, colour)
  if (stage.end !== null) bracket(context, stage.end, height, ground.ink)

  const cells = visibleCells(drawn, start, span)
  const room = (width * cellLength(drawn, cells[0] ?? 0)) / span
  const size = room > 14 ? 2.6 : room > 7 ? 1.9 : 1.2
  if (stage.chosen.length) {
    context.fillStyle = ground.ink
    context.globalAlpha = 0.14
    for (const index of cells) {
      if (!stage.chosen.includes(drawn.steps[index] ?? -1)) continue
      context.fillRect(x(drawn.cells[index] ?? 0), 0, (cellLength(drawn, index) / span) * width, height)
    }
    context.globalAlpha = 1
  }
  context.fillStyle = ground.diamond
  if (!stage.coarse) {
    for (const index of cells) diamond(context, x(drawn.cells[index] ?? 0), base + 3.5, size)
    // A step that is pinned by hand has a diamond of ink with a hollow heart.
    for (const index of drawn.pins.length ? cells : []) {
      if (!drawn.pins.includes(drawn.steps[index] ?? -1)) continue
      const left = x(drawn.cells[index] ?? 0)
      context.fillStyle = ground.ink
      diamond(context, left, base + 3.5, size + 2)
      context.fillStyle = ground.first
      diamond(context, left, base + 3.5, size * 0.5)
    }
  }

  context.globalAlpha = stage.audible ? 1 : 0.3
  if (stage.line) drawLine(context, drawn, stage)
  for (const [place, probability, sounds, strokes] of stage.line ? [] : drawn.hits) {
    const again = place < light[0] - EDGE || place >= light[1] - EDGE
    for (const stroke of strokes) {
      const stands = standing(stroke, stage)
      wedge(context, stands.x, stands.base, stands.long, stands.tall)
      if (sounds) {
        context.fillStyle = colour
        const alpha = context.globalAlpha
        context.globalAlpha = alpha * (0.3 + 0.7 * (probability / 100)) * (again ? 0.8 : 1)
        context.fill()
        context.globalAlpha = alpha
      }
      if (probability < 100 && !stage.coarse) {
        context.strokeStyle = colour
        context.lineWidth = 1.2
        context.setLineDash([2.5, 1 + (1 - probability / 100) * 4])
        context.stroke()
        context.setLineDash([])
      }
    }
  }
  if (!stage.line && !stage.coarse) drawTuning(context, drawn, stage)
  if (!stage.line && !stage.coarse && drawn.lines.length) {
    context.globalAlpha *= 0.75
    drawSetLines(context, drawn.lines, { top: 0, ...stage }, ground.ink)
  }
  context.globalAlpha = 1
  const cursor = cells[stage.cursor]
  if (stage.cursor >= 0 && cursor !== undefined) {
    const left = x(drawn.cells[cursor] ?? 0)
    const wide = (cellLength(drawn, cursor) / span) * width
    context.strokeStyle = ground.ink
    context.lineWidth = 2
    context.strokeRect(left + 1, 2, Math.max(4, wide - 2), height - 4)
  }
}

/** How drums are tuned: a short line over each tuned stroke, an octave from the middle of the row to its edge. */
function drawTuning(context: CanvasRenderingContext2D, drawn: Drawn, stage: Stage): void {
  const { start, span, width, height, ground } = stage
  const half = height / 2 - CEILING
  context.fillStyle = ground.ink
  for (const [at, length, , , tune] of drawn.notes) {
    if (!tune || at < start - EDGE || at >= start + span) continue
    const y = height / 2 - Math.max(-1, Math.min(1, tune / 12)) * half
    context.fillRect(((at - start) / span) * width, Math.round(y) - 1, Math.max(4, (length / span) * width), 2)
  }
}

/** A controller: the line that it follows over its area, and a mark where a hit sets it. */
function drawLine(context: CanvasRenderingContext2D, drawn: Drawn, stage: Stage): void {
  const y = (value: number) => standing([stage.start, 0, 0, value], stage).base
  const x = (beat: number) => ((beat - stage.start) / stage.span) * stage.width
  const [first, ...more] = (drawn.lines[0]?.corners ?? []).filter(
    ([at]) => at >= stage.start - stage.span && at <= stage.start + 2 * stage.span,
  )
  if (!first) return
  context.beginPath()
  context.moveTo(x(first[0]), y(first[1]))
  for (const [at, value] of more) context.lineTo(x(at), y(value))
  context.strokeStyle = stage.colour
  context.lineWidth = 2
  context.stroke()
  context.lineTo(x((more.at(-1) ?? first)[0]), stage.floor)
  context.lineTo(x(first[0]), stage.floor)
  context.closePath()
  const alpha = context.globalAlpha
  context.globalAlpha = alpha * 0.22
  context.fillStyle = stage.colour
  context.fill()
  context.globalAlpha = alpha
  for (const [, , sounds, [stroke]] of drawn.hits) {
    if (!stroke || stroke[0] < stage.start - EDGE || stroke[0] >= stage.start + stage.span) continue
    const at = standing(stroke, stage)
    diamond(context, at.x, at.base, 4)
    if (sounds) continue
    context.fillStyle = stage.ground.first
    diamond(context, at.x, at.base, 2.4)
    context.fillStyle = stage.colour
  }
}

/** The first whole run of the cycle is light, what comes before and after is darker. */
function shade(
  context: CanvasRenderingContext2D, cycles: number[], stage: Stage, x: (beat: number) => number,
): [number, number] {
  const end = stage.start + stage.span
  const light: [number, number] = [cycles[0] ?? end, cycles[1] ?? end]
  context.fillStyle = stage.ground.again
  context.fillRect(0, 0, stage.width, stage.height)
  context.fillStyle = stage.ground.first
  context.fillRect(x(light[0]), 0, x(light[1]) - x(light[0]), stage.height)
  return light
}

function line(context: CanvasRenderingContext2D, x: number, top: number, bottom: number): void {
  context.beginPath()
  context.moveTo(x, top)
  context.lineTo(x, bottom)
  context.stroke()
}

/** The end of the lane's first run, to be pulled. */
function bracket(context: CanvasRenderingContext2D, x: number, height: number, colour: string): void {
  context.strokeStyle = colour
  context.lineWidth = 2
  context.beginPath()
  context.moveTo(x - 6, height * 0.32)
  context.lineTo(x - 1, height * 0.32)
  context.lineTo(x - 1, height * 0.68)
  context.lineTo(x - 6, height * 0.68)
  context.stroke()
}

/** Where a cycle begins again: a thread with a small knot. */
function knot(context: CanvasRenderingContext2D, x: number, height: number, colour: string): void {
  context.strokeStyle = colour
  context.lineWidth = 1
  context.globalAlpha = 0.55
  line(context, Math.round(x) + 0.5, 0, height)
  context.globalAlpha = 1
  context.beginPath()
  context.moveTo(x - 3.5, 4)
  context.quadraticCurveTo(x, 9, x + 3.5, 4)
  context.quadraticCurveTo(x, -1, x - 3.5, 4)
  context.fillStyle = colour
  context.fill()
}
