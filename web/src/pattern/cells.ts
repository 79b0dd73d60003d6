/** The cells of a drawn lane: which are on the screen, and how long each is. */
import type { Drawn } from '@/api/client'

/** So far, in beats, floating point may have moved a place. */
export const EDGE = 1e-6

/** The cells that begin in [start, start + span), by their place in `drawn.cells`. */
export function visibleCells(drawn: Drawn, start: number, span: number): number[] {
  const found: number[] = []
  drawn.cells.forEach((at, index) => {
    if (at >= start - EDGE && at < start + span - EDGE) found.push(index)
  })
  return found
}

export function cellLength(drawn: Drawn, index: number): number {
  return typeof drawn.lengths === 'number' ? drawn.lengths : (drawn.lengths[index] ?? 0)
}

/** Of so many bars on the screen, every how many-th is labelled and has a line. */
export const labelledBars = (bars: number) => (bars > 64 ? 16 : bars > 16 ? 4 : 1)
