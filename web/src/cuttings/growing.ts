/**
 * Growing relatives for the open pattern: a wish, which is a sentence, is asked for lane by lane; of several wishes
 * the latest counts.
 */
import { ref, shallowRef, type Ref, type ShallowRef } from 'vue'
import { api, ask, Refusal, type Cuttings, type Edit, type Schemas, type Strip } from '@/api/client'
import { useKeptFor } from '@/app/keptFor'
import { useNotices } from '@/app/notices'
import { STATED } from '@/generated/stated'
import { usePattern } from '@/pattern/pattern'

type Wish = Cuttings['wish']

const askFor = (pattern: number, body: Schemas['CuttingsIn']) =>
  ask(api.POST('/api/patterns/{pattern_id}/cuttings', { params: { path: { pattern_id: pattern } }, body }))

interface Grown {
  /** Whether relatives are wanted at all. */
  wanted: Ref<boolean>
  strips: ShallowRef<Record<string, Strip>>
  /** What they are grown from, besides what is stored. */
  base: ShallowRef<Edit[]>
  /** Whether the strip of a lane stays as it is. */
  stays: (lane: string) => boolean
  onGrown: () => void
}

export function useGrowing({ wanted, strips, base, stays, onGrown }: Grown) {
  const pattern = usePattern()
  const notices = useNotices()
  const wish = useKeptFor<Partial<Wish>>('jolly-wishes', () => pattern.id, {})
  const gusts = useKeptFor<Partial<Cuttings['gusts']>>('jolly-gusts-of', () => pattern.id, {})
  const grown = shallowRef<Cuttings | null>(null)
  const growing = ref(false)
  let asked = 0

  let waiting: { slot?: string; value?: unknown } | null = null
  /**
   * Grow relatives anew, with another value for one word of the wish; of several wishes, the latest. Resolves to false
   * where it was refused.
   */
  async function grow(slot?: string, value?: unknown): Promise<boolean> {
    if (growing.value) {
      waiting = { slot, value }
      asked += 1
      return true
    }
    let taken = true
    growing.value = true
    const number = (asked += 1)
    try {
      await growLanes(number, slot, value)
    } catch (problem) {
      // A wish that was stored by an older page may not be known any more: begin with a plain one.
      const unknown = slot === undefined && grown.value === null && problem instanceof Refusal && problem.status === 422
      if (unknown && Object.keys({ ...wish.value, ...gusts.value }).length) {
        wish.value = gusts.value = {}
        waiting = {}
      } else {
        taken = false
        notices.trouble(problem)
      }
    } finally {
      growing.value = false
    }
    const next = waiting
    waiting = null
    return next && wanted.value ? grow(next.slot, next.value) : taken
  }
  /** Turn a word of the gusts' sentence; relatives stay as they are. */
  function turnGusts(slot: string, value: unknown): Promise<boolean> {
    const body = {
      revision: pattern.revision, edits: [], wish: wish.value, gusts: gusts.value, lanes: [], slot: `gusts.${slot}`,
      value,
    }
    return notices.attempt(async () => {
      const answer = await askFor(pattern.id, body)
      gusts.value = answer.gusts
      if (grown.value) grown.value = { ...grown.value, gusts_sentence: answer.gusts_sentence }
    })
  }
  async function growLanes(number: number, slot?: string, value?: unknown): Promise<void> {
    const here = pattern.view?.lanes.map((lane) => lane.id) ?? []
    const [of, revision] = [pattern.id, pattern.revision]
    // A lane that stays keeps its strip too.
    const kept = here.flatMap((lane) => (stays(lane) && strips.value[lane] ? [strips.value[lane]] : []))
    const found: Record<string, Strip> = Object.fromEntries(kept.map((strip) => [strip.lane, strip]))
    const lanes = here.filter((lane) => !found[lane])
    const searching = (slot === 'source' ? value : wish.value.source) === 'all'
    for (let first = 0; first < Math.max(1, lanes.length);) {
      // A search of all rhythms takes the lanes one by one.
      const each = searching
        ? 1
        : Math.max(1, Math.floor(STATED.relativesAtOnce / (wish.value.count ?? STATED.relatives)))
      const body = {
        revision, edits: base.value, wish: wish.value, gusts: gusts.value, lanes: lanes.slice(first, first + each),
        ...(first === 0 && slot ? { slot, value } : {}),
      }
      const answer = await askFor(of, body)
      if (number !== asked || !wanted.value || of !== pattern.id) return
      if (first === 0) {
        wish.value = answer.wish
        gusts.value = answer.gusts
        grown.value = answer
      }
      for (const strip of answer.strips) found[strip.lane] = strip
      first += each
    }
    strips.value = found
    onGrown()
  }

  /** Other relatives for the same wish: the next throw, or the one before. */
  function throwAgain(by: number): void {
    wish.value = { ...wish.value, throw: (wish.value.throw ?? 0) + by }
    void grow()
  }

  return { wish, gusts, grown, growing, grow, turnGusts, throwAgain }
}
