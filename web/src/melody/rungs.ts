/** The rungs that pitched wedges stand on: the lines of the scale, and the tones of each chord where it begins. */
import type { Lane, View } from '@/api/client'
import type { Ground } from '@/app/colours'

/** The part of a stage that rungs need. */
interface Row {
  width: number
  start: number
  span: number
  colour: string
  ground: Ground
  coarse: boolean
}

export interface Rungs {
  /** The lowest and the highest pitch of the row. */
  low: number
  high: number
  root: number
  /** The scale, in semitones above its root. */
  notes: number[]
  /** Where chords begin, in beats, and their pitch classes. */
  chords: { at: number; classes: number[] }[]
}

/** At least so many semitones are shown. */
const LEAST = 9
const TICK = 9

/** The rungs of a lane: enough for all that it plays. */
export function rungsOf(lane: Lane, chords: View['chords']): Rungs | null {
  if (lane.bounds) return { low: lane.bounds[0], high: lane.bounds[1], root: 0, notes: [], chords: [] }
  if (!lane.scale) return null
  let [low, high] = [127, 0]
  for (const [, , , strokes] of lane.drawn.hits) {
    for (const [, , , pitch] of strokes) [low, high] = [Math.min(low, pitch), Math.max(high, pitch)]
  }
  if (low > high) [low, high] = [60, 72]
  while (high - low < LEAST) [low, high] = [low - 1, high + 1]
  const { root, notes } = lane.scale
  return {
    low: low - 1, high: high + 1, root, notes, chords: chords.map(({ start, classes }) => ({ at: start, classes })),
  }
}
/** How many of the scale's notes lie between two pitches, apart from the lower one; at least one. */
export const degreesBetween = ({ root, notes }: Rungs, low: number, high: number): number =>
  Math.max(
    1,
    Array.from(
      { length: Math.max(0, high - low) }, (_, i) => low + 1 + i,
    ).filter((pitch) => notes.includes((pitch - root + 120) % 12)).length,
  )

export function drawRungs(
  context: CanvasRenderingContext2D, rungs: Rungs, stage: Row, y: (pitch: number) => number,
): void {
  const apart = (y(rungs.low) - y(rungs.high)) / (rungs.high - rungs.low)
  context.lineWidth = 1
  for (let pitch = Math.ceil(rungs.low); pitch <= rungs.high; pitch += 1) {
    const above = (pitch - rungs.root + 120) % 12
    if (!rungs.notes.includes(above) || (above !== 0 && apart < 1.6)) continue
    const at = Math.round(y(pitch)) + 0.5
    context.strokeStyle = above === 0 ? stage.ground.diamond : stage.ground.beat
    context.beginPath()
    context.moveTo(0, at)
    context.lineTo(stage.width, at)
    context.stroke()
  }
  context.strokeStyle = stage.colour
  context.lineWidth = 2
  context.globalAlpha = 0.75
  for (const { at, classes } of stage.coarse ? [] : rungs.chords) {
    const x = ((at - stage.start) / stage.span) * stage.width
    if (x < -1 || x > stage.width) continue
    for (let pitch = Math.ceil(rungs.low); pitch <= rungs.high; pitch += 1) {
      if (!classes.includes(pitch % 12)) continue
      context.beginPath()
      context.moveTo(x + 1, Math.round(y(pitch)))
      context.lineTo(x + 1 + TICK, Math.round(y(pitch)))
      context.stroke()
    }
  }
  context.globalAlpha = 1
}
