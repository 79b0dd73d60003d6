/** The shortcuts of the main view, in one list: what they are, what they do, and what "?" shows. */
import type { Edit } from '@/api/client'
import { useMusicKeys } from '@/app/keyboard'
import { useClip } from '@/clip/clip'
import { useClipboardSteps } from '@/lattice/useClipboardSteps'
import { useWalk } from '@/lattice/useWalk'
import { useCuttings } from '@/cuttings/cuttings'
import { useOrder } from '@/order/order'
import { usePattern } from '@/pattern/pattern'
import { slotsOf } from '@/pattern/slots'
import { usePiece } from '@/pieces/piece'
import { useShelf } from '@/shelf/shelf'
import { useTransport } from './useTransport'

export const SHORTCUTS = [
  { keys: 'Space', does: 'play and stop' },
  {
    keys: 'K',
    does: 'keep what is heard: the pass that sounds again, or the last whole pass; when stopped, the bars that are shown',
  },
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
  { keys: 'W', does: 'write the lane: its sentence as text' },
  { keys: 'L', does: 'new lanes: type what they are; Tab goes on from word to word' },
  { keys: 'Shift+← →', does: 'choose steps, to change them together; then Ctrl+A all of them' },
  { keys: 'Shift+↑ ↓', does: 'choose lanes, to change them together; Ctrl+A all of them' },
  { keys: 'Ctrl+C, Ctrl+V', does: 'copy the chosen steps with all that belongs to them, and paste them' },
  { keys: 'Escape', does: 'one thing at a time: give up a drag, choose nothing, close the drawer' },
  { keys: 'Page up, Page down', does: 'earlier and later bars' },
  { keys: 'Ctrl+Z, Ctrl+Shift+Z', does: 'undo and redo' },
  { keys: 'F6, Shift+F6', does: 'from region to region: lattice, sentence, strands, Trail, Shelf, bar' },
  { keys: '?', does: 'this list' },
]

/**
 * `closeDrawer` closes what lies open below the lattice, if something does; `newLanes` opens the drawer of new lanes.
 */
export function useShortcuts(
  { showList, closeDrawer, newLanes, write }: Record<'showList' | 'closeDrawer' | 'newLanes' | 'write', () => void>,
): void {
  const pattern = usePattern()
  const transport = useTransport()
  const shelf = useShelf()
  const clip = useClip()
  const order = useOrder()
  const cuttings = useCuttings()
  const piece = usePiece()
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
    if (slotsOf(pattern.view?.chosen?.sentence.clauses ?? []).some((word) => word.slot === slot)) {
      onLane((lane) => ({ do: 'turn', lane, slot, by }))
    }
  }
  /** What is heard; when stopped, what is shown. */
  function keep(): void {
    if (!transport.playing.value && order.shown) void shelf.keepOrder(piece.name)
    else if (!transport.playing.value && clip.id) shelf.sayKept()
    else void shelf.keepHeard()
  }
  /** One thing at a time: what is chosen, then what lies open. */
  function giveUp(): void {
    if (pattern.steps.length || pattern.picked.length) chooseNothing()
    else closeDrawer()
  }
  /** Wherever the focus is: what plays, what is kept, chances and strokes. */
  const anywhere: Record<string, () => void> = {
    r: () => void pattern.commit([{ do: 'reroll' }]),
    s: pattern.toggleStay,
    m: () => onLane((lane) => ({ do: 'lane', lane, field: 'mute', value: null, also: pattern.also })),
    ',': () => turnWord('rule.rotation', -1),
    '.': () => turnWord('rule.rotation', 1),
    l: newLanes,
    w: write,
    '[': () => turnWord('steps', -1),
    ']': () => turnWord('steps', 1),
  }
  /** Where no other control takes them. */
  const walking: Record<string, () => void> = {
    ArrowUp: () => climb(-1),
    ArrowDown: () => climb(1),
    ArrowLeft: () => walk(-1),
    ArrowRight: () => walk(1),
    Enter: set,
    PageUp: () => pattern.turnTo(pattern.start - pattern.span),
    PageDown: () => pattern.turnTo(pattern.start + pattern.span),
  }
  const choosing: Record<string, () => void> = {
    ArrowLeft: () => chooseSteps(-1), ArrowRight: () => chooseSteps(1),
    ArrowUp: () => chooseLane(-1), ArrowDown: () => chooseLane(1),
  }
  const { copy } = useClipboardSteps()
  // What is pasted, steps or a text, tells the event of the clipboard.
  const commands: Record<string, () => void> = { a: chooseAll, c: copy }

  useMusicKeys(({ key, shift, alt, command, free, repeat }) => {
    const inLattice = !clip.id && !order.shown && !cuttings.shown
    if (command && key === 'z') return shift ? transport.redo : transport.undo
    // Text that is marked is copied as text.
    if (command) return free && inLattice && !(key === 'c' && String(getSelection())) ? commands[key] : null
    if (repeat && /^[ krsm?\d]$/.test(key)) return () => undefined // a key that is held does it once
    if (key === ' ') return transport.toggle
    if (key === '?') return showList
    if (key === 'k') return shift ? () => void shelf.keepPlayed() : keep
    // Clips and the order have keys of their own besides these; cuttings some.
    if (clip.id || order.shown) return null
    if (cuttings.shown) return 'rs'.includes(key) ? anywhere[key] : null
    if (/^[1-9]$/.test(key)) return () => roll(Number(key))
    if (anywhere[key]) return anywhere[key]
    if (alt) return null
    if (key === 'Escape') return giveUp
    return free ? (shift ? choosing : walking)[key] : null
  })
}
