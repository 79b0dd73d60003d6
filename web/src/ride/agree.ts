/** Whether one view may take over from another as if it had always been there. */
import type { View } from '@/api/client'

/** Whether two views have the very same notes and controllers in [from, to) beats, as far as both tell. */
export function agree(one: View, other: View, from: number, to: number): boolean {
  const begin = Math.max(from, one.start, other.start)
  const within = ([at]: readonly [number, ...unknown[]]) => at >= begin - 1e-9 && at < to - 1e-9
  return other.lanes.every((lane) => {
    const drawn = one.lanes.find(({ id }) => id === lane.id)?.drawn
    return drawn && (drawn.stamp === lane.drawn.stamp || (
      JSON.stringify(drawn.notes.filter(within)) === JSON.stringify(lane.drawn.notes.filter(within))
      && JSON.stringify(drawn.changes.filter(within)) === JSON.stringify(lane.drawn.changes.filter(within))))
  })
}
