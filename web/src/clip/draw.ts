/**
 * Drawing a clip: rows with their grounds, rungs and beats; wedges; controllers as lines; what is chosen, and what was.
 */
import type { ClipView } from '@/api/client'
import { jewel, type Ground, type ThemeName } from '@/app/colours'
import { diamond, wedge } from '@/app/marks'
import { drawRungs } from '@/melody/rungs'
import { drawSetLines, type SetLine } from '@/melody/setLines'
import { boundsOf, firstFrom, longestOf, standing, xOf, yOf, type Frame, type Row } from './rows'

export interface Picture {
  view: ClipView
  rows: readonly Row[]
  frame: Frame
  ground: Ground
  theme: ThemeName
  chosen: ReadonlySet<number>
  /** As it was before a tool or a hand: drawn pale under it. */
  before: ClipView | null
  /** The step of the grid, in beats. */
  step: number
  /** The stretch that goes round. */
  round: [number, number] | null
  /** The pixels that are scrolled away above. */
  above: number
  /** Notes are in a hand, and so not in the order of time. */
  loose: boolean
}

const LEAST_APART = 7

export function drawClip(context: CanvasRenderingContext2D, picture: Picture): void {
  const { view, rows, frame, ground, above } = picture
  context.save()
  context.translate(0, -above)
  const seen = rows.filter(({ top, height }) => top + height > above && top < above + frame.height)
  const end = Math.min(frame.width, xOf(view.beats, frame))
  for (const row of seen) {
    context.fillStyle = ground.again
    context.fillRect(0, row.top, frame.width, row.height)
    context.fillStyle = ground.first
    context.fillRect(0, row.top, end, row.height)
    if (row.rungs && !row.line) {
      drawRungs(
        context, row.rungs,
        { width: end, start: frame.start, span: frame.span, colour: ground.line, ground, coarse: true },
        (pitch) => yOf(pitch, row),
      )
    }
  }
  drawBeats(context, picture, seen)
  const known = new Set(seen.map(({ lane }) => lane))
  if (picture.before) drawNotes(context, { ...picture, view: picture.before }, known, true)
  for (const row of seen) {
    if (row.line) {
      drawLine(context, picture, row)
      continue
    }
    context.globalAlpha = 0.6
    drawSetLines(context, setLines(view, row.lane), { ...frame, top: row.top, height: row.height }, ground.ink)
    context.globalAlpha = 1
  }
  drawNotes(context, picture, known, false)
  if (picture.round) {
    const [from, to] = picture.round.map((beat) => xOf(beat, frame)) as [number, number]
    context.fillStyle = ground.ink
    context.globalAlpha = 0.1
    context.fillRect(0, above, Math.max(0, from), frame.height)
    context.fillRect(to, above, Math.max(0, frame.width - to), frame.height)
    context.globalAlpha = 1
  }
  context.restore()
}

function drawBeats(context: CanvasRenderingContext2D, picture: Picture, rows: readonly Row[]): void {
  for (const section of picture.view.sections) {
    if (section.end > picture.frame.start && section.start < picture.frame.start + picture.frame.span) {
      drawSection(context, picture, rows, section)
    }
  }
}

/** The lines of steps, beats and bars in a stretch of one metre. */
function drawSection(
  context: CanvasRenderingContext2D, { frame, ground, step }: Picture, rows: readonly Row[],
  { start, end, bar_beats: barBeats, meter }: ClipView['sections'][number],
): void {
  const pixels = frame.width / frame.span
  const paces: [number, string][] = [[barBeats, ground.line]]
  const beat = 4 / meter[1]
  if (beat * pixels > LEAST_APART) paces.unshift([beat, ground.beat])
  if (step * pixels > LEAST_APART * 1.6) paces.unshift([step, ground.beat])
  context.lineWidth = 1
  for (const [pace, colour] of paces) {
    context.strokeStyle = colour
    context.globalAlpha = pace === step ? 0.6 : 1
    const every = Math.max(1, Math.ceil(LEAST_APART / (pace * pixels)))
    const last = Math.min(end, frame.start + frame.span)
    context.beginPath()
    const first = Math.max(0, Math.ceil((frame.start - start) / pace / every - 1e-9)) * every
    for (let i = first; start + i * pace <= last + 1e-9; i += every) {
      const x = Math.round(xOf(start + i * pace, frame)) + 0.5
      for (const { top, height } of rows) {
        context.moveTo(x, top)
        context.lineTo(x, top + height)
      }
    }
    context.stroke()
  }
  context.globalAlpha = 1
}

function drawNotes(
  context: CanvasRenderingContext2D, picture: Picture, rows: ReadonlySet<number>, pale: boolean,
): void {
  const { view, frame, theme, ground, chosen } = picture
  const narrow = frame.span / frame.width > 0.2
  const first = picture.loose ? 0 : firstFrom(view.notes, frame.start - longestOf(view))
  for (let place = first; place < view.notes.length; place += 1) {
    const note = view.notes[place]
    if (!note || (!picture.loose && note[0] > frame.start + frame.span)) break
    const row = rows.has(note[4]) ? picture.rows[note[4]] : undefined
    if (!row) continue
    const { x, base, tall, long } = standing(note, row, frame)
    if (x + long < 0 || x > frame.width) continue
    const colour = jewel(note[4], theme)
    if (narrow) {
      // Many bars at once: a mark is enough.
      context.fillStyle = colour
      context.globalAlpha = pale ? 0.3 : 1
      context.fillRect(x, base - tall, 1.5, tall)
      context.globalAlpha = 1
      continue
    }
    wedge(context, x, base, long, tall)
    if (pale) {
      context.strokeStyle = colour
      context.lineWidth = 1
      context.setLineDash([2, 2.5])
      context.stroke()
      context.setLineDash([])
      continue
    }
    context.fillStyle = colour
    context.fill()
    if (chosen.has(place)) {
      context.strokeStyle = ground.ink
      context.lineWidth = 1.6
      context.strokeRect(
        Math.round(x) - 2.5, Math.round(base - tall) - 2.5, Math.max(11, Math.min(long, 60) + 4), tall + 5,
      )
    }
  }
}

/** What the notes of a lane set controllers to, as lines over the whole clip. */
function setLines(view: ClipView, lane: number): SetLine[] {
  const lines = new Map<number | string, SetLine & { corners: [number, number][] }>()
  for (const [time, number, value, of] of view.changes) {
    if (of !== lane) continue
    const [low, high] = boundsOf(number === 'bend')
    const line = lines.get(number) ?? { low, high, corners: [] }
    const before = line.corners.at(-1)
    if (before) line.corners.push([time, before[1]])
    line.corners.push([time, value])
    lines.set(number, line)
  }
  for (const { corners } of lines.values()) corners.push([view.beats, corners.at(-1)?.[1] ?? 0])
  return [...lines.values()]
}

/** What a controller is set to: steps from one value to the next, over their area. */
function drawLine(context: CanvasRenderingContext2D, { view, frame, theme }: Picture, row: Row): void {
  const changes = view.changes.filter(([, , , lane]) => lane === row.lane)
  if (!changes.length) return
  const colour = jewel(row.lane, theme)
  const end = Math.min(frame.width, xOf(view.beats, frame))
  const floor = row.top + row.height - 2
  context.beginPath()
  let last = yOf(changes[0]?.[2] ?? 0, row)
  const first = Math.max(0, xOf(changes[0]?.[0] ?? 0, frame))
  context.moveTo(first, last)
  for (const [time, , value] of changes) {
    const x = Math.min(end, Math.max(0, xOf(time, frame)))
    context.lineTo(x, last)
    last = yOf(value, row)
    context.lineTo(x, last)
  }
  context.lineTo(end, last)
  context.strokeStyle = colour
  context.lineWidth = 1.6
  context.stroke()
  context.lineTo(end, floor)
  context.lineTo(first, floor)
  context.closePath()
  context.globalAlpha = 0.2
  context.fillStyle = colour
  context.fill()
  context.globalAlpha = 1
  if ((frame.width / frame.span) * 0.25 > LEAST_APART) {
    for (const [time, , value] of changes) diamond(context, xOf(time, frame), yOf(value, row), 3)
  }
}
