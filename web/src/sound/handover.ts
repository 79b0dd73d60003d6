/** A view that takes over where the pattern reaches a beat: at the beginning of a pass. */
import { shallowRef } from 'vue'

export interface Handover {
  /** In the recipe's beats; the beginning of a pass. */
  at: number
  take: () => void
}
export const handover = shallowRef<Handover | null>(null)

/** Let what waits take over, where its beat is reached. */
export function handOver(beat: number): void {
  const next = handover.value
  if (!next || beat < next.at - 1e-9) return
  handover.value = null
  next.take()
}
