/**
 * Following another program's clock. Its messages come with jitter: the tempo is that of a straight line
 * through the last of them, and a small share of what is missing to their beat is made up.
 */
import { CLOCKS_A_BEAT } from '@/ports/messages'

const LAST = 96
const LEAST = 12
const CATCH_UP = 0.08
const MOST_CATCH_UP = 0.03

export class ClockIn {
  private times: number[] = []
  /** Clock messages since start. */
  count = 0

  begin(): void {
    this.times = []
    this.count = 0
  }
  /** A message has come, at a time in milliseconds. */
  tick(time: number): void {
    this.times.push(time)
    if (this.times.length > LAST) this.times.shift()
    this.count += 1
  }
  /** The tempo in beats per minute; null until enough has come. Slope of the least-squares line. */
  tempo(): number | null {
    const n = this.times.length
    if (n < LEAST) return null
    const middle = (n - 1) / 2
    const mean = this.times.reduce((sum, time) => sum + time, 0) / n
    let [above, below] = [0, 0]
    this.times.forEach((time, i) => {
      above += (i - middle) * (time - mean)
      below += (i - middle) ** 2
    })
    return 60_000 / ((above / below) * CLOCKS_A_BEAT)
  }
  /** The tempo to go on with, for one who has played so many beats. */
  followed(beats: number): number | null {
    const tempo = this.tempo()
    if (tempo === null) return null
    const behind = (this.count - 1) / CLOCKS_A_BEAT - beats
    const share = Math.min(MOST_CATCH_UP, Math.max(-MOST_CATCH_UP, behind * CATCH_UP))
    return Math.min(400, Math.max(20, Math.round(tempo * (1 + share) * 100) / 100))
  }
}
