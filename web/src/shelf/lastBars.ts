/** The last whole bars of passes that were heard one after another. */

/** How many whole bars passes of these lengths hold together, in beats. */
export const wholeBars = (lengths: readonly number[], bar: number): number =>
  Math.floor(lengths.reduce((sum, each) => sum + each, 0) / bar + 1e-6)

/**
 * From which of the passes on they are needed for the last `bars` whole bars, and the number (from 1) of the first of
 * these bars in what those passes hold.
 */
export function lastBars(lengths: readonly number[], bar: number, bars: number): { first: number; firstBar: number } {
  const from = (wholeBars(lengths, bar) - bars) * bar
  let start = 0
  let first = 0
  for (; first < lengths.length - 1 && start + (lengths[first] ?? 0) <= from + 1e-6; first += 1) {
    start += lengths[first] ?? 0
  }
  return { first, firstBar: Math.round((from - start) / bar) + 1 }
}
