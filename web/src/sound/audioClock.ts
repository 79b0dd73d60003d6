/**
 * The audio context and the clock that everything is played by. Where the browser gives no sound (none is allowed yet,
 * there is no device, or it was taken away) the page's own clock goes on, so that the picture, ports and the Trail do.
 */
import * as Tone from 'tone'
import { useEventListener, useIntervalFn } from '@vueuse/core'
import { ref } from 'vue'
import { SteadyClock } from './steadyClock'

/** A context takes so long at most to begin, in milliseconds. */
const TO_BEGIN_MS = 400
/** How often is looked, where there is no context that ticks by itself. */
const TICK_MS = 25

/** Whether the browser gives no sound, as of when it was wanted last. */
export const silent = ref(false)
/** Whether any sound was ever had on this page. */
export const everHeard = ref(false)

const clock = new SteadyClock(() => performance.now() / 1000)
const ticking = new Set<() => void>()
const ended = new Set<() => void>()
// Held on to, since the library lends its place to another context while it renders a drum.
let context: Tone.BaseContext | null = null
const bare = useIntervalFn(tick, TICK_MS, { immediate: false })

/** The time, in seconds. */
export const now = () => clock.now()
/** A time on the clock of the audio context. */
export const onAudio = (time: number) => clock.onAudio(time)
/** Whether the audio context goes at this moment. */
export const goes = () => !clock.silent
/** Whether there is any: some browsers have none at all. */
export const supported = 'AudioContext' in window

/** A time on the browser's own clock, in milliseconds. */
export function milliseconds(time: number): number {
  const raw = context?.rawContext as AudioContext | undefined
  const { contextTime = 0, performanceTime = 0 } = (clock.silent ? null : raw?.getOutputTimestamp?.()) ?? {}
  return performanceTime
    ? performanceTime + (clock.onAudio(time) - contextTime) * 1000
    : performance.now() + (time - now()) * 1000
}

/** Call this on every tick of a steady clock; what is returned ends that. */
export function onTick(each: () => void): () => void {
  ticking.add(each)
  return () => void ticking.delete(each)
}
/** Call this where sound has ended: what was scheduled must not be heard late. */
export const onEnd = (each: () => void) => void ended.add(each)

function tick(): void {
  look()
  ticking.forEach((each) => each())
}
function look(): void {
  const { silent: was } = clock
  clock.check()
  if (!clock.silent) [silent.value, everHeard.value] = [false, true]
  else if (!was) {
    silent.value = true
    ended.forEach((each) => each())
  }
}

function make(): Tone.BaseContext | null {
  try {
    if (!supported) return null
    // What the library begins with serves; after one that is stuck, another is made.
    const made = context ? new Tone.Context() : Tone.getContext()
    if (context) Tone.setContext(made, true)
    made.lookAhead = 0
    made.on('tick', tick)
    bare.pause()
    return made
  } catch {
    return null
  }
}
/** Let the context go, and see whether it does. */
async function begins(): Promise<boolean> {
  void context?.resume().catch(() => {})
  const until = performance.now() + TO_BEGIN_MS
  do {
    look()
    if (!clock.silent) return true
    await new Promise((done) => setTimeout(done, 10))
  } while (performance.now() < until)
  return false
}

/**
 * Have sound, as far as the browser gives it; it allows it after a gesture. Resolves soon in any case: to the context,
 * also where it does not go yet, or to null where there is none.
 */
export async function awaken(): Promise<BaseAudioContext | null> {
  if (!context) {
    context = make()
    if (context) clock.attach(context)
    else bare.resume()
  }
  silent.value = !(await begins())
  return (context?.rawContext as BaseAudioContext | undefined) ?? null
}
/** Try once more, with another context where this one stays as it is: another device may be there by now. */
export async function tryAgain(): Promise<BaseAudioContext | null> {
  const got = await awaken()
  if (!silent.value) return got
  const made = make()
  if (made) clock.attach((context = made))
  return awaken()
}
// Whatever the hand does may be what the browser has waited for.
useEventListener(document, ['pointerup', 'keydown'], () => {
  if (silent.value) void context?.resume().catch(() => {})
}, { capture: true, passive: true })
