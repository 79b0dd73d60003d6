/** Copying a range of steps with all that belongs to them, and pasting it in this lane or another. */
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'
import { visibleCells } from '@/pattern/cells'

/** What the clipboard is told when steps are copied, so that what it had before is not pasted in their place. */
let mark = ''
export const standsForSteps = (text: string): boolean => text !== '' && text === mark

export function useClipboardSteps() {
  const pattern = usePattern()
  const notices = useNotices()

  /** The step that the keyboard's cursor is on. */
  function cursorStep(): number {
    const drawn = pattern.lane?.drawn
    if (!drawn) return 0
    return drawn.steps[visibleCells(drawn, pattern.start, pattern.span)[pattern.step] ?? 0] ?? 0
  }
  function copy(): void {
    if (!pattern.chosen) return
    const steps = pattern.steps.length ? pattern.steps : [cursorStep()]
    pattern.copied = { lane: pattern.chosen, first: Math.min(...steps), last: Math.max(...steps) }
    const told = `${pattern.copied.last - pattern.copied.first + 1} steps of ${pattern.lane?.name}`
    notices.say(`Copied ${told}.`)
    mark = told
    void navigator.clipboard?.writeText(told).catch(() => undefined)
  }
  /** Paste at the first chosen step, or where the cursor is; rolls are lifted by so many semitones. */
  function paste(lift = 0): void {
    const { copied, chosen } = pattern
    if (!copied || !chosen) return
    const at = pattern.steps.length ? Math.min(...pattern.steps) : cursorStep()
    void pattern.commit([
      { do: 'paste', source: copied.lane, first: copied.first, last: copied.last, lane: chosen, at, lift },
    ])
  }
  return { copy, paste }
}
