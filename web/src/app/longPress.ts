/**
 * What Shift and Alt do under a hand with a mouse, a finger or pen does by a long press: what is marked with
 * `data-press="shift"`, "alt" or "shift alt" gets the same events as with that key held down from then on, at first
 * with the first of them, after another while with the second. A press that moves or ends sooner is a plain one.
 */
import { useMediaQuery } from '@vueuse/core'
import { ref } from 'vue'

const LONG_MS = 450
/** A finger that rests moves so many pixels all the same. */
const RESTS = 8

type Key = 'shift' | 'alt'
interface Press {
  on: HTMLElement
  /** What is under the finger. */
  target: Element
  first: PointerEvent
  keys: Key[]
  held: Key | null
  /** Whether those who listen know of it by now. */
  begun: boolean
}

/** Whether the hand is a finger here: a long press is none that drags a thing out of the window. */
export const byTouch = useMediaQuery('(pointer: coarse)')
/** What is held by a long press, where, for whoever looks on. */
export const heldBy = ref<{ key: Key; x: number; y: number; words: string } | null>(null)

let press: Press | null = null
let timer: ReturnType<typeof setTimeout> | undefined
/** A click that ends a long press is one with its key. */
let clicks: Key | null = null
/** Fingers of which one was on something that is pressed, before others came: none of them presses any more. */
const several = new Set<number>()
const ours = new WeakSet<Event>()

function send(type: string, like: PointerEvent, target: Element, key: Key | null): void {
  const { pointerId, pointerType, isPrimary, clientX, clientY, button, buttons, pressure } = like
  const event = new PointerEvent(type, {
    pointerId, pointerType, isPrimary, clientX, clientY, button, buttons, pressure, bubbles: true, cancelable: true,
    composed: true, shiftKey: key === 'shift', altKey: key === 'alt',
  })
  ours.add(event)
  target.dispatchEvent(event)
}
function begin(key: Key | null): void {
  if (!press) return
  const { begun, target, first } = press
  if (begun) send('pointercancel', first, target, null)
  press.begun = true
  press.held = key
  send('pointerdown', first, target, key)
  if (!key) return
  navigator.vibrate?.(12)
  const words = press.on.dataset.pressWords?.split('|')[press.keys.indexOf(key)] ?? ''
  heldBy.value = { key, x: first.clientX, y: first.clientY, words }
}
function holdOn(at: number): void {
  timer = setTimeout(() => {
    const key = press?.keys[at]
    if (!key) return
    begin(key)
    holdOn(at + 1)
  }, LONG_MS)
}
function end(): void {
  clearTimeout(timer)
  clicks = press?.held ?? null
  press = null
  heldBy.value = null
}

function down(event: PointerEvent): void {
  if (ours.has(event)) return
  clicks = null
  if (event.pointerType === 'mouse') return
  if (press || several.size) {
    event.stopPropagation()
    several.add(event.pointerId)
    if (!press) return
    several.add(press.first.pointerId)
    if (press.begun) send('pointercancel', press.first, press.target, null)
    return end()
  }
  const target = event.target instanceof Element ? event.target : null
  const on = target?.closest<HTMLElement>('[data-press]')
  if (!on || !target) return
  event.stopPropagation()
  press = { on, target, first: event, keys: (on.dataset.press ?? '').split(' ') as Key[], held: null, begun: false }
  holdOn(0)
}
function move(event: PointerEvent): void {
  if (several.has(event.pointerId)) event.stopPropagation()
  if (!press || ours.has(event) || event.pointerId !== press.first.pointerId) return
  event.stopPropagation()
  const { first, begun, target, held } = press
  const far = Math.hypot(event.clientX - first.clientX, event.clientY - first.clientY) > RESTS
  if (far) clearTimeout(timer)
  if (far && !begun) begin(null)
  if (press.begun && far) send('pointermove', event, target, held)
}
function up(event: PointerEvent): void {
  if (several.delete(event.pointerId)) event.stopPropagation()
  if (!press || ours.has(event) || event.pointerId !== press.first.pointerId) return
  event.stopPropagation()
  if (!press.begun && event.type === 'pointerup') begin(null)
  if (press.begun) send(event.type, event, press.target, press.held)
  end()
}
function click(event: MouseEvent): void {
  const key = clicks
  if (!key || ours.has(event)) return
  clicks = null
  event.stopPropagation()
  event.preventDefault()
  const { clientX, clientY } = event
  const again = new MouseEvent('click', {
    clientX, clientY, bubbles: true, cancelable: true, shiftKey: key === 'shift', altKey: key === 'alt',
  })
  ours.add(again)
  event.target?.dispatchEvent(again)
}

/** Watch for long presses on the whole page. */
export function watchLongPresses(): void {
  const capture = { capture: true }
  document.addEventListener('pointerdown', down, capture)
  document.addEventListener('pointermove', move, capture)
  document.addEventListener('pointerup', up, capture)
  document.addEventListener('pointercancel', up, capture)
  document.addEventListener('click', click, capture)
  // What is held is not scrolled away, and no menu of the browser lies over it.
  document.addEventListener('touchmove', (event) => press?.held && event.cancelable && event.preventDefault(), {
    capture: true, passive: false,
  })
  document.addEventListener('contextmenu', (event) => (press || clicks) && event.preventDefault(), capture)
}
