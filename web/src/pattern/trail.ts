/** The Trail of the open pattern: the passes that were heard, and those still on their way to it. */
import { until } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, reactive, ref, shallowRef } from 'vue'
import { api, ask, type HeardPass, type TrailPass } from '@/api/client'
import { insist } from '@/api/insist'
import { useNotices } from '@/app/notices'
import { STATED } from '@/generated/stated'
import { usePattern } from './pattern'

/**
 * A pass that was heard since play was pressed, and which it is on the Trail, once it lies there. No more is kept of
 * it: one may play for hours.
 */
interface Heard {
  beats: number
  whole: boolean
  id: number | null
}
/** A pass on its way to the Trail of its pattern. */
interface Waiting {
  heard: Heard
  pattern: number
  pass: HeardPass
}

export const useTrail = defineStore('trail', () => {
  const notices = useNotices()
  const pattern = usePattern()
  const passes = shallowRef<TrailPass[]>([])
  /** The newest pass of this pattern that was heard to its end. */
  const lastWhole = computed(() => passes.value.findLast((pass) => pass.beats >= pattern.frame - 1e-6) ?? null)
  /** The passes that were heard since play was pressed last, of whichever patterns. */
  const take = ref<Heard[]>([])
  /** Those of them that lie on the Trail by now. */
  const since = computed(() => take.value.flatMap(({ id }) => id ?? []))
  const waiting: Waiting[] = []
  /** How many passes are still on their way. */
  const unsent = ref(0)
  let sending = false
  let expecting: ((pass: Heard | null) => void)[] = []

  async function open(patternId: number): Promise<void> {
    const params = { path: { pattern_id: patternId } }
    passes.value = await ask(api.GET('/api/patterns/{pattern_id}/trail', { params }))
  }

  /** Put a pass that was just heard on the Trail; it waits here while the server is away. */
  function heard(patternId: number, pass: HeardPass, whole: boolean): void {
    const next = reactive<Heard>({ beats: pass.beats, whole, id: null })
    take.value.push(next)
    waiting.push({ heard: next, pattern: patternId, pass })
    unsent.value = waiting.length
    answer(next)
    void send()
  }
  /** Another piece is opened: what was heard before belongs to the one that was left. */
  function forget(): void {
    begin()
    passes.value = []
  }
  function answer(pass: Heard | null): void {
    for (const each of expecting) each(pass)
    expecting = []
  }

  /** Play begins: what is heard from now on belongs together. */
  function begin(): void {
    take.value = []
    answer(null)
  }

  async function send(): Promise<void> {
    if (sending) return
    sending = true
    try {
      for (let next = waiting[0]; next; next = waiting[0]) {
        const { pattern: to, pass: body } = next
        await pattern.quiet()
        const params = { path: { pattern_id: to } }
        await notices.attempt(async () => {
          const entry = await insist(() => api.POST('/api/patterns/{pattern_id}/trail', { params, body }))
          next.heard.id = entry.id
          if (to === pattern.id) passes.value = [...passes.value, entry].slice(-STATED.shownPasses)
        })
        waiting.shift()
        unsent.value = waiting.length
      }
    } finally {
      sending = false
    }
  }

  /**
   * On the Trail, the last pass since play was pressed that was heard to its end, or else the one that is heard now,
   * once it has ended; null where play began anew before.
   */
  async function lastHeard(): Promise<number | null> {
    const last = take.value.findLast(({ whole }) => whole) ?? (
      await new Promise<Heard | null>((resolve) => expecting.push(resolve))
    )
    await sent()
    return last?.id ?? null
  }
  /** Whether a pass was heard to its end since play was pressed last. */
  const isAnyWhole = () => take.value.some(({ whole }) => whole)

  /** Resolves once no pass is on its way any more. */
  const sent = () => until(unsent).toBe(0)

  /** Mark passes of which a clip was kept. */
  function markKept(kept: number[]): void {
    passes.value = passes.value.map((each) => (kept.includes(each.id) ? { ...each, kept: true } : each))
  }

  return { passes, lastWhole, take, since, unsent, open, forget, begin, heard, lastHeard, isAnyWhole, sent, markKept }
})
