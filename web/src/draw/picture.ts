/**
 * A clip or a pattern as a picture of its own, for notes and lessons: the marks of the screen, with names and bars
 * beside them.
 */
import { Context } from 'svgcanvas'
import type { ClipView, View } from '@/api/client'
import { groundOf, jewel, type Ground, type ThemeName } from '@/app/colours'
import { drawClip } from '@/clip/draw'
import { rowsOf } from '@/clip/rows'
import { drawLane, reachOf } from '@/lattice/draw'
import { rungsOf } from '@/melody/rungs'

const PAPER: Record<ThemeName, string> = { paper: '#efe6d0', lamplight: '#241c31' }
const NAMES = 150
const TOP = 74
const EDGE = 18
const GAP = 5
const HEIGHTS = { drum: 46, pitched: 120, control: 60 }
/** A picture is no wider than this, however long the clip is. */
const WIDEST = 4000
const NARROWEST = 900
const BEAT = 60

export interface Picture {
  width: number
  height: number
  paint: (context: CanvasRenderingContext2D) => void
}

const wide = (beats: number) => Math.round(Math.min(WIDEST, Math.max(NARROWEST, beats * BEAT)))

/** The ground, the title, and the number of each bar. */
function frame(
  context: CanvasRenderingContext2D, theme: ThemeName, ground: Ground, title: string, about: string,
  picture: { width: number; height: number }, bars: { beats: number; bar: number },
): void {
  context.fillStyle = PAPER[theme]
  context.fillRect(0, 0, picture.width, picture.height)
  context.fillStyle = ground.ink
  context.font = "600 20px 'Fraunces Variable', Georgia, serif"
  context.fillText(title, EDGE, 30)
  context.font = "13px 'Figtree Variable', sans-serif"
  context.fillText(about, EDGE, 50)
  const pixels = (picture.width - NAMES - EDGE) / bars.beats
  const every = Math.max(1, Math.ceil(24 / (bars.bar * pixels)))
  for (let bar = 0; bar * bars.bar < bars.beats - 1e-9; bar += every) {
    context.fillText(String(bar + 1), NAMES + bar * bars.bar * pixels + 3, TOP - 5)
  }
}
function named(context: CanvasRenderingContext2D, name: string, y: number, colour: string): void {
  context.fillStyle = colour
  context.font = "600 15px 'Fraunces Variable', Georgia, serif"
  context.fillText(name.length > 18 ? `${name.slice(0, 17)}…` : name, EDGE, y)
}
const tempoAndMetre = (tempo: number, meter: number[]) =>
  `${Number(tempo.toFixed(2))} beats a minute, ${meter.join('/')}`

/** A clip: its rows, its notes in true time. */
export function clipPicture(view: ClipView, title: string, theme: ThemeName): Picture {
  const room = view.lanes.reduce((sum, { kind }) => sum + HEIGHTS[kind] + GAP, 0)
  const rows = rowsOf(view, room)
  const last = rows.at(-1)
  const width = NAMES + wide(view.beats) + EDGE
  const height = TOP + (last ? last.top + last.height : 40) + EDGE
  return {
    width, height,
    paint(context) {
      const ground = groundOf(theme)
      frame(context, theme, ground, title, tempoAndMetre(view.tempo, view.meter), { width, height }, {
        beats: view.beats, bar: view.bar_beats,
      })
      for (const row of rows) {
        named(context, view.lanes[row.lane]?.name ?? '', TOP + row.top + 18, jewel(row.lane, theme))
      }
      context.save()
      context.translate(NAMES, TOP)
      drawClip(context, {
        view, rows, frame: { width: width - NAMES - EDGE, height: height - TOP - EDGE, start: 0, span: view.beats },
        ground, theme,
        chosen: new Set(), before: null, step: 4 / view.meter[1], round: null, above: 0, loose: false,
      })
      context.restore()
    },
  }
}

/** A pattern's first pass: its lanes with every step. */
export function patternPicture(view: View, title: string, theme: ThemeName): Picture {
  const beats = view.frame_beats
  const width = NAMES + wide(beats) + EDGE
  const tops = view.lanes.map(
    (_, i) => TOP + view.lanes.slice(0, i).reduce((sum, { kind }) => sum + HEIGHTS[kind] + GAP, 0),
  )
  const height = (tops.at(-1) ?? TOP) + HEIGHTS[view.lanes.at(-1)?.kind ?? 'drum'] + EDGE
  return {
    width, height,
    paint(context) {
      const ground = groundOf(theme)
      frame(context, theme, ground, title, tempoAndMetre(view.tempo, view.meter), { width, height }, {
        beats, bar: view.bar_beats,
      })
      view.lanes.forEach((lane, i) => {
        const [top = TOP, tall, colour] = [tops[i], HEIGHTS[lane.kind], jewel(i, theme)]
        named(context, lane.name, top + 18, colour)
        context.save()
        context.translate(NAMES, top)
        drawLane(context, lane.drawn, {
          width: width - NAMES - EDGE, height: tall, start: 0, span: beats, beat: 4 / view.meter[1],
          bar: view.bar_beats, colour, ground,
          audible: lane.audible, cursor: -1, ...reachOf(tall), rungs: rungsOf(lane, view.chords),
          line: lane.kind === 'control', chosen: [], end: null, coarse: false,
        })
        context.restore()
      })
    },
  }
}

/** The picture as an SVG document. */
export function asSvg({ width, height, paint }: Picture): string {
  const context = new Context(width, height)
  paint(context as unknown as CanvasRenderingContext2D)
  return context.getSerializedSvg(true)
}

/** The picture as a PNG, twice as fine as it is wide. */
export function asPng({ width, height, paint }: Picture): Promise<Blob> {
  const canvas = document.createElement('canvas')
  canvas.width = width * 2
  canvas.height = height * 2
  const context = canvas.getContext('2d')
  context?.scale(2, 2)
  if (context) paint(context)
  return new Promise(
    (done, refuse) => canvas.toBlob((blob) => (blob ? done(blob) : refuse(new Error('no picture'))), 'image/png'),
  )
}
