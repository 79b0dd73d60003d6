/** Dividing a length among several that each want a share of it, within bounds of their own. */
export interface Size {
  share: number
  least: number
  most: number
}

/** How long each is: by its share, but no shorter or longer than its bounds; what that leaves is the others'. */
export function shareRoom(sizes: readonly Size[], room: number): number[] {
  const bounded = new Map<number, number>()
  for (;;) {
    const free = sizes.map((_, i) => i).filter((i) => !bounded.has(i))
    const left = room - [...bounded.values()].reduce((sum, each) => sum + each, 0)
    const unit = left / Math.max(1e-9, free.reduce((sum, i) => sum + (sizes[i]?.share ?? 0), 0))
    // Those that are too short first: they take from the others, who may be too short then.
    const short = free.filter((i) => unit * (sizes[i]?.share ?? 0) < (sizes[i]?.least ?? 0))
    const long = short.length ? [] : free.filter((i) => unit * (sizes[i]?.share ?? 0) > (sizes[i]?.most ?? 0))
    if (!short.length && !long.length) return sizes.map(({ share }, i) => Math.floor(bounded.get(i) ?? unit * share))
    for (const i of short) bounded.set(i, sizes[i]?.least ?? 0)
    for (const i of long) bounded.set(i, sizes[i]?.most ?? 0)
  }
}
