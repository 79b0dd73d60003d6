/** A strip of marks: where each lies on the screen, and which is nearest. */
import type { Strip } from '@/api/client'

export type Mark = Strip['marks'][number]
/** The two brackets of a strip, 0 to 1. */
export type Bounds = [low: number, high: number]

/** Where the marks of a strip lie, 0 to 1: those of one value side by side, up to where the next value begins. */
export function places(marks: readonly Mark[]): number[] {
  const found: number[] = []
  for (let first = 0; first < marks.length;) {
    const at = marks[first]?.at ?? 0
    let after = first
    while (after < marks.length && marks[after]?.at === at) after += 1
    const next = marks[after]?.at
    const before = first > 0 ? (marks[first - 1]?.at ?? 0) : 0
    // The last value has no next one to reach to; it takes as much room as the one before it.
    const wide = next !== undefined ? next - at : first > 0 ? at - before : 1
    const from = next !== undefined || first === 0 ? at : 1 - 0.8 * wide
    for (let i = first; i < after; i += 1) found.push(from + (0.8 * wide * (i - first + 0.5)) / (after - first))
    first = after
  }
  return sorted(found)
}

/** The rest of a strip may not lie before what came before it. */
function sorted(found: number[]): number[] {
  let last = 0
  return found.map((at) => (last = Math.min(1, Math.max(last, at))))
}

/** The mark nearest to a place among those between the brackets; -1 where there is none. */
export function nearest(at: readonly number[], place: number, [low, high]: Bounds): number {
  let best = -1
  at.forEach((each, i) => {
    if (each < low - 1e-9 || each > high + 1e-9) return
    if (best < 0 || Math.abs(each - place) < Math.abs((at[best] ?? 0) - place)) best = i
  })
  return best
}

/** So many marks on, staying between the brackets. */
export function onward(at: readonly number[], from: number, by: number, [low, high]: Bounds): number {
  const within = at.flatMap((each, i) => (each >= low - 1e-9 && each <= high + 1e-9 ? [i] : []))
  if (within.length === 0) return -1
  const now = within.findIndex((i) => i >= from)
  const start = now < 0 ? within.length - 1 : now
  return within[Math.min(within.length - 1, Math.max(0, start + by))] ?? -1
}

/** How many steps two sets of hits differ on. */
export function stepsApart(one: readonly number[], other: readonly number[]): number {
  const [a, b] = [new Set(one), new Set(other)]
  return one.filter((step) => !b.has(step)).length + other.filter((step) => !a.has(step)).length
}
