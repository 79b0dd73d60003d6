/** Two fingers on a picture of time: apart and together they zoom, side by side they scroll. */
import { useEventListener } from '@vueuse/core'
import type { Ref } from 'vue'

/** So far apart, or together, the fingers have to go for the next zoom. */
export const ZOOMS = 1.6
/** So large a share of the picture's width they have to go for the next page. */
const TURNS = 0.25

/** zoom: one step in (1) or out (-1); turn: one page on (1) or back (-1). */
export function useTwoFingers(
  box: Readonly<Ref<HTMLElement | null>>, does: { zoom: (by: 1 | -1) => void; turn: (by: 1 | -1) => void },
): void {
  let apart = 0
  let middle = 0
  /** Where the fingers are, as long as there are two. */
  function between({ touches: [one, other, third] }: TouchEvent) {
    return one && other && !third ? {
      apart: Math.hypot(one.clientX - other.clientX, one.clientY - other.clientY),
      middle: (one.clientX + other.clientX) / 2,
    } : null
  }
  useEventListener(box, 'touchstart', (event: TouchEvent) => {
    const now = between(event)
    if (!now) return
    event.preventDefault()
    ;({ apart, middle } = now)
  }, { passive: false })
  useEventListener(box, 'touchmove', (event: TouchEvent) => {
    const now = between(event)
    if (!now) return
    if (event.cancelable) event.preventDefault()
    const wide = (box.value?.clientWidth ?? 0) * TURNS
    if (now.apart > apart * ZOOMS || now.apart < apart / ZOOMS) {
      does.zoom(now.apart > apart ? 1 : -1)
      ;({ apart, middle } = now)
    } else if (Math.abs(now.middle - middle) > wide) {
      does.turn(now.middle < middle ? 1 : -1)
      middle = now.middle
    }
  }, { passive: false })
}
