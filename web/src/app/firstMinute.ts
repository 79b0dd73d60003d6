/** The first things that a newcomer tries, each pointed at once and gone when it was done. */
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'

const POINTERS = {
  play: 'Press Play above, or space, to hear this piece.',
  word: 'Drag an underlined word up or down.',
  keep: 'Good? Press K to keep the last pass.',
  take: 'Drag a clip off the Shelf, or download it.',
}
export type FirstThing = keyof typeof POINTERS
const things = Object.keys(POINTERS) as FirstThing[]
const tried = useLocalStorage<FirstThing[]>('jolly-first-minute', [])

/** What to try next, in words; null once all was tried. */
export const pointer = computed(() => {
  const next = things.find((thing) => !tried.value.includes(thing))
  return next ? POINTERS[next] : null
})

export function wasTried(thing: FirstThing): void {
  if (!tried.value.includes(thing)) tried.value = [...tried.value, thing]
}
/** No more of this. */
export function knowsAll(): void {
  tried.value = things
}
