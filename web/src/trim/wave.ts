/** What is drawn of a recording, and where its attacks are. */
export interface Wave {
  /** Milliseconds. */
  length: number
  /** The loudest sample of each of the parts that it is drawn in, 0 to 1. */
  peaks: number[]
  /** Where it is struck, in milliseconds from its beginning. */
  attacks: number[]
}
const PARTS = 240
/** A strike: within a few milliseconds it is so many times louder than before, and no whisper beside the loudest. */
const [FRAME_MS, TIMES_LOUDER, LEAST_SHARE, APART_MS] = [2, 2.5, 0.15, 30]

function loudest(samples: Float32Array, from: number, to: number): number {
  let most = 0
  for (let i = Math.floor(from); i < to; i += 1) most = Math.max(most, Math.abs(samples[i] ?? 0))
  return most
}
export function waveOf(samples: Float32Array, rate: number): Wave {
  const parts = Array.from(
    { length: PARTS }, (_, i) => loudest(samples, (i * samples.length) / PARTS, ((i + 1) * samples.length) / PARTS),
  )
  const top = Math.max(...parts, 1e-9)
  const frame = (FRAME_MS * rate) / 1000
  const attacks: number[] = []
  let [before, quiet] = [0, 0]
  for (let i = 0; i * frame < samples.length; i += 1) {
    const now = loudest(samples, i * frame, (i + 1) * frame) / top
    quiet = Math.max(now < before ? now : 0, quiet * 0.9)
    const at = i * FRAME_MS
    const apart = at - (attacks.at(-1) ?? -APART_MS)
    if (now > LEAST_SHARE && now > TIMES_LOUDER * Math.max(before, quiet) && apart >= APART_MS) {
      // Within the frame it begins with the first sample that is heard.
      const start = samples.findIndex((each, n) => n >= i * frame && Math.abs(each) > 0.02 * top)
      attacks.push((start * 1000) / rate)
    }
    before = now
  }
  return { length: (samples.length * 1000) / rate, peaks: parts.map((each) => each / top), attacks }
}
/** A place in milliseconds, or the attack that is no further from it than `reach`. */
export function snapped(at: number, { attacks }: Wave, reach: number): number {
  const nearest = attacks.reduce((best, each) => (Math.abs(each - at) < Math.abs(best - at) ? each : best), Infinity)
  return Math.abs(nearest - at) <= reach ? nearest : at
}
