/** The keys of cuttings, as "?" shows them. */
export const CUTTINGS_SHORTCUTS = [
  { keys: '← →', does: 'walk along the strip that has the focus; Shift or Page up and down go ten at once' },
  { keys: 'Tab', does: 'on to the next strip, its brackets, its buttons' },
  { keys: 'Enter', does: 'plant what is heard' },
  { keys: 'Escape', does: 'all as it was; then back to the lattice' },
  { keys: 'N, P', does: 'another throw, the one before' },
  { keys: 'M', does: 'more like this' },
  { keys: 'A, B', does: 'mark what is heard, to compare it; then hear it' },
  { keys: 'R, S', does: 'reroll; stay on this pass, or let the passes flow' },
  { keys: 'G, held', does: 'a gust: relatives of what plays, until it is let go' },
  { keys: 'K', does: 'keep what is heard; when stopped, the bars that are shown' },
]
