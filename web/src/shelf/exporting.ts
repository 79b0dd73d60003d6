/** How clips leave as MIDI: the choices, remembered in this browser, and the addresses of the files. */
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'

export interface Exporting {
  format: 0 | 1
  tracks: 'lanes' | 'merged' | 'files'
  /** Ticks in a quarter note; "exact": the fewest with which nothing on the grid is rounded. */
  ticks: number | 'exact'
  rounds: number
  recipe: boolean
}

export const PLAIN: Exporting = { format: 1, tracks: 'lanes', ticks: 960, rounds: 1, recipe: false }
export const exporting = useLocalStorage<Exporting>('jolly-export', { ...PLAIN }, { mergeDefaults: true })

const query = computed(() => new URLSearchParams(
  Object.entries(exporting.value).filter(
    ([name, value]) => value !== PLAIN[name as keyof Exporting],
  ).map(([name, value]) => [name, String(value)]),
).toString())

export const fileAddress = (clip: number) => `/api/clips/${clip}/midi${query.value && `?${query.value}`}`
/** The ending of a file: each lane as a file makes an archive of one clip. */
export const ending = computed(() => (exporting.value.tracks === 'files' ? '.zip' : '.mid'))
/** The address of an archive of these clips of a piece; of all, where none is named. */
export function archiveAddress(piece: number, clips: number[]): string {
  const wanted = [clips.length ? `clips=${clips.join(',')}` : '', query.value].filter(Boolean).join('&')
  return `/api/pieces/${piece}/clips.zip${wanted && `?${wanted}`}`
}
