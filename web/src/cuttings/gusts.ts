/**
 * Gusts: for a while lanes play relatives of themselves. One is held by a key or a button; those that come by
 * themselves are clauses of the pattern.
 */
import { useEventListener } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import type { Cuttings, Edit } from '@/api/client'
import { useMusicKeys } from '@/app/keyboard'
import { STATED } from '@/generated/stated'
import { useClip } from '@/clip/clip'
import { useOrder } from '@/order/order'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'
import { useCuttings } from './cuttings'

type Config = Cuttings['gusts']
type Gust = Extract<Edit, { do: 'gust' }>

const LARGEST = 2 ** 31

export const useGusts = defineStore('gusts', () => {
  const pattern = usePattern()
  const player = usePlayer()
  const cuttings = useCuttings()
  const config = computed<Required<Config>>(() => ({ ...STATED.gusts, ...cuttings.gusts }))
  const holding = ref(false)
  /** The gust that was heard last, to be planted. */
  const last = shallowRef<{ pattern: number; edit: Gust } | null>(null)
  const known = computed(() => last.value?.pattern === pattern.id)
  let before: Edit[] = []

  function lanes(): string[] | null {
    const { over } = config.value
    if (over === 'all') return null
    const { view } = pattern
    if (over === 'chosen') return pattern.chosen ? [pattern.chosen, ...pattern.also] : null
    return view?.lanes.filter((lane) => !cuttings.staying[lane.id]).map((lane) => lane.id) ?? null
  }
  const gust = (number: number): Gust => ({ do: 'gust', away: config.value.away, throw: number, lanes: lanes() })

  function hold(): void {
    if (holding.value || !pattern.view) return
    holding.value = true
    before = pattern.tried
    const edit = gust(Math.floor(Math.random() * LARGEST))
    last.value = { pattern: pattern.id, edit }
    void pattern.preview([...before, edit])
  }
  function release(): void {
    if (!holding.value) return
    holding.value = false
    void pattern.preview(before)
  }
  async function plantLast(): Promise<void> {
    if (!known.value || !last.value) return
    release()
    await pattern.commit([...pattern.tried, last.value.edit])
    cuttings.asWas()
  }

  // What blows by itself while it is heard is the last one too.
  watch(() => player.playing && player.beat, (beat) => {
    const now = beat === false
      ? undefined
      : pattern.view?.spells.find(({ start, end, gust }) => gust && beat >= start - 1e-6 && beat < end - 1e-6)?.gust
    if (!now || holding.value) return
    const { away, throw: thrown, lanes: over } = now
    last.value = { pattern: pattern.id, edit: { do: 'gust', away, throw: thrown, lanes: over } }
  })
  /** Let gusts come by themselves, another each time; or let the last one come back, always the same. */
  async function letCome(again: boolean): Promise<void> {
    const { away, throw: thrown, lanes: over } = again && last.value ? last.value.edit : gust(0)
    await pattern.commit([{ do: 'add_gust', away, lanes: over, throw: again ? thrown : null }])
  }

  return { holding, known, hold, release, plantLast, letCome }
})

/** G, held: a gust; from the lattice and from cuttings. */
export function useGustKey(): void {
  const gusts = useGusts()
  const clip = useClip()
  const order = useOrder()
  useMusicKeys(({ key, command, repeat }) => {
    if (key !== 'g' || command || clip.id || order.shown) return null
    return () => repeat || gusts.hold()
  })
  useEventListener(document, 'keyup', (event: KeyboardEvent) => event.key.toLowerCase() === 'g' && gusts.release())
  // The window that is left does not hear the key come up.
  useEventListener(window, 'blur', gusts.release)
}
