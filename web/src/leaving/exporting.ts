/** How things leave: the choices, remembered in this browser. */
import { useLocalStorage } from '@vueuse/core'
import type { Rate } from '@/wave/scored'
import type { Bits } from '@/wave/wav'

export interface Exporting {
  format: 0 | 1
  tracks: 'lanes' | 'merged' | 'files'
  /** Ticks in a quarter note; "exact": the fewest with which nothing on the grid is rounded. */
  ticks: number | 'exact'
  rounds: number
  recipe: boolean
}
export interface AsSound {
  rate: Rate
  bits: Bits
  /** Each lane as a file, in a .zip. */
  lanes: boolean
  seamless: boolean
}

export const PLAIN: Exporting = { format: 1, tracks: 'lanes', ticks: 960, rounds: 1, recipe: false }
export const exporting = useLocalStorage<Exporting>('jolly-export', { ...PLAIN }, { mergeDefaults: true })
export const PLAIN_SOUND: AsSound = { rate: 48_000, bits: 24, lanes: false, seamless: false }
export const asSound = useLocalStorage<AsSound>('jolly-sound-file', { ...PLAIN_SOUND }, { mergeDefaults: true })
export const sendsAs = useLocalStorage<'midi' | 'sound'>('jolly-sends-as', 'midi')

/** The address of a clip as a plain MIDI file, whatever was chosen for others. */
export const fileAddress = (clip: number) => `/api/clips/${clip}/midi`
