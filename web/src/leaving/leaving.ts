/** What leaves: clips of the Shelf, bars or passes of a pattern, the order; each tells how it is had. */
import { shallowRef } from 'vue'
import { api, ask, type Answer, type Clip, type Schemas } from '@/api/client'
import { levelOf } from '@/sound/levels'
import type { Stretch } from '@/wave/scored'
import type { Exporting } from './exporting'

export type Taken = Schemas['TakenOut']
export interface Leaving {
  /** What it is called where it is asked about. */
  name: string
  /** How many clips leave at once. */
  clips: number
  /** As MIDI. */
  midi: (choices: Exporting, signal: AbortSignal) => Promise<Answer<unknown>>
  /** As its sound is rendered; several clips leave as MIDI alone. */
  taken: (() => Promise<Taken>) | null
  /** How loud a lane is heard, in percent. */
  level: (lane: string) => number
  /** The beats that leave of it, where it is not all. */
  stretch?: Stretch | null
}
const file = { parseAs: 'blob' } as const
/** What was not heard as lanes of a pattern is as loud as it is. */
const even = () => 100

/** What is being sent: the dialog is open while there is something. */
export const leaving = shallowRef<Leaving | null>(null)

/** `stretch`: of its beats, those between the brackets. */
export function sendClip({ id, name }: Pick<Clip, 'id' | 'name'>, stretch: Stretch | null = null): void {
  const path = { clip_id: id }
  leaving.value = {
    name, clips: 1, level: even, stretch,
    midi: (query, signal) => api.GET('/api/clips/{clip_id}/midi', { params: { path, query }, signal, ...file }),
    taken: () => ask(api.GET('/api/clips/{clip_id}/taken', { params: { path } })),
  }
}
/** Clips of a piece, by their numbers; all, where none is named. */
export function sendClips(piece: number, clips: number[], count: number): void {
  const path = { piece_id: piece }
  const several = { clips: clips.join(',') }
  leaving.value = {
    name: '', clips: count, level: even, taken: null,
    midi: (choices, signal) => api.GET('/api/pieces/{piece_id}/clips.zip', {
      params: { path, query: { ...choices, ...several } }, signal, ...file,
    }),
  }
}
/** Bars or passes of a pattern. */
export function sendTaken(pattern: number, name: string, body: Schemas['TakeIn']): void {
  const path = { pattern_id: pattern }
  leaving.value = {
    name, clips: 1, level: (lane) => levelOf(pattern, lane),
    midi: (query, signal) => api.POST('/api/patterns/{pattern_id}/taken/midi', {
      params: { path, query }, body, signal, ...file,
    }),
    taken: () => ask(api.POST('/api/patterns/{pattern_id}/taken', { params: { path }, body })),
  }
}
/** The order of a piece; its lanes are as loud as in the first of these patterns that has them at another level. */
export function sendOrder(piece: number, name: string, patterns: readonly number[]): void {
  const path = { piece_id: piece }
  leaving.value = {
    name, clips: 1,
    level: (lane) => patterns.map((pattern) => levelOf(pattern, lane)).find((level) => level !== 100) ?? 100,
    midi: (query, signal) => api.GET('/api/pieces/{piece_id}/order/midi', { params: { path, query }, signal, ...file }),
    taken: () => ask(api.GET('/api/pieces/{piece_id}/order/taken', { params: { path } })),
  }
}
