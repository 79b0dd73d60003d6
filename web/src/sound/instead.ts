/** A stretch of the pattern's beats that is heard from another view of it, such as a gust that comes by itself. */
import { shallowRef } from 'vue'
import type { Seen } from '@/pattern/sight'

export interface Instead {
  /** In the recipe's beats; a whole pass. */
  start: number
  end: number
  seen: Seen
}

export const instead = shallowRef<Instead | null>(null)

/** The view that is heard at a beat in place of what the pattern says, if any is. */
export function insteadAt(beat: number): Seen | null {
  const now = instead.value
  return now && beat >= now.start - 1e-9 && beat < now.end - 1e-9 ? now.seen : null
}
