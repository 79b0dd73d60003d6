/** What notes are called: by the key that a lane stands in, or as drums. */
import type { Lane } from '@/api/client'

const PLAIN = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B']

/** A note with its degree, as in "A3, 5th"; out of key, or without one, by its name alone. */
export function noteName(scale: Lane['scale'] | undefined, pitch: number): string {
  const name = `${(scale?.names ?? PLAIN)[pitch % 12]}${Math.floor(pitch / 12) - 1}`
  if (!scale) return name
  return `${name}, ${scale.degrees[pitch % 12] ?? 'out of key'}`
}

/**
 * What a lane's notes are called together: drums by their names, notes with their degrees, a controller's value as it
 * is.
 */
export function namesOf(
  lane: Pick<Lane, 'kind' | 'scale' | 'controller' | 'sound'>, pitches: number[], drums: Record<string, string>,
): string {
  if (lane.kind === 'control') return `${lane.controller} ${Math.round(pitches[0] ?? 0)}`
  if (lane.kind === 'drum') {
    return lane.sound.own?.name ?? [...new Set(pitches)].map(
      (pitch) => drums[pitch] ?? noteName(null, pitch),
    ).join(' · ')
  }
  return [...new Set(pitches)].map((pitch) => noteName(lane.scale, pitch)).join(' · ')
}
