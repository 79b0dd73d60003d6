/**
 * Gusts: for a while lanes play relatives of themselves. One is held by a key or a button; others come by
 * themselves, every so many passes, asked for before the pass begins so that the first note is in time.
 */
import { useEventListener } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import type { Cuttings, Edit } from '@/api/client'
import { useMusicKeys } from '@/app/keyboard'
import { STATED } from '@/generated/stated'
import { useClip } from '@/clip/clip'
import { useOrder } from '@/order/order'
import { lookAt } from '@/pattern/inParts'
import { usePattern } from '@/pattern/pattern'
import { instead } from '@/sound/instead'
import { usePlayer } from '@/sound/player'
import { useCuttings } from './cuttings'

type Config = Cuttings['gusts']
type Gust = Extract<Edit, { do: 'gust' }>

/** A pass that comes by itself is asked for when so many beats of the one before are left. */
const AHEAD_BEATS = 4
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

  // By themselves, while the passes flow.
  const frame = computed(() => pattern.frame)
  const pass = computed(() => Math.floor(player.beat / frame.value + 1e-6))
  let asking = ''
  async function comeByItself(): Promise<void> {
    const { every } = config.value
    const left = (pass.value + 1) * frame.value - player.beat
    const next = pass.value + 1
    if (!player.playing || pattern.staying || every < 2 || next % every !== every - 1) return
    if (left > Math.max(AHEAD_BEATS, frame.value / 2)) return
    const edit = gust(next)
    const source = { revision: pattern.revision, edits: [...pattern.tried, edit] }
    const key = JSON.stringify([pattern.id, source])
    if (key === asking) return
    asking = key
    const [start, end] = [next * frame.value, (next + 1) * frame.value]
    const page = Math.floor(start / pattern.span + 1e-9) * pattern.span
    const body = { ...source, start: page, end: Math.max(end, page + pattern.span), chosen: pattern.chosen }
    try {
      const view = await lookAt(pattern.id, body)
      // Too late for its first note, it does not come.
      if (key !== asking || holding.value || view.end < end - 1e-6 || player.scheduledBeat() > start + 1e-6) return
      instead.value = { start, end, seen: { source, view } }
    } catch {
      asking = '' // the pass goes by without a gust
    }
  }
  watch(() => [player.beat, config.value], () => void comeByItself())
  // What is changed meanwhile is heard at once, and the gust is over.
  watch(() => [pattern.revision, pattern.tried], () => {
    if (!instead.value) return
    instead.value = null
    asking = ''
    pattern.overlay(null)
  })
  watch(() => [player.beat, player.playing] as const, ([beat, playing]) => {
    const now = instead.value
    if (!now) return
    const within = playing && beat >= now.start - 1e-6 && beat < now.end - 1e-6
    const edit = now.seen.source.edits.at(-1)
    if (within && edit?.do === 'gust') last.value = { pattern: pattern.id, edit }
    pattern.overlay(within ? now.seen.view : null)
    if (!playing || beat >= now.end) {
      instead.value = null
      pattern.overlay(null)
    }
  })

  return { holding, known, hold, release, plantLast }
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
