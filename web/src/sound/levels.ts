/** How loud each lane is heard here: for listening only, remembered in this browser, not in the recipe. */
import { useLocalStorage } from '@vueuse/core'

const kept = useLocalStorage<Record<string, number>>('jolly-levels', {})
const MOST_KEPT = 500

/** The level of a lane in percent; 100 leaves it as it is. */
export const levelOf = (pattern: number, lane: string): number => kept.value[`${pattern}/${lane}`] ?? 100

/** Set it, from 0 to 200; false where it is no such number. */
export function setLevel(pattern: number, lane: string, percent: number): boolean {
  if (!(percent >= 0 && percent <= 200)) return false
  const others = Object.entries(kept.value).filter(([key]) => key !== `${pattern}/${lane}`)
  kept.value = Object.fromEntries([
    ...others.slice(-MOST_KEPT), ...(percent === 100 ? [] : [[`${pattern}/${lane}`, percent]]),
  ])
  return true
}
