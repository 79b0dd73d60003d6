/** Jewel colours for lanes: apart in lightness as well as in hue, for colour-blind eyes. */
const JEWELS = {
  paper: ['#b3452f', '#2f6b4f', '#b97d10', '#24708a', '#64489a', '#a04b7d', '#4c5a1e', '#20406e'],
  lamplight: ['#f08b73', '#7cc7a0', '#f0bd58', '#79c3dd', '#b9a2ec', '#ea9cc6', '#bccb73', '#8fb2ea'],
}

export type ThemeName = keyof typeof JEWELS

export interface Ground {
  first: string
  again: string
  line: string
  beat: string
  diamond: string
  ink: string
}

const GROUNDS: Record<ThemeName, Ground> = {
  paper: {
    first: '#fffdf6', again: '#f3ecdb', line: '#d9cdb2', beat: '#eae0ca', diamond: '#a99c80', ink: '#2b2240',
  },
  lamplight: {
    first: '#3a2f4b', again: '#2e253e', line: '#55476a', beat: '#43375a', diamond: '#8d7fa6', ink: '#f6ecd6',
  },
}

export function jewel(index: number, theme: ThemeName): string {
  const colours = JEWELS[theme]
  return colours[index % colours.length] ?? '#000'
}

export const groundOf = (theme: ThemeName): Ground => GROUNDS[theme]
