/** Controls as the guide names them: a key by itself, anything else by its accessible name or what stands on it. */
const KEYS: Record<string, string> = {
  space: ' ', 'ctrl+z': 'z', '?': '?', enter: 'Enter', escape: 'Escape', '←': 'ArrowLeft', '→': 'ArrowRight',
  '↑': 'ArrowUp', '↓': 'ArrowDown',
}
const CONTROLS =
  'button, a[href], select, input, [role=spinbutton], [role=tab], [role=radio], [role^=menuitem], [role=slider]'

/** The key that a name stands for, if it is one: a capital letter, or "space". */
export function keyCalled(name: string): string | null {
  return KEYS[name.toLowerCase()] ?? (/^[A-Z]$/.test(name) ? name.toLowerCase() : null)
}
export const isPressed = (name: string, { key, ctrlKey, metaKey }: KeyboardEvent): boolean =>
  keyCalled(name)?.toLowerCase() === key.toLowerCase() && /^ctrl/i.test(name) === (ctrlKey || metaKey)

const namesOf = (control: Element) => [
  control.getAttribute('aria-label') ?? '', (control.querySelector('.v-list-item-title') ?? control).textContent,
  ...(control instanceof HTMLInputElement ? [...(control.labels ?? [])].map((label) => label.textContent) : []),
]
/** Whether a control, or what it holds or lies in, goes by this name: as a whole, or as the beginning of it. */
export function isCalled(element: Element | null, name: string): boolean {
  const control = element?.closest(CONTROLS)
  if (!control) return false
  const wanted = name.toLowerCase()
  return namesOf(control).some((each) => {
    const told = each.trim().toLowerCase()
    return told === wanted || (told.startsWith(wanted) && !/[a-z]/.test(told.charAt(wanted.length)))
  })
}
/**
 * The first control on the screen that goes by a name; one that is called just so before those that only begin with it.
 */
export function controlCalled(name: string): HTMLElement | null {
  const found = [...document.querySelectorAll<HTMLElement>(CONTROLS)].filter(
    (each) => !each.closest('.guide-panel') && each.checkVisibility() && isCalled(each, name),
  )
  const exact = found.find((each) => namesOf(each).some((told) => told.trim().toLowerCase() === name.toLowerCase()))
  return exact ?? found[0] ?? null
}
