/**
 * Lanes that were copied, as documents: they can be pasted in any pattern, of another piece and in another window too.
 */
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { api, ask, type Edit } from '@/api/client'
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'

type LaneDocument = Extract<Edit, { do: 'paste_lanes' }>['lanes'][number]

export function useCopiedLanes() {
  const pattern = usePattern()
  const notices = useNotices()
  const copiedLanes = useLocalStorage<LaneDocument[]>('jolly-copied-lanes', [])
  const copiedText = computed(
    () => copiedLanes.value.length === 1 ? `“${copiedLanes.value[0]?.name}”` : `${copiedLanes.value.length} lanes`,
  )

  /** Copy lanes, in the order in which they stand. */
  async function copyLanes(ids: string[]): Promise<void> {
    const lanes = pattern.inOrder(ids)
    const params = { path: { pattern_id: pattern.id }, query: { lanes: lanes.join(',') } }
    await notices.attempt(async () => {
      copiedLanes.value = (
        await ask(api.GET('/api/patterns/{pattern_id}/lanes', { params }))
      ) as unknown as LaneDocument[]
      notices.say(`Copied ${copiedText.value}; paste from the menu of a lane, in any pattern.`)
    })
  }
  /** Paste them after a lane, or at the end. */
  function pasteLanes(after: string | null): void {
    void pattern.commit([{ do: 'paste_lanes', lanes: copiedLanes.value, after }])
  }
  return { copiedLanes, copiedText, copyLanes, pasteLanes }
}
