/** Hearing parts of a file that came in, once from its first note on. */
import { onScopeDispose, ref } from 'vue'
import type { ClipView } from '@/api/client'
import { drumsOf, strikeStretch } from '@/sound/strikes'
import { hush, LEAD_IN, now, onTick, soundsWith } from '@/sound/output'

const AHEAD = 0.3

export function useHearParts() {
  /** The rows that sound; none: silence. */
  const rows = ref<ReadonlySet<number>>(new Set())
  let view: ClipView | null = null
  let begun = 0
  let from = 0
  let until = 0

  async function hear(of: ClipView, wanted: number[]): Promise<void> {
    end()
    await soundsWith(drumsOf(of))
    view = of
    rows.value = new Set(wanted)
    from = until = Math.floor(
      (of.notes.find((note) => rows.value.has(note[4]))?.[0] ?? 0) / of.bar_beats,
    ) * of.bar_beats
    begun = now() + LEAD_IN
  }
  function end(): void {
    if (!view) return
    view = null
    rows.value = new Set()
    hush()
  }
  const forget = onTick(() => {
    if (!view) return
    const seconds = 60 / view.tempo
    const reached = from + (now() + AHEAD - begun) / seconds
    if (reached > until) {
      strikeStretch(view, until, reached, begun + (until - from) * seconds, until, { rows: rows.value })
      until = reached
    }
    if (from + (now() - begun) / seconds > view.beats) end()
  })
  onScopeDispose(() => {
    end()
    forget()
  })
  return { rows, hear, end }
}
