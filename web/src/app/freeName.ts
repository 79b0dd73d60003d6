/** The next name that is not taken: "Bloom", then "Bloom 2"; after "Bloom 2", "Bloom 3". */
export function freeName(name: string, taken: readonly string[]): string {
  const stem = name.replace(/ \d+$/, '')
  let found = name
  for (let i = Number(/ (\d+)$/.exec(name)?.[1] ?? 1) + 1; taken.includes(found); i += 1) found = `${stem} ${i}`
  return found
}
