/** Hearing rows of a clip, or of what came in, once from their first note on. */
import { onScopeDispose, ref } from 'vue'
import type { ClipView } from '@/api/client'
import { hush, LEAD_IN, now, onTick, soundsWith } from '@/sound/output'
import { beatAfter, secondsTo } from '@/sound/pace'
import { drumsOf, strikePaced } from '@/sound/strikes'

/** Notes are scheduled so many seconds before they sound. */
const AHEAD = 0.3

export function useHearParts() {
  /** The rows that sound; none: silence. */
  const rows = ref<ReadonlySet<number>>(new Set())
  let view: ClipView | null = null
  /** When the clip's first beat sounds, or would have sounded. */
  let begun = 0
  /** Everything before this beat is scheduled. */
  let until = 0
  /** How often something was heard or ended: what was ended while its sounds were made stays silent. */
  let turns = 0

  async function hear(of: ClipView, wanted: number[]): Promise<void> {
    end()
    const turn = turns
    await soundsWith(drumsOf(of))
    if (turn !== turns) return
    view = of
    rows.value = new Set(wanted)
    const first = of.notes.find((note) => rows.value.has(note[4]))?.[0] ?? 0
    until = Math.floor(first / of.bar_beats) * of.bar_beats
    begun = now() + LEAD_IN - secondsTo(of, until)
  }
  function end(): void {
    turns += 1
    if (!view) return
    view = null
    rows.value = new Set()
    hush()
  }
  function tick(): void {
    if (!view) return
    const reached = beatAfter(view, now() + AHEAD - begun)
    if (reached > until) {
      strikePaced(view, until, reached, begun, { rows: rows.value })
      until = reached
    }
    if (until >= view.beats && begun + secondsTo(view, view.beats) < now()) end()
  }
  const forget = onTick(tick)
  onScopeDispose(() => {
    end()
    forget()
  })
  return { rows, hear, end }
}
