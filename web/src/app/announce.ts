/** What a screen reader says of changes that are only seen or heard otherwise. */
import { ref } from 'vue'

export const announced = ref('')
let again = false

export function announce(words: string): void {
  again = !again
  // The same words twice in a row are said twice.
  announced.value = again ? words : `${words}\u00a0`
}
