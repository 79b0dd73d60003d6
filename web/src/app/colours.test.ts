/** Colours can be told apart, from what they lie on and from each other. */
import { expect, test } from 'vitest'
import { groundOf, jewel, type ThemeName } from './colours'

const THEMES: ThemeName[] = ['paper', 'lamplight']
const LANES = 8
/** The luminance of a colour after WCAG 2.2. */
function luminance(colour: string): number {
  const [red = 0, green = 0, blue = 0] = [1, 3, 5].map((at) => parseInt(colour.slice(at, at + 2), 16) / 255)
    .map((part) => (part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4))
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue
}
function contrast(one: string, other: string): number {
  const [light, dark] = [luminance(one), luminance(other)].sort((a, b) => b - a) as [number, number]
  return (light + 0.05) / (dark + 0.05)
}

test.each(THEMES)('wedges stand out from the lattice in %s, and ink is read on it', (theme) => {
  const { first, again, ink } = groundOf(theme)
  for (let lane = 0; lane < LANES; lane += 1) {
    for (const ground of [first, again]) expect(contrast(jewel(lane, theme), ground)).toBeGreaterThanOrEqual(2.9)
  }
  for (const ground of [first, again]) expect(contrast(ink, ground)).toBeGreaterThanOrEqual(7)
})

test.each(THEMES)('no two of the first eight lanes are of one colour in %s; the ninth begins again', (theme) => {
  const colours = Array.from({ length: LANES }, (_, lane) => jewel(lane, theme))
  expect(new Set(colours).size).toBe(LANES)
  expect(jewel(LANES, theme)).toBe(jewel(0, theme))
})
