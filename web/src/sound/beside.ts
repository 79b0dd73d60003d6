/** A clip heard with the running pattern, in its time: beside its lanes, or in place of those that it came from. */
import { shallowRef } from 'vue'
import type { ClipView } from '@/api/client'

export interface Beside {
  id: number
  view: ClipView
  /** Whether the clip's own lanes are silent in the pattern meanwhile. */
  instead: boolean
  /** The beat of the recipe at which it begins: a bar's; null until the next bar is known. */
  from: number | null
}

export const beside = shallowRef<Beside | null>(null)

/** Whether a lane of the pattern is silent, since a clip is heard in its place. */
export const isReplaced = (lane: string, beat: number) => {
  const now = beside.value
  return now?.instead === true && now.from !== null && beat >= now.from - 1e-9 && now.view.lanes.some(
    ({ id }) => id === lane,
  )
}

/**
 * The stretches of the clip that sound in the beats [from, to) of the pattern: where in the clip, how long, and where
 * in the pattern.
 */
export function stretchesBeside(from: number, to: number, bar: number): {
  view: ClipView; place: number; beats: number; at: number,
}[] {
  const now = beside.value
  if (!now) return []
  if (now.from === null) beside.value = { ...now, from: Math.ceil(from / bar - 1e-9) * bar }
  const begin = beside.value?.from ?? 0
  const found = []
  for (let at = Math.max(from, begin); at < to - 1e-9; ) {
    const place = (at - begin) % now.view.beats
    const beats = Math.min(to - at, now.view.beats - place)
    found.push({ view: now.view, place, beats, at })
    at += Math.max(beats, 1e-6)
  }
  return found
}
