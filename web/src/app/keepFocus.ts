/**
 * The focus never falls to nowhere. What had it may be gone, or be no longer of use: then it goes to what stands in its
 * place now, the control at the same place of the same region, or the last one there; where the region is empty, or a
 * pointer had put it there, to what the view is about. What lies over the page keeps it.
 */
import { covering, goHome, isHeldByKeys } from './keyboard'

const FOCUSABLE = 'button:not(:disabled), a[href], input:not(:disabled), [tabindex]:not([tabindex="-1"])'
const REGIONS = 'section, aside, nav, main, header, [role=group], [role=tablist]'

interface Place {
  element: HTMLElement
  /** From the nearest to the widest, each with the place among its controls. */
  regions: { region: HTMLElement; index: number }[]
}

const within = (region: HTMLElement) =>
  [...region.querySelectorAll<HTMLElement>(FOCUSABLE)].filter((each) => each.checkVisibility())

let last: Place | null = null

function remember({ target: element }: FocusEvent): void {
  if (!(element instanceof HTMLElement) || element.closest('.v-overlay')) return
  last = null
  if (!isHeldByKeys(element)) return
  const regions: Place['regions'] = []
  let at = element.closest<HTMLElement>(REGIONS)
  while (at) {
    regions.push({ region: at, index: within(at).indexOf(element) })
    at = at.parentElement?.closest<HTMLElement>(REGIONS) ?? null
  }
  last = { element, regions }
}

function rescue(): void {
  if (document.activeElement !== document.body) return
  const over = covering()
  if (over) {
    const content = over.querySelector<HTMLElement>('.v-overlay__content')
    return ((content && within(content)[0]) ?? content)?.focus()
  }
  const place = last
  last = null
  const isGone = place && !(place.element.isConnected && !place.element.matches(':disabled'))
  for (const { region, index } of isGone ? place.regions : []) {
    if (!region.isConnected) continue
    const controls = within(region)
    const next = controls[Math.min(Math.max(0, index), controls.length - 1)]
    if (next) return next.focus()
  }
  if (goHome() || !place) return
  // A page without music: the first control of what it is about.
  const main = document.querySelector<HTMLElement>('main')
  if (main) within(main)[0]?.focus()
}

export function keepFocus(): void {
  document.addEventListener('focusin', remember)
  // An element that leaves the page takes the focus with it without a word.
  let waiting = false
  new MutationObserver(() => {
    if (waiting || document.activeElement !== document.body) return
    waiting = true
    requestAnimationFrame(() => {
      waiting = false
      rescue()
    })
  }).observe(document.body, { childList: true, subtree: true, attributes: true, attributeFilter: ['disabled'] })
}
