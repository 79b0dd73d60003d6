/**
 * What a hand is turning at this moment: a word stepped by keys or by the wheel is stored a moment after
 * the last step, or at once when the hand goes on to something else.
 */
const REST_MS = 350

let settle: (() => void) | null = null
let holder: object | null = null
let timer: ReturnType<typeof setTimeout> | undefined

/** Store this when the hand rests, in place of what `who` held before; what another held is stored now. */
export function hold(who: object, next: () => void): void {
  if (holder !== who) letGo()
  holder = who
  settle = next
  clearTimeout(timer)
  timer = setTimeout(letGo, REST_MS)
}

/** Store now what is held, before anything else happens. */
export function letGo(): void {
  clearTimeout(timer)
  const held = settle
  settle = null
  held?.()
}
