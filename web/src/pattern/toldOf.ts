/** What a view tells of a lane alone, if that is the lane that it was asked for: its sentence, strands and pool. */
import type { View } from '@/api/client'

export function toldOf(view: View | null | undefined, lane: string | null): View['chosen'] {
  return view?.chosen && view.chosen.lane === lane ? view.chosen : null
}
