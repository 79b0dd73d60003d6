/** Where a line through corners stands at a beat; null before it begins. */
export function valueAt(corners: readonly (readonly [number, number])[], beat: number): number | null {
  let found: number | null = null
  for (const [i, [at, value]] of corners.entries()) {
    if (at > beat + 1e-9) {
      const [before, from] = corners[i - 1] ?? [at, value]
      return i === 0 || at === before ? found : from + ((value - from) * (beat - before)) / (at - before)
    }
    found = value
  }
  return found
}
