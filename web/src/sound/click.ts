/** A click on the beats, and bars counted in before playing; both remembered in this browser. */
import { useLocalStorage } from '@vueuse/core'
import type { View } from '@/api/client'
import { STATED } from '@/generated/stated'
import { LEAD_IN, now, sound } from './output'
import type { Heard } from './strikeView'

export const click = useLocalStorage('jolly-click', false)
export const countIn = useLocalStorage('jolly-count-in', false)
/** The first of a bar, and other beats, on the built-in kit: wood blocks. */
const CLICK = { bar: 76, beat: 77, by: STATED.firstKit, channel: 16, velocity: 90 }

/** The drums that are needed for it. */
export const clickDrums = () =>
  (click.value || countIn.value ? [CLICK.bar, CLICK.beat] : []).map((pitch) => ({ by: CLICK.by, pitch }))

function clickAt(bar: boolean, time: number): void {
  const { by, channel, velocity } = CLICK
  sound({
    by, channel, velocity, pitched: false, set: {}, lane: 'click', pitch: bar ? CLICK.bar : CLICK.beat, time,
    seconds: 0.1, level: 100,
  })
}
/** Clicks for one bar, from now on, where they are wanted; returns how many seconds it lasts. */
export function countBar(view: View): number {
  if (!countIn.value) return 0
  const [beats, unit] = view.meter
  const seconds = (4 / unit) * (60 / view.tempo)
  for (let i = 0; i < beats; i += 1) clickAt(i === 0, now() + LEAD_IN + i * seconds)
  return beats * seconds
}
/** Click on the beats of the metre in a pattern's own beats [from, to), where that is wanted. */
export function clickIn([beats, unit]: View['meter'], from: number, to: number, { beatOf, timeOf }: Heard): void {
  const length = 4 / unit
  for (let at = Math.ceil(from / length - 1e-9); click.value && at * length < to - 1e-9; at += 1) {
    clickAt(at % beats === 0, timeOf(beatOf(at * length)))
  }
}
