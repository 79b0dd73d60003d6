/**
 * What a hand is turning at this moment: a word stepped by keys or by the wheel is stored a moment after
 * the last step, or at once, and before anything else happens, when the hand goes on to something else.
 */
const REST_MS = 350

let settle: (() => void) | null = null
let holder: HTMLElement | null = null
let timer: ReturnType<typeof setTimeout> | undefined

/** Store this when the hand rests on the word `at`; what it held elsewhere is stored now. */
export function hold(at: HTMLElement | null, next: () => void): void {
  if (holder !== at) letGo()
  holder = at
  settle = next
  clearTimeout(timer)
  timer = setTimeout(letGo, REST_MS)
}

/** Store now what is held. */
export function letGo(): void {
  clearTimeout(timer)
  const held = settle
  settle = null
  held?.()
}

document.addEventListener('pointerdown', letGo, { capture: true })
document.addEventListener('keydown', (event) => event.target !== holder && letGo(), { capture: true })
