/** F6 leads from region to region of the view (`data-region`), Shift+F6 back: to where the keyboard was there last. */
import { useEventListener } from '@vueuse/core'
import { isCovered } from './keyboard'

const STOPS =
  '[data-home], button:not(:disabled, [tabindex="-1"]), a[href], input:not(:disabled, [tabindex="-1"]), select, [tabindex="0"]'
const left = new WeakMap<Element, HTMLElement>()

function stopIn(region: HTMLElement): HTMLElement | undefined {
  if (region.matches('[data-home]')) return region
  const known = left.get(region)
  if (known && region.contains(known) && known.checkVisibility()) return known
  const stops = [...region.querySelectorAll<HTMLElement>(STOPS)].filter((each) => each.checkVisibility())
  return region.querySelector<HTMLElement>('[data-home]') ?? stops[0]
}

export function useRegions(): void {
  useEventListener(document, 'keydown', (event: KeyboardEvent) => {
    if (event.key !== 'F6' || isCovered()) return
    event.preventDefault()
    const active = document.activeElement
    const regions = [...document.querySelectorAll<HTMLElement>('[data-region]')].filter((each) => stopIn(each))
    const at = regions.findIndex((each) => each.contains(active))
    const by = event.shiftKey ? -1 : 1
    const next = regions[at < 0 ? 0 : (at + by + regions.length) % regions.length]
    if (at >= 0 && active instanceof HTMLElement) left.set(regions[at] as HTMLElement, active)
    if (next) stopIn(next)?.focus()
  })
}
