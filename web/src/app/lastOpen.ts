/** What was open last in this browser, kept so that it can be shown and played while the server is away. */
import { del, get, set } from 'idb-keyval'
import type { Clip, Pattern } from '@/api/client'

const PLACE = 'what was open last'

/** A piece of somebody's, and what was seen of one of its patterns (`sight`). */
export interface LastOpen<Sight> {
  owner: string | null
  piece: { id: number; name: string; patterns: Pattern[]; shelf: Clip[] }
  sight: Sight
}
/** What this owner had open last; null where nothing is kept, or nothing can be. */
export async function lastOpen<Sight>(owner: string | null): Promise<LastOpen<Sight> | null> {
  const was = await get<LastOpen<Sight>>(PLACE).catch(() => undefined)
  return was?.owner === owner && was ? was : null
}
/** Keep what is open now. Where the browser keeps nothing, there is nothing to come back to. */
export const keepOpen = (open: LastOpen<unknown>) => set(PLACE, JSON.parse(JSON.stringify(open))).catch(() => {})
/** Somebody leaves, and nothing of theirs stays here. */
export const forgetOpen = () => del(PLACE).catch(() => {})
