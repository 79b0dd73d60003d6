/**
 * Several controls are one stop of Tab, with arrows inside: ← → and Home, End. Where they stand in groups that are
 * alike (`v-one-stop="'li'"`), ↑ ↓ walk within a group, and ← → go to the same control of the next; with groups that
 * stand one below the other (`v-one-stop.down`) it is the other way round.
 */
import type { Directive } from 'vue'

const CONTROLS = 'button, a[href], input:not([type=file]), [role=spinbutton]'
const inside = (box: Element): HTMLElement[] =>
  [...box.querySelectorAll<HTMLElement>(CONTROLS)].filter((each) => !each.closest('[hidden]'))

function stopAt(all: readonly HTMLElement[], chosen: HTMLElement | undefined): void {
  for (const each of all) {
    const stop = each === chosen ? 0 : -1
    if (each.tabIndex !== stop) each.tabIndex = stop
  }
}
function settle(box: Element): void {
  const all = inside(box)
  stopAt(all, all.find((each) => each === document.activeElement) ?? all.find((each) => each.tabIndex === 0) ?? all[0])
}
/** The control to go to from this one; undefined where nothing lies that way; null where the key leads nowhere here. */
function next(
  box: Element, from: HTMLElement, key: string, groups: string | undefined, down: boolean,
): HTMLElement | undefined | null {
  const all = inside(box)
  if (key === 'Home' || key === 'End') return all.at(key === 'Home' ? 0 : -1)
  const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -1, ArrowDown: 1 }[key]
  if (!by) return null
  const isAcross = key === 'ArrowLeft' || key === 'ArrowRight'
  const group = groups ? from.closest(groups) : null
  if (!group || !groups) return isAcross ? all[all.indexOf(from) + by] : null
  const own = inside(group)
  if (isAcross === down) return own[own.indexOf(from) + by]
  const others = [...box.querySelectorAll(groups)]
  const beside = others[others.indexOf(group) + by]
  return beside && (inside(beside)[own.indexOf(from)] ?? inside(beside)[0])
}

export const vOneStop: Directive<HTMLElement, string | undefined, 'down'> = {
  mounted(box, { value: groups, modifiers: { down = false } }) {
    settle(box)
    box.addEventListener('focusin', ({ target }) => {
      const all = inside(box)
      if (all.includes(target as HTMLElement)) stopAt(all, target as HTMLElement)
    })
    box.addEventListener('keydown', (event) => {
      const from = event.target as HTMLElement
      if (
        event.ctrlKey || event.metaKey || event.altKey || event.shiftKey || event.defaultPrevented
          || !inside(box).includes(from)
      ) return
      if (from instanceof HTMLInputElement && !['checkbox', 'radio'].includes(from.type)) return
      const to = next(box, from, event.key, groups, down)
      if (to === null) return
      event.preventDefault()
      event.stopPropagation()
      to?.focus()
    })
  },
  updated: settle,
}
