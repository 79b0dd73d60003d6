/**
 * What is heard now: the pattern, the order, a clip, or passes of the Trail; one of them at a time, whatever is on the
 * screen. What begins ends what was heard before.
 */
import { shallowRef } from 'vue'
import type { HeardPass } from '@/api/client'

/** A pass as it was heard so far. */
export type SoFar = Pick<HeardPass, 'number' | 'start' | 'beats' | 'segments'>

export interface Sounding {
  what: 'pattern' | 'order' | 'clip' | 'passes'
  stop: () => void
  /** The pass that is under way, as far as its last whole bar; null where none of its bars was heard yet. */
  soFar?: () => SoFar | null
  /** The pass of the Trail that is heard at this moment. */
  pass?: () => number | null
}

export const sounding = shallowRef<Sounding | null>(null)

/** From now on this is heard. */
export function begin(next: Sounding): void {
  const before = sounding.value
  if (before && before !== next) before.stop()
  sounding.value = next
}
/** This is heard no more. */
export function end(of: Sounding): void {
  if (sounding.value === of) sounding.value = null
}
