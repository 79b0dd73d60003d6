/** Small pictures that the server has not drawn yet: they are there when it is asked again. */
import type { Pattern } from '@/api/client'

const SOON_MS = 100

/** Whether some of these patterns still wait for their picture; if so, once it makes sense to ask again. */
export async function stillWaits(patterns: Pattern[]): Promise<boolean> {
  if (!patterns.some(({ thumb }) => thumb.waits)) return false
  await new Promise((resolve) => setTimeout(resolve, SOON_MS))
  return true
}
