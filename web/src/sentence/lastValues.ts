/** The values that were given to the words of each kind of clause last: another one begins with them. */
import { StorageSerializers, useLocalStorage } from '@vueuse/core'
import type { Sentence } from '@/api/client'
import { slotsOf } from '@/pattern/slots'

const MOST = 24
const last = useLocalStorage<Record<string, Record<string, unknown>>>('jolly-last-values', {}, {
  serializer: StorageSerializers.object,
})
/** Of several clauses of a kind each has a number, which is no matter here. */
const unnumbered = (name: string) => name.replace(/\.\d+(?=\.|$)/g, '')

/** Remember what a word was set to, if it stands in a clause that comes and goes. */
export function rememberValue(of: Sentence, slot: string, value: unknown): void {
  const clause = of.clauses.find((each) => slotsOf([each]).some((part) => part.slot === slot))
  if (!clause?.removable) return
  const kind = unnumbered(clause.id)
  const known = Object.entries({ ...last.value[kind], [unnumbered(slot)]: value })
  last.value = { ...last.value, [kind]: Object.fromEntries(known.slice(-MOST)) }
}
export const lastValues = (clause: string): Record<string, unknown> => last.value[clause] ?? {}
