/**
 * Whose a key is. Keys belong to the music wherever the focus is, but for a field that is typed into, an open menu and
 * a dialog, which take all of them; and a control that was reached by keys takes Space and Enter. A pointer leaves no
 * hold on the keys: when it lets go, the focus goes home, to what the view is about (`data-home`).
 */
import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'

const TYPED = 'input:not([type=range], [type=checkbox], [type=radio], [type=file]), textarea, [contenteditable=true]'
const OVERLAY = '.v-overlay'
const LIES_OVER = '.v-overlay--active'
/** What Space and Enter press. Tabs and radios are chosen by arrows, and words are opened by Enter alone. */
const PRESSED =
  'button:not([role=tab], [role=radio]), a[href], summary, select, input[type=checkbox], input[type=radio]'
const CONTROL = 'button, a[href], summary, select, input, [role=spinbutton], [role=slider], [role=option]'
const WALKED = 'input[type=range], select'
const WALKING = /^(Arrow|Page|Home|End)/

/**
 * How each control was reached last: by a pointer that pressed it, or else by keys (or by what reads the page aloud).
 */
const reached = new WeakMap<Element, 'pointer' | 'keys'>()
let pressing = false

/** The menu or dialog that lies over the page, the topmost of several. */
export const covering = (): Element | null => [...document.querySelectorAll(LIES_OVER)].at(-1) ?? null
export const isCovered = (): boolean => document.querySelector(LIES_OVER) !== null
/** Whether the keyboard is on this control: it has the focus, and no pointer put it there. */
export const isHeldByKeys = (element: Element | null): boolean =>
  element !== null && element === document.activeElement && reached.get(element) === 'keys'

/** Whether a place is one that is typed into. */
export const isTyped = (target: EventTarget | null): boolean =>
  target instanceof Element && target.closest(TYPED) !== null

/** Whether letters play notes just now; with Alt they do what they do otherwise. */
export const lettersPlay = ref(false)

const homeOf = (): HTMLElement | null =>
  [...document.querySelectorAll<HTMLElement>('[data-home]')].find((each) => each.checkVisibility()) ?? null
/** Give the keys to the music; false where the page has none. */
export function goHome(): boolean {
  const home = homeOf()
  home?.focus({ preventScroll: true })
  return home !== null
}
/** Give the focus back to what had it, if that was reached by keys; else to the music. */
export function giveBack(to: Element | null, byKeys = to !== null && reached.get(to) === 'keys'): void {
  if (!(to instanceof HTMLElement && to.isConnected)) goHome()
  else if (byKeys || !homeOf()) to.focus()
  else goHome()
}

export interface Pressed {
  /** A letter in lower case, or the key's name. */
  key: string
  /** The key as it lies on the keyboard. */
  code: string
  shift: boolean
  alt: boolean
  /** Ctrl, or Command on a Mac. */
  command: boolean
  repeat: boolean
  /** When it went down, in milliseconds of the page's clock, however late it is heard of. */
  time: number
  /** Whether nothing but what the view is about has the keys: then arrows and Enter are the music's too. */
  free: boolean
}

function isForMusic({ target, key, defaultPrevented }: KeyboardEvent): boolean {
  if (defaultPrevented || !(target instanceof HTMLElement) || isCovered()) return false
  // What is leaving has no keys any more, though it may still have the focus.
  if (target.closest(OVERLAY)) return true
  if (target.closest(TYPED)) return false
  if (!isHeldByKeys(target)) return true
  return !(
    ((key === ' ' || key === 'Enter') && target.closest(PRESSED)) || (WALKING.test(key) && target.closest(WALKED))
  )
}
function pressedOf(event: KeyboardEvent): Pressed {
  const { key, code, shiftKey, altKey, ctrlKey, metaKey, repeat } = event
  const target = event.target as HTMLElement
  // With Alt some keyboards write other letters.
  const letter = altKey && /^Key[A-Z]$/.test(code) ? code.slice(3) : key
  const free = !!target.closest('[data-home]') || !target.closest(CONTROL) || !isHeldByKeys(target)
  return {
    key: letter.length === 1 ? letter.toLowerCase() : letter, code, shift: shiftKey, alt: altKey,
    command: ctrlKey || metaKey, repeat, free, time: event.timeStamp,
  }
}

/**
 * Take keys that are the music's: `actionOf` says what a key does, if it does anything. `first`: before other takers.
 */
export function useMusicKeys(actionOf: (pressed: Pressed) => (() => void) | null | undefined, first = false): void {
  useEventListener(document, 'keydown', (event: KeyboardEvent) => {
    if (!isForMusic(event)) return
    const action = actionOf(pressedOf(event))
    if (!action) return
    event.preventDefault()
    if (first) event.stopPropagation()
    action()
  }, { capture: first })
}

/** The pointer has let go, or typing has ended: what it was on gives the keys back. */
function letGo(ended: Element | null = null): void {
  setTimeout(() => {
    pressing = false
    const at = document.activeElement
    // What was refused stays under the hand, to be put right.
    if (isCovered() || at?.closest(OVERLAY) || at?.matches('[aria-invalid=true]')) return
    const isHeld = at instanceof HTMLElement && at !== document.body && (at === ended || reached.get(at) === 'pointer')
    if (at === document.body || (isHeld && (at === ended || !at.matches(`${TYPED}, select`)))) goHome()
  })
}

/** Follow pointer and focus over the whole page, once. */
export function watchHands(): void {
  const early = { capture: true }
  for (const kind of ['pointerdown', 'mousedown'] as const) {
    document.addEventListener(kind, () => (pressing = true), early)
  }
  for (const kind of ['pointerup', 'pointercancel', 'click', 'dragend'] as const) {
    document.addEventListener(kind, () => pressing && letGo())
  }
  document.addEventListener(
    'focusin', ({ target }) => target instanceof Element && reached.set(target, pressing ? 'pointer' : 'keys'), early,
  )
  document.addEventListener(
    'change', ({ target }) => target instanceof HTMLSelectElement && reached.get(target) === 'pointer' && letGo(target),
  )
  // Behind what lies over the page no key acts; Escape closes it, and Tab leads into it.
  document.addEventListener('keydown', (event) => {
    pressing = false // on a busy page a key can come before it is seen that the pointer let go
    const isBehind = event.target instanceof Element && !event.target.closest(OVERLAY)
    if (isBehind && isCovered() && event.key !== 'Escape' && event.key !== 'Tab') event.stopPropagation()
  }, early)
  // Enter ends typing, and Escape gives it up: a field that is left standing gives the keys back.
  document.addEventListener('keydown', ({ key, target }) => {
    if (key !== 'Enter' && key !== 'Escape') return
    if (target instanceof HTMLInputElement && target.matches(TYPED) && !target.closest(OVERLAY)) letGo(target)
  }, early)
}
