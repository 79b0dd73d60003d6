/** What is chosen besides the one lane: lanes and steps that are changed together, and what was copied. */
import { computed, ref, watch } from 'vue'
import { letGo } from '@/app/hand'
import type { Sight } from './sight'

export function useChoice({ chosen, view, choose }: Sight) {
  /** The place on the screen, by cells, that the keyboard is on. */
  const step = ref(0)
  /** Lanes that are changed together with the chosen one. */
  const picked = ref<string[]>([])
  /** Steps of the chosen lane that are changed together. */
  const steps = ref<number[]>([])
  const copied = ref<{ lane: string; first: number; last: number } | null>(null)
  const also = computed(() => picked.value.filter((each) => each !== chosen.value))
  /** The lanes that are changed together with this one, if it is picked with others. */
  const alongside = (laneId: string) =>
    (picked.value.includes(laneId) ? picked.value.filter((each) => each !== laneId) : [])
  /** Lanes in the order in which they stand. */
  const inOrder = (ids: string[]) => (view.value?.lanes ?? []).map(({ id }) => id).filter((id) => ids.includes(id))
  watch(chosen, () => {
    steps.value = []
    step.value = 0
  }, { flush: 'sync' })

  /** Add a lane to those that are changed together, or take it out again. */
  function pick(laneId: string): void {
    letGo()
    const together = new Set([...picked.value, ...(chosen.value ? [chosen.value] : [])])
    if (together.delete(laneId)) {
      if (laneId === chosen.value) choose([...together][0] ?? laneId)
    } else {
      together.add(laneId)
    }
    picked.value = together.size > 1 ? [...together] : []
  }
  function pickAll(): void {
    letGo()
    const all = view.value?.lanes.map((each) => each.id) ?? []
    picked.value = picked.value.length === all.length ? [] : all
  }
  function forgetChoice(): void {
    picked.value = []
    steps.value = []
    step.value = 0
    copied.value = null
  }
  return { step, picked, steps, copied, also, alongside, inOrder, pick, pickAll, forgetChoice }
}
