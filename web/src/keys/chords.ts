/**
 * Which keys are meant together. Keys that go down together, or are held together for most of their time, are
 * a chord; one that is still down for a moment when the next comes is the note before it, however fast they are.
 */
export interface Struck {
  pitch: number
  velocity: number
}

/** Keys that go down within so many milliseconds are one chord. */
const TOGETHER = 35
/** A key that shares so much of the time of the one before is its chord's. */
const SHARED = 0.6

/** `struck` is called with each chord, or single note, as soon as it is known. */
export function useChords(struck: (notes: Struck[]) => void) {
  let waiting: (Struck & { at: number })[] = []

  function give(count: number): void {
    const now = waiting.slice(0, count)
    waiting = waiting.slice(count)
    if (now.length) struck(now.map(({ pitch, velocity }) => ({ pitch, velocity })))
  }
  /** A key goes down; `alone`: no other is. Times are in milliseconds. */
  function down(pitch: number, velocity: number, at: number, alone: boolean): void {
    if (alone) give(waiting.length)
    waiting.push({ pitch, velocity, at })
  }
  /** A key is let go; `last`: no other is down. */
  function up(pitch: number, at: number, last: boolean): void {
    const mine = waiting.find((each) => each.pitch === pitch)
    if (mine) {
      const next = waiting.findIndex(
        (each) => each.at - mine.at >= TOGETHER && at - each.at < SHARED * (at - mine.at),
      )
      if (next > 0) give(next)
    }
    if (last) give(waiting.length)
  }
  /** What is waiting is not meant. */
  const forget = () => void (waiting = [])
  return { down, up, forget }
}
