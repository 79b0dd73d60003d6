/** The Trail of the open pattern: the passes that were heard, and those still on their way to it. */
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
  const waiting: { pattern: number; heard: HeardPass }[] = []
  /** How many passes are still on their way. */
  const unsent = ref(0)
  let sending = false

  async function open(patternId: number): Promise<void> {
    const params = { path: { pattern_id: patternId } }
    passes.value = await ask(api.GET('/api/patterns/{pattern_id}/trail', { params }))
  }

  /** Put a pass that was just heard on the Trail; it waits here while the server is away. */
  function heard(patternId: number, pass: HeardPass): void {
    waiting.push({ pattern: patternId, heard: pass })
    unsent.value = waiting.length
    void send()
  }

  async function send(): Promise<void> {
    if (sending) return
    sending = true
    try {
      for (let next = waiting[0]; next; next = waiting[0]) {
        const { pattern: to, heard: body } = next
        await pattern.quiet()
        const params = { path: { pattern_id: to } }
        await notices.attempt(async () => {
          const entry = await insist(() => api.POST('/api/patterns/{pattern_id}/trail', { params, body }))
          if (to === pattern.id) passes.value = [...passes.value, entry].slice(-MOST_SHOWN)
        })
        waiting.shift()
        unsent.value = waiting.length
      }
    } finally {
      sending = false
    }
  }

  /** Mark passes of which a clip was kept. */
  function markKept(kept: number[]): void {
    passes.value = passes.value.map((each) => (kept.includes(each.id) ? { ...each, kept: true } : each))
  }

  return { passes, lastWhole, unsent, open, heard, markKept }
})
