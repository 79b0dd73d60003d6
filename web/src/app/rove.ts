/** Arrows walk over radios and tabs, and choose as they go; put it on what holds them, as its keydown. */
export function rove(event: KeyboardEvent): void {
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key]
  const holder = event.currentTarget
  if (!by || !(holder instanceof HTMLElement)) return
  const items = [...holder.querySelectorAll<HTMLElement>('[role=radio], [role=tab]')]
  const at = items.indexOf(event.target as HTMLElement)
  const next = items[(at + by + items.length) % items.length]
  if (at < 0 || !next) return
  event.preventDefault()
  event.stopPropagation()
  next.focus()
  next.click()
}
