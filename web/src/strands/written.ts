/** Values of a strand as they are written: 96, a range 60–90, a chord step 0+2+4, every tone of the chord. */
import type { Strand } from '@/api/client'

export type Value = Strand['values'][number]

/** The numbers of a value: one, the ends of a range, the degrees of a chord step; `chord` are those of the chord. */
export function allOf(value: Value, chord: readonly number[] = []): readonly number[] {
  if (typeof value === 'number') return [value]
  if (Array.isArray(value)) return value
  return value.all === 'chord' ? chord : value.all
}
export const ends = (value: Value, chord: readonly number[] = []): [number, number] => {
  const all = allOf(value, chord)
  return [all[0] ?? 0, all.at(-1) ?? 0]
}
export function written(value: Value): string {
  if (typeof value === 'number') return String(Number(value.toFixed(2)))
  if (Array.isArray(value)) return value.join('–')
  return value.all === 'chord' ? 'chord' : value.all.join('+')
}

const NUMBER = '[-−]?\\d+(?:\\.\\d+)?'
const RANGE = new RegExp(`^(${NUMBER})(?:–|\\.\\.|-)(${NUMBER})$`)
const number = (text: string) => Number(text.replace('−', '-'))
/** The value that is meant; null where it is none. */
function read(word: string): Value | null {
  if (word.toLowerCase() === 'chord') return { all: 'chord' }
  if (new RegExp(`^${NUMBER}$`).test(word)) return number(word)
  if (new RegExp(`^${NUMBER}(\\+${NUMBER})+$`).test(word)) return { all: word.split('+').map(number) }
  const range = RANGE.exec(word)
  return range ? [number(range[1] ?? ''), number(range[2] ?? '')] : null
}
/** Values with blanks or commas between, or the first word that is none. */
export function readValues(text: string): { values: Value[] } | { wrong: string } {
  const values: Value[] = []
  for (const word of text.split(/[\s,;]+/).filter(Boolean)) {
    const value = read(word)
    if (value === null) return { wrong: word }
    values.push(value)
  }
  return { values }
}
