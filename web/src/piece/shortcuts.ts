/** The shortcuts of the main view, in one list: what they are, what they do, and what "?" shows. */
import { useEventListener } from '@vueuse/core'
import type { Edit } from '@/api/client'
import { isFree } from '@/app/isFree'
import { useClip } from '@/clip/clip'
import { usePlayer } from '@/sound/player'
import { useClipboardSteps } from '@/lattice/useClipboardSteps'
import { useWalk } from '@/lattice/useWalk'
import { useCuttings } from '@/cuttings/cuttings'
import { useOrder } from '@/order/order'
import { usePattern } from '@/pattern/pattern'
import { useShelf } from '@/shelf/shelf'

export const SHORTCUTS = [
  { keys: 'Space', does: 'play and stop' },
  { keys: 'K', does: 'keep the last whole pass while it plays; when stopped, the bars that are shown' },
  { keys: 'Shift+K', does: 'keep all that was played since play was pressed, as one clip' },
  { keys: 'R', does: 'reroll: new chances, same recipe' },
  { keys: 'G, held', does: 'a gust: relatives of what plays, until it is let go' },
  { keys: 'S', does: 'stay on this pass, or let the passes flow' },
  { keys: '↑ ↓', does: 'walk over the lanes' },
  { keys: '← →', does: 'walk over the steps' },
  { keys: 'Enter', does: 'set or clear a hit' },
  { keys: ',  .', does: 'turn the lane one step earlier or later' },
  { keys: '[  ]', does: 'shorten or lengthen the lane' },
  { keys: '1 – 9', does: 'split the step into so many strokes' },
  { keys: 'M', does: 'mute the lane' },
  { keys: 'Shift+← →', does: 'choose steps, to change them together; then Ctrl+A all of them' },
  { keys: 'Shift+↑ ↓', does: 'choose lanes, to change them together; Ctrl+A all of them' },
  { keys: 'Ctrl+C, Ctrl+V', does: 'copy the chosen steps with all that belongs to them, and paste them' },
  { keys: 'Escape', does: 'choose nothing' },
  { keys: 'Page up, Page down', does: 'earlier and later bars' },
  { keys: 'Ctrl+Z, Ctrl+Shift+Z', does: 'undo and redo' },
  { keys: '?', does: 'this list' },
]

/** Keys that change nothing in the recipe. */
const EVERYWHERE = new Set([' ', 'k', 's', '?', 'pageup', 'pagedown', 'escape'])

export function useShortcuts(showList: () => void): void {
  const pattern = usePattern()
  const player = usePlayer()
  const shelf = useShelf()
  const clip = useClip()
  const order = useOrder()
  const cuttings = useCuttings()
  const { walk, climb, chooseSteps, chooseLane, chooseNothing, chooseAll, currentStep } = useWalk()

  function onLane(edit: (lane: string) => Edit | null): void {
    const change = pattern.chosen ? edit(pattern.chosen) : null
    if (change) void pattern.commit([change])
  }
  function set(): void {
    const at = currentStep()
    if (!at) return
    const steps = pattern.steps.length ? pattern.steps : [at.step]
    onLane((lane) => ({ do: 'put', lane, steps, on: null, shown: at.hit }))
  }
  function roll(strokes: number): void {
    const at = currentStep()
    if (at) onLane((lane) => ({ do: 'roll', lane, steps: pattern.steps.length ? pattern.steps : [at.step], strokes }))
  }
  /** Turn a word of the chosen lane's sentence, where the sentence has it, from where it will then stand. */
  function turnWord(slot: string, by: number): void {
    const parts = pattern.view?.chosen?.sentence.clauses.flatMap((clause) => clause.parts) ?? []
    if (parts.some((part) => typeof part !== 'string' && part.slot === slot)) onLane((lane) => ({ do: 'turn', lane, slot, by }))
  }
  const plain: Record<string, () => void> = {
    ' ': player.toggle,
    k: () => shelf.keepHere(player.playing),
    r: () => void pattern.commit([{ do: 'reroll' }]),
    s: pattern.toggleStay,
    m: () => onLane((lane) => ({ do: 'lane', lane, field: 'mute', value: null, also: pattern.also })),
    ArrowUp: () => climb(-1),
    ArrowDown: () => climb(1),
    ArrowLeft: () => walk(-1),
    ArrowRight: () => walk(1),
    Enter: set,
    ',': () => turnWord('rule.rotation', -1),
    '.': () => turnWord('rule.rotation', 1),
    '[': () => turnWord('steps', -1),
    ']': () => turnWord('steps', 1),
    PageUp: () => pattern.turnTo(pattern.start - pattern.span),
    PageDown: () => pattern.turnTo(pattern.start + pattern.span),
    Escape: chooseNothing,
    '?': showList,
  }
  const shifted: Record<string, () => void> = {
    K: () => void shelf.keepPlayed(),
    ArrowLeft: () => chooseSteps(-1), ArrowRight: () => chooseSteps(1),
    ArrowUp: () => chooseLane(-1), ArrowDown: () => chooseLane(1),
  }
  const { copy, paste } = useClipboardSteps()
  const commands: Record<string, (event: KeyboardEvent) => void> = {
    z: (event) => void (event.shiftKey ? pattern.redo() : pattern.undo()),
    a: chooseAll, c: copy, v: () => paste(),
  }

  // A button that was clicked gives the keys back; one that was reached by keyboard has them.
  useEventListener(document, 'click', (event: MouseEvent) => {
    const button = (event.target as HTMLElement).closest('button')
    if (event.detail > 0 && !button?.closest('.v-overlay')) button?.blur()
  })
  useEventListener(document, 'keydown', (event: KeyboardEvent) => {
    const target = event.target as HTMLElement
    if (target.closest('input, textarea, [role="dialog"], [role="menu"], .v-overlay')) return
    // An open clip has keys of its own, and so have the order and cuttings.
    if ((clip.id || order.shown || cuttings.shown) && event.key !== '?') return
    if (event.ctrlKey || event.metaKey) {
      const command = commands[event.key.toLowerCase()]
      // Text that is marked is copied as text; undo and redo work from everywhere.
      if (!command || (event.key.toLowerCase() !== 'z' && !isFree(target)) || (event.key.toLowerCase() === 'c' && String(getSelection()))) return
      event.preventDefault()
      command(event)
      return
    }
    if (event.altKey) return
    const control = target.closest('button, a, [role="radio"]')
    if (control && (event.key === 'Enter' || event.key === ' ')) return
    // What changes or walks over the lattice does so only from there, or from nowhere in particular.
    if (!EVERYWHERE.has(event.key.toLowerCase()) && !isFree(target)) return
    const digit = /^[1-9]$/.test(event.key) ? Number(event.key) : 0
    const action = event.shiftKey && shifted[event.key] ? shifted[event.key] : digit ? () => roll(digit) : plain[event.key.length === 1 ? event.key.toLowerCase() : event.key]
    if (!action) return
    event.preventDefault()
    action()
  })
}
