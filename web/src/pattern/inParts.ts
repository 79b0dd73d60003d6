/**
 * Views that come in parts: a part that was sent once is only named from then on, and stays the very same
 * object, so that nothing that is drawn or told from it is done anew.
 */
import { api, ask, type InParts, type Schemas, type View } from '@/api/client'

/** Parts of so many views are kept: answers may overtake each other. */
const MOST_VIEWS = 32

interface Part {
  value: unknown
  /** The stamps of the parts that lie in it. */
  within: string[]
}

export function useParts() {
  let known = new Map<string, Part>()
  /** The parts of the last views, those of the newest last. */
  let used: string[][] = []

  /** The stamps of the parts that need not be sent. */
  const have = (): string[] => used.at(-1) ?? []

  /** The view that an answer is; an error where it names a part that is not here (any more). */
  function assembled(answer: View | InParts): View {
    if (!('parts' in answer)) return answer
    const { parts } = answer
    function found(stamp: string): Part {
      const there = known.get(stamp)
      if (there) return there
      if (!(stamp in parts)) throw new Error('A part of the view is missing.')
      const within: string[] = []
      const part = { value: whole(parts[stamp], within), within }
      known.set(stamp, part)
      return part
    }
    /** A value with parts in place of their stamps, which are noted. */
    function whole(value: unknown, within: string[]): unknown {
      // Lists of numbers, and of lists of them, are what they are.
      if (Array.isArray(value)) return typeof value[0] === 'number' || Array.isArray(value[0])
        ? value
        : value.map((each) => whole(each, within))
      if (typeof value !== 'object' || value === null) return value
      const { part: stamp } = value as { part?: string }
      if (stamp === undefined) {
        return Object.fromEntries(Object.entries(value).map(([name, each]) => [name, whole(each, within)]))
      }
      const part = found(stamp)
      within.push(stamp, ...part.within)
      return part.value
    }
    const stamps: string[] = []
    const view = whole(answer.view, stamps) as View
    used = [...used, stamps].slice(-MOST_VIEWS)
    const kept = new Set(used.flat())
    known = new Map([...known].filter(([stamp]) => kept.has(stamp)))
    return view
  }
  return { have, assembled }
}

/** See a pattern, or what is tried out on it, beside what is on the screen. */
export async function lookAt(
  pattern: number, wanted: Omit<Schemas['LookIn'], 'have'>, { have, assembled } = useParts(),
): Promise<View> {
  return assembled(
    await ask(
      api.POST('/api/patterns/{pattern_id}/look', {
        params: { path: { pattern_id: pattern } }, body: { ...wanted, have: have() },
      }),
    ),
  )
}
