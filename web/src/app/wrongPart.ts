/** Where a text that was refused is wrong: the part of it that the refusal quotes, or all of it. */
export function wrongPart(text: string, refusal: string): [number, number] {
  for (const [, quoted = ''] of refusal.matchAll(/“([^”]+)”/g)) {
    const at = text.indexOf(quoted)
    if (at >= 0 && quoted) return [at, at + quoted.length]
  }
  return [0, text.length]
}

/** Show it in its field: what is typed next takes its place. */
export function markWrong(field: HTMLInputElement | null | undefined, refusal: string): void {
  field?.focus()
  field?.setSelectionRange(...wrongPart(field.value, refusal))
}
