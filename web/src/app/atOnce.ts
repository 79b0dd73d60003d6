/**
 * Menus and dialogs are there, and gone, at once: keys and pointers never meet one that is still coming or leaving,
 * none moves away from under a press, and none waits for pictures of a page that draws slowly.
 */
import { h, markRaw, Transition, type FunctionalComponent } from 'vue'

const AtOnce: FunctionalComponent<{
  appear?: boolean; persisted?: boolean; onAfterEnter?: () => void; onAfterLeave?: () => void
}> = ({ appear, persisted, onAfterEnter, onAfterLeave }, { slots }) =>
  h(Transition, { css: false, appear, persisted, onAfterEnter, onAfterLeave }, slots)
AtOnce.inheritAttrs = false

export const atOnce = markRaw({ component: markRaw(AtOnce) })
