/** Words of sentences tied to controllers or keys: what is turned is tried out, and stored once the hand is quiet. */
import { useLocalStorage } from '@vueuse/core'
import { ref } from 'vue'
import type { Edit, Slot } from '@/api/client'
import { usePattern } from '@/pattern/pattern'
import { slotsOf } from '@/pattern/slots'
import { usePlayer } from '@/sound/player'

/** A controller ("cc") or a key, on a channel from 1. */
export interface Source {
  kind: 'cc' | 'key'
  channel: number
  number: number
}
interface Tie extends Source {
  pattern: number
  lane: string | null
  slot: string
  label: string
  low: number
  high: number
  step: number
  options: unknown[]
}
const QUIET_MS = 350

const ties = useLocalStorage<Tie[]>('jolly-ties', [])
/** Waiting for a word to be clicked, then for a controller to be turned. */
const learning = ref<'word' | 'source' | null>(null)
let word: { lane: string | null; slotted: Slot } | null = null
let settle = 0
let edits: Edit[] = []

export function useTies() {
  const pattern = usePattern()
  const player = usePlayer()

  function wordAt(target: HTMLElement): boolean {
    const slot = target.closest<HTMLElement>('[data-slot]')?.dataset.slot
    const chosen = pattern.view?.chosen
    const inLane = !!target.closest('.lane-words')
    const sentence = inLane ? chosen?.sentence : pattern.view?.sentence
    const slotted = slotsOf(sentence?.clauses ?? []).find((word) => word.slot === slot)
    if (!slotted) return false
    word = { lane: inLane ? (chosen?.lane ?? null) : null, slotted }
    learning.value = 'source'
    return true
  }
  function learn(source: Source): void {
    if (!word) return
    const { lane, slotted } = word
    const others = ties.value.filter(
      (tie) => tie.pattern !== pattern.id || tie.lane !== lane || tie.slot !== slotted.slot,
    )
    ties.value = [...others.slice(-63), {
      ...source, pattern: pattern.id, lane, slot: slotted.slot, label: slotted.label, low: Number(slotted.low ?? 0),
      high: Number(slotted.high ?? 0),
      step: slotted.step, options: slotted.options.map(({ value }) => value),
    }]
    learning.value = word = null
  }
  /** A controller was turned to a value (0 to 127), or a key pressed. */
  function turned(source: Source, value: number): boolean {
    if (learning.value === 'source') {
      learn(source)
      return true
    }
    const mine = ties.value.filter((tie) =>
      tie.pattern === pattern.id && tie.kind === source.kind && tie.channel === source.channel
        && tie.number === source.number)
    if (!mine.length) return false
    const next = mine.flatMap((tie): Edit[] => {
      const to = source.kind === 'key' ? stepped(tie) : scaled(tie, value / 127)
      return to === undefined ? [] : [{ do: 'set', lane: tie.lane, slot: tie.slot, value: to, also: [] }]
    })
    edits = [
      ...edits.filter(
        (edit) => edit.do === 'set' && !next.some(
          (each) => each.do === 'set' && each.slot === edit.slot && each.lane === edit.lane,
        ),
      ),
      ...next,
    ]
    void pattern.preview(edits)
    window.clearTimeout(settle)
    settle = window.setTimeout(() => {
      const done = edits
      edits = []
      void pattern.commit(done).then((taken) => taken && player.hearChange())
    }, QUIET_MS)
    return true
  }
  function scaled(tie: Tie, share: number): unknown {
    if (tie.options.length) return tie.options[Math.min(tie.options.length - 1, Math.floor(share * tie.options.length))]
    return Number((Math.round((tie.low + share * (tie.high - tie.low)) / tie.step) * tie.step).toFixed(4))
  }
  /** A key goes on to the next value, and from the last to the first. */
  function stepped(tie: Tie): unknown {
    const sentence =
      tie.lane === null ? pattern.view?.sentence : pattern.view?.chosen?.lane === tie.lane
        ? pattern.view.chosen.sentence : null
    const now = slotsOf(sentence?.clauses ?? []).find((word) => word.slot === tie.slot)?.value
    if (tie.options.length) return tie.options[(tie.options.indexOf(now) + 1) % tie.options.length]
    const next = Number(now ?? tie.low) + tie.step
    return next > tie.high ? tie.low : next
  }
  return { ties, learning, wordAt, turned }
}
