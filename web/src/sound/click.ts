/** A click on the beats, and bars counted in before playing; both remembered in this browser. */
import { useLocalStorage } from '@vueuse/core'

export const click = useLocalStorage('jolly-click', false)
export const countIn = useLocalStorage('jolly-count-in', false)
/** The first of a bar, and other beats, on the built-in kit: wood blocks. */
export const CLICK = { bar: 76, beat: 77, by: 'dry', channel: 16, velocity: 90 }
