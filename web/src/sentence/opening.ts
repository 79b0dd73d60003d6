/** Opening words of a sentence one after another, while they are typed. */
import { ref, type InjectionKey, type Ref } from 'vue'

export interface Opening {
  /** The word that is to be opened. */
  opened: Ref<string | null>
  /** Open the word after this one (1), or the one before it (-1). */
  goOn: (from: string, by: 1 | -1) => void
}
export const OPENING: InjectionKey<Opening> = Symbol('opening')

/** The lane of a pattern whose first number is to be opened as soon as its sentence is there. */
export const laneToSay = ref<{ pattern: number; lane: string } | null>(null)
