/**
 * What the pointer does on a lane: it takes a wedge by its tip (up and down its velocity, sideways its
 * nudge; across many steps it paints them), or by its body where it stands on a rung (up and down its degree), pulls
 * the lane's end, chooses steps with Shift, or sets and clears steps.
 */
import { ref, type Ref } from 'vue'
import type { Drawn, Edit } from '@/api/client'
import { useEscape } from '@/app/useEscape'
import { usePlayer } from '@/sound/player'
import { usePattern } from '@/pattern/pattern'
import { degreesBetween } from '@/melody/rungs'
import { bodyAt, standing, tallest, tipOf, type Stage } from './draw'
import { cellLength, visibleCells } from '@/pattern/cells'
import { useWhy } from './useWhy'

const REACH = 8
const LEAST_NUDGE_PIXELS = 6

type Touch = Extract<Edit, { do: 'touch' }>['places'][number]
type Gesture =
  | { kind: 'put'; on: boolean; steps: Set<number> }
  | { kind: 'choose'; from: number }
  | { kind: 'end'; from: number; steps: number }
  | { kind: 'body'; y: number; hit: number }
  | { kind: 'tip'; x: number; y: number; last: { x: number; y: number }; hit: number; painted: Map<number, Touch> }

export interface LaneArea {
  id: string
  steps: number
  drawn: Drawn
  stage: Stage
  canvas: HTMLCanvasElement | null
}

export function useLanePointer(area: () => LaneArea) {
  const pattern = usePattern()
  const player = usePlayer()
  const { point } = useWhy()
  const cursor: Ref<string> = ref('crosshair')
  /**
   * Where a hit is that is pointed at, or being moved: its place among the lane's hits, and the pointer's in the row.
   */
  const pointed = ref<{ hit: number; x: number; y: number } | null>(null)
  /** How many steps the lane has while its end is pulled, and where. */
  const pulled = ref<{ x: number; y: number; words: string } | null>(null)
  let gesture: Gesture | null = null
  let edits: Edit[] = []

  const x = (beat: number) => ((beat - area().stage.start) / area().stage.span) * area().stage.width
  function place(event: PointerEvent): { x: number; y: number; beat: number } {
    const { canvas, stage } = area()
    const box = canvas?.getBoundingClientRect()
    const left = event.clientX - (box?.left ?? 0)
    return { x: left, y: event.clientY - (box?.top ?? 0), beat: stage.start + (left / stage.width) * stage.span }
  }
  /** The cell at a beat, as its place in the lane's cells, or -1. */
  function cellAt(beat: number): number {
    const { cells } = area().drawn
    for (let i = cells.length - 1; i >= 0; i -= 1) {
      const at = cells[i] ?? 0
      if (at <= beat) return beat < at + cellLength(area().drawn, i) ? i : -1
    }
    return -1
  }
  function hitIn(cell: number): number {
    const { drawn } = area()
    const at = drawn.cells[cell] ?? 0
    const end = at + cellLength(drawn, cell)
    return drawn.hits.findIndex(([start]) => start >= at - 1e-6 && start < end - 1e-6)
  }
  function bodyUnder(at: { x: number; y: number }): number {
    const { drawn, stage } = area()
    return drawn.hits.findIndex((hit) => bodyAt(hit, stage, at))
  }
  function tipAt(at: { x: number; y: number }): number {
    return area().drawn.hits.findIndex((hit) => {
      const tip = area().stage.line ? null : tipOf(hit, area().stage)
      return tip !== null && Math.abs(tip.x - at.x) < REACH && Math.abs(tip.y - at.y) < REACH
    })
  }
  /** Where the lane's first whole run ends, in pixels, or null. */
  function end(): number | null {
    const { drawn, stage } = area()
    if (typeof drawn.lengths !== 'number') return null
    const first = drawn.cycles.find((at) => at >= stage.start - 1e-6)
    return first === undefined ? null : x(first + drawn.period * drawn.lengths)
  }
  const counted = (steps: number) => (steps === 1 ? '1 step' : `${steps} steps`)
  const atEnd = (left: number) => Math.abs(left - (end() ?? -100)) < REACH - 2

  function tryOut(next: Edit[]): void {
    edits = next
    void pattern.preview(next)
  }

  function press(event: PointerEvent): void {
    if (event.button !== 0) return
    const { id, drawn, canvas, stage, steps } = area()
    const at = place(event)
    const pulling = atEnd(at.x)
    if (event.ctrlKey || event.metaKey) {
      pattern.pick(id)
      return
    }
    pattern.choose(id)
    canvas?.setPointerCapture(event.pointerId)
    edits = []
    const cell = cellAt(at.beat)
    const tip = tipAt(at)
    const body = tip < 0 ? bodyUnder(at) : -1
    const step = drawn.steps[cell]
    if (pulling && typeof drawn.lengths === 'number') {
      gesture = { kind: 'end', from: at.x, steps }
      pulled.value = { x: at.x, y: at.y, words: counted(steps) }
    } else if (tip >= 0) {
      gesture = { kind: 'tip', x: at.x, y: at.y, last: at, hit: tip, painted: new Map() }
    } else if (body >= 0 && !event.shiftKey) {
      pattern.step = Math.max(0, visibleCells(drawn, stage.start, stage.span).indexOf(cell))
      gesture = { kind: 'body', y: at.y, hit: body }
    } else if (step !== undefined) {
      pattern.step = Math.max(0, visibleCells(drawn, stage.start, stage.span).indexOf(cell))
      if (event.shiftKey) {
        gesture = { kind: 'choose', from: cell }
        pattern.steps = [step]
      } else {
        pattern.steps = []
        gesture = { kind: 'put', on: hitIn(cell) < 0, steps: new Set([step]) }
        tryOut([{ do: 'put', lane: id, steps: [step], on: gesture.on }])
      }
    }
  }

  function move(event: PointerEvent): void {
    const at = place(event)
    const cell = cellAt(at.beat)
    if (!gesture) hover(at, cell)
    else if (gesture.kind === 'put') put(gesture, cell)
    else if (gesture.kind === 'choose') choose(gesture.from, cell)
    else if (gesture.kind === 'end') pull(gesture, at.x)
    else if (gesture.kind === 'body') raise(gesture, at.y)
    else tip(gesture, at)
  }
  function hover(at: { x: number; y: number }, cell: number): void {
    const { id, drawn } = area()
    const [tip, body] = [tipAt(at), bodyUnder(at)]
    cursor.value = atEnd(at.x) ? 'ew-resize' : tip >= 0 ? 'grab' : body >= 0 ? 'ns-resize' : 'crosshair'
    const hit = tip >= 0 ? tip : body >= 0 ? body : cell >= 0 ? hitIn(cell) : -1
    pointed.value = hit >= 0 ? { hit, x: at.x, y: at.y } : null
    if (cell >= 0) point(id, (drawn.cells[cell] ?? 0) + cellLength(drawn, cell) / 2)
  }
  function put(now: Extract<Gesture, { kind: 'put' }>, cell: number): void {
    const { id, drawn } = area()
    const step = drawn.steps[cell]
    if (step === undefined || now.steps.has(step)) return
    now.steps.add(step)
    tryOut([{ do: 'put', lane: id, steps: [...now.steps], on: now.on }])
  }
  function choose(from: number, cell: number): void {
    if (cell < 0) return
    const { steps } = area().drawn
    const [low, high] = [Math.min(from, cell), Math.max(from, cell)]
    pattern.steps = [...new Set(steps.slice(low, high + 1))]
  }
  function pull(now: Extract<Gesture, { kind: 'end' }>, left: number): void {
    const { id, drawn, stage } = area()
    const wide = ((drawn.lengths as number) / stage.span) * stage.width
    const steps = Math.min(128, Math.max(1, now.steps + Math.round((left - now.from) / wide)))
    const before = edits[0]
    pulled.value = { x: left, y: pulled.value?.y ?? 0, words: counted(steps) }
    if (before?.do === 'set' && before.value === steps) return
    tryOut([{ do: 'set', lane: id, slot: 'steps', value: steps, also: pattern.also }])
  }
  /** Move a wedge over the rungs: its degree, or what a controller is set to. */
  function raise(now: Extract<Gesture, { kind: 'body' }>, y: number): void {
    const { drawn, stage, id } = area()
    const { rungs } = stage
    if (pointed.value) pointed.value = { ...pointed.value, y }
    const taken = drawn.hits[now.hit]
    const stroke = taken?.[3][0]
    if (!taken || !stroke || !rungs) return
    const pixels = (
      standing([0, 0, 0, rungs.low], stage).base - standing([0, 0, 0, rungs.high], stage).base
    ) / (rungs.high - rungs.low)
    const semitones = (now.y - y) / pixels
    const pitch = stroke[3] + Math.round(semitones)
    const higher = stage.line ? Math.round(semitones) : Math.abs(semitones) < 0.5 ? 0
      : semitones > 0 ? degreesBetween(rungs, stroke[3], pitch) : -degreesBetween(rungs, pitch, stroke[3])
    const before = edits[0]
    if (before?.do === 'touch' && before.places[0]?.higher === higher) return
    tryOut([
      {
        do: 'touch', lane: id, places: together(taken[0]).map((place) => ({ at: place, louder: 0, later: 0, higher })),
      },
    ])
  }
  /** As much louder, or softer, as there is loudness. */
  const within = (louder: number) => Math.min(127, Math.max(-127, Math.round(louder)))
  /** Drawn loudness for a height above the base line. */
  const loudness = (y: number, base = area().stage.floor) => ((base - y) / tallest(area().stage)) * 127
  /** The places of the hits on the chosen steps, if this one is on one of them; else its own alone. */
  function together(place: number): number[] {
    const { cells, steps, hits } = area().drawn
    const isChosen = (at: number) => pattern.steps.includes(steps[cellAt(at + 1e-6)] ?? -1)
    if (!isChosen(place) || !cells.length) return [place]
    return hits.map(([at]) => at).filter(isChosen).slice(0, 512)
  }
  function tip(now: Extract<Gesture, { kind: 'tip' }>, at: { x: number; y: number }): void {
    const { drawn, stage, id } = area()
    const taken = drawn.hits[now.hit]
    if (!taken) return
    const wide = (cellLength(drawn, cellAt(taken[0] + 1e-6)) / stage.span) * stage.width
    const from = now.last
    now.last = at
    if (now.painted.size === 0 && Math.abs(at.x - now.x) <= wide) {
      const sideways = Math.abs(at.x - now.x) < LEAST_NUDGE_PIXELS ? 0 : Math.round(((at.x - now.x) / wide) * 100)
      const louder = within(loudness(at.y) - loudness(now.y))
      const later = Math.min(50, Math.max(-50, sideways))
      tryOut([
        { do: 'touch', lane: id, places: together(taken[0]).map((place) => ({ at: place, louder, later, higher: 0 })) },
      ])
      return
    }
    // Further than its own cell: every hit that the pointer crosses takes the pointer's height there.
    const known = now.painted.size
    if (known === 0) from.x = now.x
    const [left, right] = from.x < at.x ? [from, at] : [at, from]
    drawn.hits.forEach(([place, , , strokes], hit) => {
      const across = x(place)
      const stroke = strokes[0]
      if (!stroke || across < left.x - wide / 2 || across > right.x || now.painted.has(hit)) return
      const share = right.x === left.x ? 0 : Math.min(1, Math.max(0, (across - left.x) / (right.x - left.x)))
      const height = left.y + share * (right.y - left.y)
      now.painted.set(hit, {
        at: place, louder: within(loudness(height, standing(stroke, stage).base) - stroke[2]), later: 0, higher: 0,
      })
    })
    if (now.painted.size > known) tryOut([{ do: 'touch', lane: id, places: [...now.painted.values()] }])
  }

  const leave = () => void (pointed.value = null)

  function release(): void {
    const done = gesture
    gesture = null
    pulled.value = null
    if (!done || done.kind === 'choose' || !edits.length) return
    void pattern.commit(edits).then((taken) => {
      if (taken) player.hearChange()
    })
  }
  function abandon(): void {
    if (gesture) void pattern.preview([])
    gesture = null
    pulled.value = null
  }
  useEscape(() => gesture !== null, abandon)
  return { press, move, release, abandon, leave, cursor, end, pointed, pulled }
}
