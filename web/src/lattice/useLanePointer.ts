/**
 * What the pointer does on a lane: it takes a wedge by its tip (up and down its velocity, sideways its
 * nudge; across many steps it paints them), or by its body where it stands on a rung (up and down its degree), pulls
 * the lane's end, chooses steps with Shift, or sets and clears steps.
 */
import { ref, type Ref } from 'vue'
import type { Edit } from '@/api/client'
import { many } from '@/app/many'
import { useEscape } from '@/app/useEscape'
import { cellLength, visibleCells } from '@/pattern/cells'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'
import { bodyUnder, cellAt, endOf, FINGER, hitIn, placeUnder, REACH, tipUnder, type LaneArea, type Point } from './lanePlaces'
import { useWhy } from './useWhy'
import { pulled as tipPulled, raised, type Tip } from './wedgeHand'

type Gesture =
  | { kind: 'put'; on: boolean; steps: Set<number> }
  | { kind: 'choose'; from: number }
  | { kind: 'end'; from: number; steps: number }
  | { kind: 'body'; y: number; hit: number }
  | Tip

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
  /** The step under a finger that has taken a tip: it is meant where the finger goes up again without having moved. */
  let tapped: number | null = null

  const end = () => endOf(area())
  const atEnd = (left: number) => Math.abs(left - (end() ?? -100)) < REACH - 2

  function tryOut(next: Edit[]): void {
    edits = next
    void pattern.preview(next)
  }

  function press(event: PointerEvent): void {
    if (event.button !== 0) return
    const { id, drawn, canvas, stage, steps } = area()
    const at = placeUnder(area(), event)
    const isFinger = event.pointerType !== 'mouse'
    const pulling = atEnd(at.x)
    // A finger points where it presses.
    if (isFinger) hover(at, cellAt(drawn, at.beat))
    if (event.ctrlKey || event.metaKey) {
      pattern.pick(id)
      return
    }
    pattern.choose(id)
    canvas?.setPointerCapture(event.pointerId)
    edits = []
    tapped = null
    const cell = cellAt(drawn, at.beat)
    const tip = event.shiftKey ? -1 : tipUnder(area(), at, isFinger ? FINGER : REACH)
    const body = tip < 0 ? bodyUnder(area(), at) : -1
    const step = drawn.steps[cell]
    if (pulling && typeof drawn.lengths === 'number') {
      gesture = { kind: 'end', from: at.x, steps }
      pulled.value = { x: at.x, y: at.y, words: many(steps, 'step') }
    } else if (tip >= 0) {
      gesture = { kind: 'tip', from: at, last: at, hit: tip, painted: new Map() }
      tapped = isFinger && step !== undefined ? step : null
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
        gesture = { kind: 'put', on: hitIn(drawn, cell) < 0, steps: new Set([step]) }
        tryOut([{ do: 'put', lane: id, steps: [step], on: gesture.on }])
      }
    }
  }

  function move(event: PointerEvent): void {
    const at = placeUnder(area(), event)
    const cell = cellAt(area().drawn, at.beat)
    if (!gesture) hover(at, cell)
    else if (gesture.kind === 'put') put(gesture, cell)
    else if (gesture.kind === 'choose') choose(gesture.from, cell)
    else if (gesture.kind === 'end') pull(gesture, at.x)
    else if (gesture.kind === 'body') raise(gesture, at.y)
    else touch(tipPulled(area(), gesture, at, pattern.steps))
  }
  function hover(at: Point, cell: number): void {
    const { id, drawn } = area()
    const [tip, body] = [tipUnder(area(), at), bodyUnder(area(), at)]
    cursor.value = atEnd(at.x) ? 'ew-resize' : tip >= 0 ? 'grab' : body >= 0 ? 'ns-resize' : 'crosshair'
    const hit = tip >= 0 ? tip : body >= 0 ? body : cell >= 0 ? hitIn(drawn, cell) : -1
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
    pulled.value = { x: left, y: pulled.value?.y ?? 0, words: many(steps, 'step') }
    if (before?.do === 'set' && before.value === steps) return
    tryOut([{ do: 'set', lane: id, slot: 'steps', value: steps, also: pattern.also }])
  }
  /** Move a wedge over the rungs: its degree, or what a controller is set to. */
  function raise(now: Extract<Gesture, { kind: 'body' }>, y: number): void {
    if (pointed.value) pointed.value = { ...pointed.value, y }
    const next = raised(area(), now.hit, now.y, y, pattern.steps)
    const before = edits[0]
    if (before?.do !== 'touch' || before.places[0]?.higher !== next?.places[0]?.higher) touch(next)
  }
  function touch(next: Edit | null): void {
    if (next) tryOut([next])
  }

  const leave = () => void (pointed.value = null)
  /** A finger on a tip, a body or the lane's end takes that, and scrolls nothing. */
  function keepTouch(event: TouchEvent): void {
    const [finger] = event.touches
    if (!finger || event.touches.length > 1) return
    const at = placeUnder(area(), finger)
    if (atEnd(at.x) || tipUnder(area(), at, FINGER) >= 0 || bodyUnder(area(), at) >= 0) event.preventDefault()
  }

  function release(): void {
    const done = gesture
    gesture = null
    pulled.value = null
    if (done?.kind === 'tip' && !edits.length && tapped !== null) {
      edits = [{ do: 'put', lane: area().id, steps: [tapped], on: false }]
    }
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
  return { press, move, release, abandon, leave, keepTouch, cursor, end, pointed, pulled }
}
