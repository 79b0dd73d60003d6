/**
 * What the pointer does on a clip: it chooses notes (with Shift, more of them; over a stretch, all in it), takes
 * them by the body (to move them; with Ctrl, copies), by the tip (velocity) or by the end (length). Two clicks on
 * an empty place add a note, two on a note take it away. Things move along the grid; with Alt, freely.
 */
import { ref, shallowRef } from 'vue'
import type { ClipEdit, ClipView } from '@/api/client'
import { useEscape } from '@/app/useEscape'
import { degreesBetween } from '@/melody/rungs'
import { useClip } from './clip'
import { beatAt, noteAt, pitchAt, standing, tallest, type Frame, type Part, type Row } from './rows'
import { moved, type Move } from './moved'

type Point = { x: number; y: number }
type Gesture =
  | { kind: Part; from: Point; grabbed: number; copies: boolean; move: Move | null }
  | { kind: 'choose'; from: Point; before: number[]; far: boolean }
  | { kind: 'line'; row: Row; drawn: Map<number, number> }
const FAR = 4

export function useClipPointer(stage: () => {
  rows: readonly Row[]; frame: Frame; above: number; canvas: HTMLElement | null,
}) {
  const clip = useClip()
  const cursor = ref('default')
  /** The note that is pointed at, or held, and where the pointer is. */
  const pointed = shallowRef<{ place: number; x: number; y: number } | null>(null)
  /** The stretch that is being chosen, in pixels. */
  const lasso = shallowRef<{ left: number; top: number; width: number; height: number } | null>(null)
  let gesture: Gesture | null = null

  function at(event: MouseEvent): Point {
    const { canvas, above } = stage()
    const box = canvas?.getBoundingClientRect()
    return { x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) + above }
  }
  const rowAt = (y: number) => stage().rows.find(({ top, height }) => y >= top && y < top + height)
  const stored = (): ClipView | null => clip.trying?.view ?? clip.state?.view ?? null

  function press(event: PointerEvent): void {
    const view = stored()
    if (event.button !== 0 || !view) return
    stage().canvas?.setPointerCapture(event.pointerId)
    const point = at(event)
    const under = noteAt(view, stage().rows, stage().frame, point)
    const row = rowAt(point.y)
    if (under && clip.trying) clip.forgetTool()
    else if (under) {
      const known = clip.chosen.includes(under.place)
      if (event.shiftKey) clip.choose(known ? clip.chosen.filter((each) => each !== under.place) : [
        ...clip.chosen, under.place,
      ])
      else if (!known) clip.choose([under.place])
      if (!event.shiftKey) {
        gesture = {
          kind: under.part, from: point, grabbed: under.place, copies: event.ctrlKey || event.metaKey, move: null,
        }
      }
    } else if (row?.line) {
      gesture = { kind: 'line', row, drawn: new Map() }
      drawOn(gesture, point)
    } else gesture = { kind: 'choose', from: point, before: event.shiftKey ? clip.chosen : [], far: false }
  }
  function move(event: PointerEvent): void {
    const point = at(event)
    const view = stored()
    if (!view) return
    if (!gesture) {
      const under = noteAt(view, stage().rows, stage().frame, point)
      cursor.value = under ? {
        tip: 'grab', end: 'ew-resize', body: 'move',
      }[under.part] : rowAt(point.y)?.line ? 'crosshair' : 'default'
      pointed.value = under && { place: under.place, x: point.x, y: point.y - stage().above }
    } else if (gesture.kind === 'choose') drag(gesture, point, view)
    else if (gesture.kind === 'line') drawOn(gesture, point)
    else handle(gesture, point, view, event.altKey)
  }
  /** Choose what lies in the stretch. */
  function drag(now: Extract<Gesture, { kind: 'choose' }>, to: Point, view: ClipView): void {
    const { from, before } = now
    if (Math.hypot(to.x - from.x, to.y - from.y) < FAR && !now.far) return
    now.far = true
    const [left, right] = [Math.min(from.x, to.x), Math.max(from.x, to.x)]
    const [top, bottom] = [Math.min(from.y, to.y), Math.max(from.y, to.y)]
    lasso.value = { left, top: top - stage().above, width: right - left, height: bottom - top }
    const found = view.notes.flatMap((note, place) => {
      const row = stage().rows[note[4]]
      if (!row) return []
      const { x, base, tall } = standing(note, row, stage().frame)
      return x >= left && x <= right && base >= top && base - tall <= bottom ? [place] : []
    })
    clip.choose([...before, ...found])
  }
  function handle(now: Extract<Gesture, { kind: Part }>, to: Point, view: ClipView, freely: boolean): void {
    const { rows, frame } = stage()
    const note = view.notes[now.grabbed]
    const row = note && rows[note[4]]
    if (!note || !row || (!now.move && Math.hypot(to.x - now.from.x, to.y - now.from.y) < FAR)) return
    const beats = beatAt(to.x, frame) - beatAt(now.from.x, frame)
    const snap = (place: number, by: number) => (freely ? by : Math.round((place + by) / clip.step) * clip.step - place)
    if (now.kind === 'tip') now.move = { louder: Math.round(((now.from.y - to.y) / tallest(row)) * 127) }
    else if (now.kind === 'end') now.move = { longer: snap(note[0] + note[1], beats) }
    else {
      const semitones = row.rungs ? Math.round(pitchAt(to.y, row) - pitchAt(now.from.y, row)) : 0
      const steps = !row.rungs || !semitones ? 0
        : semitones > 0 ? degreesBetween(
          row.rungs, note[2], note[2] + semitones,
        ) : -degreesBetween(row.rungs, note[2] + semitones, note[2])
      const sideways = Math.abs(to.x - now.from.x) < FAR ? 0 : snap(note[0], beats)
      now.move = { later: sideways, ...(freely ? { semitones } : { degrees: steps }) }
    }
    clip.hand = moved(view, clip.chosen, now.move, now.copies)
    pointed.value = { place: now.grabbed, x: to.x, y: to.y - stage().above }
  }
  /** A controller is drawn: from grid step to grid step, as high as the pointer. */
  function drawOn(now: Extract<Gesture, { kind: 'line' }>, to: Point): void {
    const view = clip.state?.view
    const { rungs } = now.row
    const step = Math.floor(beatAt(to.x, stage().frame) / clip.step + 1e-9)
    if (!view || !rungs || step < 0 || step * clip.step >= view.beats) return
    now.drawn.set(step, Math.round(Math.min(rungs.high, Math.max(rungs.low, pitchAt(to.y, now.row)))))
    const number = numberOf(now.row)
    const others = view.changes.filter(
      ([time, , , lane]) => lane !== now.row.lane || !now.drawn.has(Math.floor(time / clip.step + 1e-9)),
    )
    const made = [...now.drawn].map(([each, value]): ClipView['changes'][number] => [
      each * clip.step, number, value, now.row.lane,
    ])
    clip.hand = { ...view, changes: [...others, ...made].sort((a, b) => a[0] - b[0]) }
  }
  const numberOf = (row: Row) => clip.state?.view.changes.find(([, , , lane]) => lane === row.lane)?.[1] ?? 74

  function release(): void {
    const done = gesture
    gesture = null
    lasso.value = null
    if (!done) return
    // A press on an empty place lets go of what was chosen.
    if (done.kind === 'choose') {
      if (!done.far && !done.before.length) clip.choose([])
    } else if (done.kind === 'line') void clip.commit([drawing(done)], true)
    else if (done.move && clip.hand) void clip.commit([editOf(done.move, done.copies)])
    else clip.hand = null
  }
  /** The controller as the hand has it, from the first step that was drawn to the last. */
  function drawing({ row, drawn }: Extract<Gesture, { kind: 'line' }>): ClipEdit {
    const lane = clip.state?.view.lanes[row.lane]?.id ?? ''
    const number = numberOf(row) as Extract<ClipEdit, { do: 'draw_changes' }>['number']
    const [start, end] = [Math.min(...drawn.keys()) * clip.step, (Math.max(...drawn.keys()) + 1) * clip.step]
    const changes = (clip.hand?.changes ?? []).flatMap(([time, each, value, of]): [number, number][] =>
      of === row.lane && each === number && time >= start && time < end ? [[time, value]] : [])
    return { do: 'draw_changes', lane, number, start, end, changes }
  }
  function editOf(move: Move, copies: boolean): ClipEdit {
    const notes = clip.chosen
    if (move.louder !== undefined) {
      return { do: 'louden_notes', notes, by: Math.max(-126, Math.min(126, move.louder)), to: null }
    }
    if (move.longer !== undefined) return { do: 'lengthen_notes', notes, by: move.longer }
    return {
      do: 'move_notes', notes, later: move.later ?? 0, semitones: move.semitones ?? 0, degrees: move.degrees ?? 0,
      copy_them: copies,
    }
  }
  /** Two clicks: a note that was there goes, and where none was, one comes. */
  function twice(event: MouseEvent): void {
    const view = clip.state?.view
    if (!view || clip.trying) return
    const point = at(event)
    const under = noteAt(view, stage().rows, stage().frame, point)
    const row = rowAt(point.y)
    if (under) void clip.commit([{ do: 'remove_notes', notes: [under.place] }])
    else if (row && !row.line) void clip.commit([{ do: 'add_notes', notes: [newNote(view, row, point)] }])
  }
  function newNote(view: ClipView, row: Row, point: Point) {
    const lane = view.lanes[row.lane]
    const start = Math.max(
      0, Math.min(view.beats - clip.step, Math.floor(beatAt(point.x, stage().frame) / clip.step) * clip.step),
    )
    const known = view.notes.find((note) => note[4] === row.lane)
    const wanted = Math.round(pitchAt(point.y, row))
    // The note of the key that is nearest.
    const inKey = [0, -1, 1, -2, 2, -3, 3].map((by) => wanted + by).find(
      (pitch) => row.rungs?.notes.includes((pitch - row.rungs.root + 120) % 12),
    ) ?? wanted
    return {
      start, length: clip.step, pitch: row.rungs ? Math.min(127, Math.max(0, inKey)) : (known?.[2] ?? 36),
      velocity: known?.[3] ?? 96, lane: lane?.id ?? '',
    }
  }
  function abandon(): void {
    gesture = null
    lasso.value = null
    clip.hand = null
  }
  const leave = () => void (gesture === null && (pointed.value = null))
  useEscape(() => gesture !== null, abandon)
  return { press, move, release, abandon, leave, twice, cursor, pointed, lasso }
}
