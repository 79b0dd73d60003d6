/** What a lane is heard by from each of some times on, the last one that has come. */
import type { Lane } from '@/api/client'

const HAIR = 1e-9

export const soundFrom = (sounds: Lane['drawn']['sounds'], at: number) =>
  sounds.findLast(([from]) => from <= at + HAIR)?.[1]
