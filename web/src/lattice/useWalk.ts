/** Walking over the lattice by keys: lanes and steps, choosing some of them on the way, and why. */
import { usePattern } from '@/pattern/pattern'
import { cellLength, EDGE, visibleCells } from '@/pattern/cells'
import { useWhy } from './useWhy'

export function useWalk() {
  const pattern = usePattern()
  const { point } = useWhy()

  function cells(): number[] {
    return pattern.lane ? visibleCells(pattern.lane.drawn, pattern.start, pattern.span) : []
  }
  function walk(by: number): void {
    const count = cells().length
    if (!count) return
    pattern.step = Math.min(count - 1, Math.max(0, pattern.step + by))
    pattern.steps = []
    askWhy()
  }
  /** Walk on, choosing the steps on the way. */
  function chooseSteps(by: number): void {
    const stepAt = (cell: number) => pattern.lane?.drawn.steps[cells()[cell] ?? -1]
    const chosen = pattern.steps.length ? pattern.steps : [stepAt(pattern.step)]
    pattern.step = Math.min(cells().length - 1, Math.max(0, pattern.step + by))
    pattern.steps = [...new Set([...chosen, stepAt(pattern.step)])].filter((step) => step !== undefined)
  }
  function chooseLane(by: number): void {
    const before = pattern.chosen
    climb(by)
    if (before && pattern.chosen && before !== pattern.chosen) {
      pattern.picked = [...new Set([...pattern.picked, before, pattern.chosen])]
    }
  }
  function chooseNothing(): void {
    pattern.steps = []
    pattern.picked = []
  }
  /** All steps of the lane where some are chosen already, else all lanes. */
  function chooseAll(): void {
    if (pattern.steps.length) pattern.steps = [...new Set(pattern.lane?.drawn.steps)].sort((a, b) => a - b)
    else pattern.pickAll()
  }
  function askWhy(): void {
    const cell = cells()[pattern.step]
    if (!pattern.lane || cell === undefined) return
    const { drawn, id } = pattern.lane
    point(id, (drawn.cells[cell] ?? 0) + cellLength(drawn, cell) / 2)
  }
  function climb(by: number): void {
    const lanes = pattern.view?.lanes ?? []
    const next = lanes[lanes.findIndex((lane) => lane.id === pattern.chosen) + by]
    if (!next) return
    // From place to place in time: onto the step that lies there in the other lane.
    const beat = pattern.lane?.drawn.cells[cells()[pattern.step] ?? -1] ?? 0
    pattern.choose(next.id)
    pattern.step = Math.max(0, cells().findLastIndex((cell) => (next.drawn.cells[cell] ?? 0) <= beat + EDGE))
  }
  /** The step that the keyboard is on, and whether a hit lies in its cell. */
  function currentStep(): { step: number; hit: boolean } | null {
    const cell = cells()[pattern.step]
    const drawn = pattern.lane?.drawn
    if (!drawn || cell === undefined) return null
    const at = drawn.cells[cell] ?? 0
    const end = at + cellLength(drawn, cell)
    return {
      step: drawn.steps[cell] ?? 0,
      hit: drawn.hits.some(([place]) => place >= at - EDGE && place < end - EDGE),
    }
  }

  return { walk, climb, chooseSteps, chooseLane, chooseNothing, chooseAll, currentStep }
}
