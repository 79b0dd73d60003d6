/** What the hits of a lane set controllers to: a thin line each, from step to step over the height of the row. */

export interface SetLine {
  low: number
  high: number
  /** [beat, value] */
  corners: readonly (readonly [number, number])[]
}
interface Row {
  top: number
  width: number
  height: number
  start: number
  span: number
}
const CEILING = 3
const FLOOR = 5
/** Each controller after the first is told from the others by its dashes. */
const DASHES = [[], [7, 3], [2, 3], [9, 3, 2, 3]]

export function drawSetLines(
  context: CanvasRenderingContext2D, lines: readonly SetLine[], row: Row, colour: string,
): void {
  const { top, width, height, start, span } = row
  context.strokeStyle = colour
  context.lineWidth = 1.2
  lines.forEach(({ low, high, corners }, place) => {
    context.setLineDash(DASHES[place % DASHES.length] ?? [])
    context.beginPath()
    for (const [i, [beat, value]] of corners.entries()) {
      const x = ((beat - start) / span) * width
      const y = top + CEILING + (1 - (value - low) / (high - low)) * (height - CEILING - FLOOR)
      if (i) context.lineTo(x, y)
      else context.moveTo(x, y)
    }
    context.stroke()
  })
  context.setLineDash([])
}
