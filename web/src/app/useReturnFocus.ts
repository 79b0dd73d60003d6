/** A dialog gives the focus back to what had it when it was opened, unless something else took it. */
import { useEventListener } from '@vueuse/core'
import { nextTick, watch, type Ref } from 'vue'
import { giveBack } from './keyboard'

let menuOpener: HTMLElement | null = null
/** A menu's entry is about to open something: the focus goes back to what opened the menu. */
export function openedFrom(element: HTMLElement | null): void {
  menuOpener = element
}

export function useReturnFocus(open: Ref<boolean>): void {
  let from: Element | null = null
  // Escape closes it from the first moment on; the library's own key waits until it knows what lies on top.
  useEventListener('keydown', (event) => {
    const inside = event.target instanceof Element && event.target.closest('[role=dialog]')
    if (open.value && inside && event.key === 'Escape' && !event.defaultPrevented) open.value = false
  })
  watch(open, (now) => {
    if (now) {
      const active = document.activeElement
      from = active === document.body || active?.closest('.v-overlay') ? menuOpener : active
      return
    }
    const back = from
    // A dialog that is still leaving pulls the focus back into itself, on a busy machine for a while.
    const look = (tries: number) => {
      const active = document.activeElement
      const lost = active === document.body || !!active?.closest('[role=dialog], .v-overlay:not(.v-overlay--active)')
      if (open.value || !(lost || active === back || active?.matches('[data-home]'))) return
      if (lost) giveBack(back)
      const leaving = lost || document.querySelector('[role=dialog]')
      if (tries && leaving) setTimeout(() => look(tries - 1), 60)
    }
    void nextTick(() => look(40))
  })
}
