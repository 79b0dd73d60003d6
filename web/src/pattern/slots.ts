/** The words of clauses that can be changed. */
import type { Sentence, Slot } from '@/api/client'

export const slotsOf = (clauses: readonly Pick<Sentence['clauses'][number], 'parts'>[]): Slot[] =>
  clauses.flatMap(({ parts }) => parts.filter((part): part is Slot => typeof part !== 'string'))
