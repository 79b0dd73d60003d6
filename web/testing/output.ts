/**
 * The output of sound for tests: a clock that the test turns, and what was struck by it. In place of the real one by
 * `vi.mock('@/sound/output', () => import('@testing/output'))`.
 */
import { nextTick } from 'vue'

/** What is looked at of a note. */
interface Struck {
  lane: string
  beat: number
  time: number
  pitch: number
  velocity: number
  length: number
}
export const struck: Struck[] = []
const ticks: (() => void)[] = []
let at = 0

export function beginAnew(): void {
  struck.length = ticks.length = at = 0
}
/** Let the clock go on to a time in seconds, in the small steps in which it ticks. */
export async function until(seconds: number): Promise<void> {
  while (at < seconds - 1e-9) {
    at = Math.min(seconds, at + 0.05)
    ticks.forEach((tick) => tick())
  }
  await nextTick()
}

export const LEAD_IN = 0
export const now = () => at
export const onTick = (tick: () => void) => void ticks.push(tick)
export const strike = (note: Struck) => void struck.push(note)
/** What lies ahead is not heard any more. */
export const hush = () => void struck.splice(0, struck.length, ...struck.filter(({ time }) => time <= at))
export const soundsWith = () => Promise.resolve()
export const prepare = () => undefined
export const forgetStruck = () => undefined
export const sound = () => undefined
export const turn = () => undefined
