/** A fraction as it is written, as a number. */
export function ratio(written: string): number {
  const [over = 1, under = 1] = written.split('/').map(Number)
  return over / under
}
