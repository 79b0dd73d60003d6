/** The changes of one kind of strand, in the chosen lane and those that are chosen with it. */
import { computed } from 'vue'
import type { Edit, Strand } from '@/api/client'
import { usePattern } from '@/pattern/pattern'

export type How = 'set' | 'raise' | 'rotate' | 'reverse' | 'randomise' | 'length'
type Reading = Pick<Extract<Edit, { do: 'read_strand' }>, 'by' | 'direction' | 'window'>

export function useStrandEdits(lane: () => string, strand: () => Strand | undefined) {
  const pattern = usePattern()
  const lanes = computed(() => [lane(), ...pattern.also])
  /** Chosen steps narrow a change down to them; without any it means all values. */
  const steps = computed(() => (pattern.steps.length ? pattern.steps : null))
  const kind = () => strand()?.kind ?? ''

  const shaped = (how: How, more: { amount?: number; low?: number; high?: number; share?: number } = {}): Edit[] =>
    lanes.value.map((each) => ({
      do: 'shape', lane: each, kind: kind(), how, steps: how === 'length' ? null : steps.value, ...more,
    }))
  function drawn(values: Strand['values']): Edit[] {
    const { by, direction, window } = strand() as Strand
    const read = { values, by: by.value, direction: direction.value, window }
    return lanes.value.map((each) => ({ do: 'strand', lane: each, kind: kind(), strand: read }))
  }
  const readBy = (reading: Partial<Reading>): Edit[] =>
    lanes.value.map((each) => ({ do: 'read_strand', lane: each, kind: kind(), ...reading }) as Edit)
  /** What another value for one of its words changes: its length, or the way in which it is read. */
  const worded = (slot: string, value: unknown): Edit[] =>
    slot === 'length' ? shaped('length', { amount: value as number }) : readBy({ [slot]: value })
  const words = computed(() => {
    const of = strand()
    return of ? [of.length, of.by, of.direction] : []
  })
  return { lanes, steps, words, shaped, drawn, readBy, worded }
}
