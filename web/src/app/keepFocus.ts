/**
 * Focus that would fall to nowhere, because what had it is gone or can no longer be used, goes to what
 * stands in its place now: the control at the same place of the same region, or the last one there; where the region is
 * empty, the first of the page's main part.
 */
const FOCUSABLE = 'button:not(:disabled), a[href], input:not(:disabled), [tabindex]:not([tabindex="-1"])'
const REGIONS = 'section, aside, nav, main, header, [role=group], [role=tablist]'

interface Place {
  element: HTMLElement
  /** From the nearest to the widest, each with the place among its controls. */
  regions: { region: HTMLElement; index: number }[]
}

const within = (region: HTMLElement) => [...region.querySelectorAll<HTMLElement>(FOCUSABLE)].filter((each) => each.checkVisibility())

let last: Place | null = null

function remember(event: FocusEvent): void {
  const element = event.target
  if (!(element instanceof HTMLElement) || element.closest('.v-overlay')) return
  const regions: Place['regions'] = []
  for (let at = element.closest<HTMLElement>(REGIONS); at; at = at.parentElement?.closest<HTMLElement>(REGIONS) ?? null) {
    regions.push({ region: at, index: within(at).indexOf(element) })
  }
  last = { element, regions }
}

function rescue(): void {
  const place = last
  if (!place || document.activeElement !== document.body) return
  if (place.element.isConnected && !place.element.matches(':disabled')) return
  last = null
  for (const { region, index } of place.regions) {
    if (!region.isConnected) continue
    const controls = within(region)
    const next = controls[Math.min(Math.max(0, index), controls.length - 1)]
    if (next) return next.focus()
  }
  // Nothing is left there: to the first control of what the page is about.
  const main = document.querySelector<HTMLElement>('main')
  if (main) within(main)[0]?.focus()
}

export function keepFocus(): void {
  document.addEventListener('focusin', remember)
  // What gave the focus up while it was there and in use was meant to.
  document.addEventListener('focusout', (event) => {
    const element = event.target as HTMLElement
    const place = last // on a busy machine it may have the focus again before this runs
    setTimeout(() => {
      if (place && last === place && place.element === element && element.isConnected && !element.matches(':disabled')) last = null
    })
  })
  // A hand with a pointer puts the focus where it wants it.
  document.addEventListener('pointerdown', () => (last = null))
  // An element that leaves the page takes the focus with it without a word.
  let waiting = false
  const later = () => {
    if (waiting || !last) return
    waiting = true
    requestAnimationFrame(() => {
      waiting = false
      rescue()
    })
  }
  new MutationObserver(later).observe(document.body, {
    childList: true, subtree: true, attributes: true, attributeFilter: ['disabled'],
  })
}
