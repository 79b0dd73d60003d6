/** The weave: all bars up to the meeting point in one overview, while it is wanted. */
import { computed, ref, shallowRef, watch } from 'vue'
import type { View } from '@/api/client'
import { useNotices } from '@/app/notices'
import { STATED } from '@/generated/stated'
import { lookAt, useParts } from './inParts'
import { sameAsBefore } from './sameAsBefore'
import type { Sight } from './sight'

export function useWeave({ id, revision, tried, view, bar, chosen }: Sight) {
  const notices = useNotices()
  const parts = useParts()
  const weave = shallowRef<View | null>(null)
  const weaving = ref(false)
  const weaveBars = computed(() => Math.round((weave.value?.end ?? 0) / bar.value))
  let asking = false
  let askAgain = false

  /** See everything from the first bar to the meeting point, or as much of it as can be shown at once. */
  async function seeWeave(): Promise<void> {
    weaving.value = true
    askAgain = asking
    if (asking) return
    asking = true
    try {
      const bars = Math.min(
        view.value?.meeting.bars ?? STATED.clipBars, STATED.clipBars, Math.floor(STATED.viewBeats / bar.value),
      )
      do {
        askAgain = false
        const body = {
          revision: revision.value, edits: tried.value, start: 0, end: bars * bar.value, chosen: chosen.value,
        }
        const whole = await lookAt(id.value, body, parts)
        if (weaving.value) weave.value = sameAsBefore(weave.value, whole)
      } while (askAgain && weaving.value)
    } catch (problem) {
      stopWeaving()
      notices.trouble(problem)
    } finally {
      asking = false
    }
  }
  function stopWeaving(): void {
    weaving.value = false
    weave.value = null
  }
  watch(
    () => view.value?.lanes.map((each) => each.drawn.stamp).join(),
    () => void (weaving.value && seeWeave()),
  )
  return { weave, weaving, weaveBars, seeWeave, stopWeaving }
}
