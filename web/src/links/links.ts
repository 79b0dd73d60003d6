/** Links to a piece, or to a pattern or a clip of it: the dialog is open while something is to be shown by one. */
import { shallowRef } from 'vue'

export interface Linking {
  piece: number
  /** What the dialog was opened for, by its name. */
  name: string
  pattern?: number
  clip?: number
}
export const linking = shallowRef<Linking | null>(null)
