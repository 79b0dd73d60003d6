/** The computer keyboard as piano keys: one row white, the row above it black; semitones from the lowest C. */
export const KEY_ROW: Record<string, number> = {
  a: 0, w: 1, s: 2, e: 3, d: 4, f: 5, t: 6, g: 7, y: 8, h: 9, u: 10, j: 11, k: 12, o: 13, l: 14, p: 15, ';': 16,
}
/** Its letters, from the lowest key up: what strikes pads, in their order. */
export const LETTERS = Object.entries(KEY_ROW).sort(([, a], [, b]) => a - b).map(([letter]) => letter)
const BLACK = new Set([1, 3, 6, 8, 10])
export const isBlack = (pitch: number): boolean => BLACK.has(pitch % 12)
