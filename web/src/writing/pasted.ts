/** A text that was pasted: what it holds, looked at before it is taken. */
import { ref } from 'vue'

/** The text that is looked at; null: none. */
export const pastedText = ref<string | null>(null)
/** The lane after which its lanes would stand; null: at the end. */
export const pastedAfter = ref<string | null>(null)

/** Look at a text, whose lanes would stand after a lane. */
export function lookAtText(text: string, after: string | null = null): void {
  pastedAfter.value = after
  pastedText.value = text
}
/** Whether a text that comes from the clipboard may be a recipe: it speaks of lanes, or of hits and steps. */
export const mayBeRecipe = (text: string): boolean =>
  text.length > 8 && /\b(pattern|melody|controller)\s*:|\b(hits?|steps?|velocity)\b/i.test(text)
