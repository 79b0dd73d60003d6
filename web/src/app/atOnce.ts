/**
 * Menus and dialogs are there, and gone, at once: keys and pointers never meet one that is still coming or leaving, and
 * none waits for a picture of a page that draws slowly. How one comes into sight is drawn beside (style.css).
 */
import { h, markRaw, Transition, type FunctionalComponent } from 'vue'

const AtOnce: FunctionalComponent<{
  appear?: boolean; persisted?: boolean; onAfterEnter?: () => void; onAfterLeave?: () => void
}> = ({ appear, persisted, onAfterEnter, onAfterLeave }, { slots }) =>
  h(Transition, { css: false, appear, persisted, onAfterEnter, onAfterLeave }, slots)
AtOnce.inheritAttrs = false

export const atOnce = markRaw({ component: markRaw(AtOnce) })
