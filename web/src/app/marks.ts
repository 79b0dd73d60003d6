/** The marks that all pictures of notes share. */

/** A step, or a place where something is set. */
export function diamond(context: CanvasRenderingContext2D, x: number, y: number, size: number): void {
  context.beginPath()
  context.moveTo(x, y - size)
  context.lineTo(x + size, y)
  context.lineTo(x, y + size)
  context.lineTo(x - size, y)
  context.fill()
}

/** The shape of a struck sound: sharp left edge, curved fall. */
export function wedge(context: CanvasRenderingContext2D, x: number, base: number, long: number, tall: number): void {
  context.beginPath()
  context.moveTo(x, base)
  context.lineTo(x, base - tall)
  context.quadraticCurveTo(x + long * 0.22, base - tall * 0.12, x + long, base)
  context.closePath()
}
