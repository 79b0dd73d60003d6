/** The Trail of the open pattern: the passes that were heard, and those still on their way to it. */
import { until } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, ask, type HeardPass, type TrailPass } from '@/api/client'
import { insist } from '@/api/insist'
import { useNotices } from '@/app/notices'
import { usePattern } from './pattern'

const MOST_SHOWN = 200

export const useTrail = defineStore('trail', () => {
  const notices = useNotices()
  const pattern = usePattern()
  const passes = ref<TrailPass[]>([])
  /** The newest pass that was heard to its end. */
  const lastWhole = computed(() => passes.value.findLast((pass) => pass.beats >= pattern.frame - 1e-6) ?? null)
  /** The passes on the Trail that were played since play was pressed last, of whichever patterns. */
  const since = ref<number[]>([])
  let take = 0 // counts up with every start
  const waiting: { pattern: number; heard: HeardPass; take: number }[] = []
  /** How many passes are still on their way. */
  const unsent = ref(0)
  let sending = false

  async function open(patternId: number): Promise<void> {
    const params = { path: { pattern_id: patternId } }
    passes.value = await ask(api.GET('/api/patterns/{pattern_id}/trail', { params }))
  }

  /** Put a pass that was just heard on the Trail; it waits here while the server is away. */
  function heard(patternId: number, pass: HeardPass): void {
    waiting.push({ pattern: patternId, heard: pass, take })
    unsent.value = waiting.length
    void send()
  }

  /** Play begins: what is heard from now on belongs together. */
  function begin(): void {
    take += 1
    since.value = []
  }

  async function send(): Promise<void> {
    if (sending) return
    sending = true
    try {
      for (let next = waiting[0]; next; next = waiting[0]) {
        const { pattern: to, heard: body, take: of } = next
        await pattern.quiet()
        const params = { path: { pattern_id: to } }
        await notices.attempt(async () => {
          const entry = await insist(() => api.POST('/api/patterns/{pattern_id}/trail', { params, body }))
          if (to === pattern.id) passes.value = [...passes.value, entry].slice(-MOST_SHOWN)
          if (of === take) since.value = [...since.value, entry.id]
        })
        waiting.shift()
        unsent.value = waiting.length
      }
    } finally {
      sending = false
    }
  }

  /** Resolves once no pass is on its way any more. */
  const sent = () => until(unsent).toBe(0)

  /** Mark passes of which a clip was kept. */
  function markKept(kept: number[]): void {
    passes.value = passes.value.map((each) => (kept.includes(each.id) ? { ...each, kept: true } : each))
  }

  return { passes, lastWhole, since, unsent, open, begin, heard, sent, markKept }
})
