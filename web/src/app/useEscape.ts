/** Escape gives up what a hand is dragging, and does nothing else. */
import { useEventListener } from '@vueuse/core'

export function useEscape(dragging: () => boolean, giveUp: () => void): void {
  useEventListener(document, 'keydown', (event) => {
    if (event.key !== 'Escape' || !dragging()) return
    event.preventDefault()
    event.stopImmediatePropagation()
    giveUp()
  }, { capture: true })
}
