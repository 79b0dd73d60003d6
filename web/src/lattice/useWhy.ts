/** Why a cell plays or rests: asked a moment after the pointer or the cursor comes to rest on it. */
import { useDebounceFn } from '@vueuse/core'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { usePattern } from '@/pattern/pattern'

const words = ref('')
/** The measures of the lane that was pointed at. */
const measures = ref({ lane: '', words: '' })
let latest = ''
let pointed: { lane: string; at: number } | null = null

export function useWhy() {
  const pattern = usePattern()

  const find = useDebounceFn(async (lane: string, at: number, key: string) => {
    const source = pattern.seen?.source
    if (key !== latest || !source) return
    try {
      const why = await ask(
        api.POST('/api/patterns/{pattern_id}/why', {
          params: { path: { pattern_id: pattern.id } },
          body: { ...source, lane, at },
        }),
      )
      if (key !== latest) return
      words.value = why.words
      measures.value = { lane, words: why.measures }
    } catch {
      // Not worth a message: pointing again asks again.
    }
  }, 70)

  /** Ask about the cell of a lane at this beat. */
  function point(lane: string, at: number): void {
    const key = `${lane}@${at}@${pattern.revision}`
    if (key === latest) return
    latest = key
    pointed = { lane, at }
    void find(lane, at, key)
  }
  /** Ask anew about what is pointed at: after an edit it may have another reason. */
  function askAgain(): void {
    const there = pattern.view?.lanes.some((each) => each.id === pointed?.lane)
    if (pointed && there) point(pointed.lane, pointed.at)
  }
  return { words, measures, point, askAgain }
}
