/** The Shelf of the open piece: its clips, what Keep does, and which of them are shown in which order. */
import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import { api, ask, type Clip, type KeepIn, type Schemas } from '@/api/client'
import { insist, newKey } from '@/api/insist'
import { wasTried } from '@/app/firstMinute'
import { useNotices } from '@/app/notices'
import { followLink } from '@/app/saveFile'
import { useClip } from '@/clip/clip'
import { usePattern } from '@/pattern/pattern'
import { useTrail } from '@/pattern/trail'
import { sounding } from '@/sound/sounding'
import { fileAddress } from '@/leaving/exporting'
import { sendTaken } from '@/leaving/leaving'
import { lastBars, wholeBars } from './lastBars'

/** How the Shelf may be sorted. */
export const ORDERS = {
  hand: 'by hand', newest: 'newest first', oldest: 'oldest first', name: 'by name', length: 'longest first',
  stars: 'stars first',
} as const
export type Order = keyof typeof ORDERS

const COMPARE: Record<Order, (a: Clip, b: Clip) => number> = {
  hand: () => 0,
  newest: (a, b) => b.created.localeCompare(a.created),
  oldest: (a, b) => a.created.localeCompare(b.created),
  name: (a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }),
  length: (a, b) => b.thumb.bars - a.thumb.bars,
  stars: (a, b) => Number(b.starred) - Number(a.starred),
}

export const useShelf = defineStore('shelf', () => {
  const notices = useNotices()
  const pattern = usePattern()
  const trail = useTrail()
  /** The piece whose clips these are. */
  const piece = ref(0)
  const clips = ref<Clip[]>([])
  const order = useLocalStorage<Order>('jolly-shelf-order', 'hand')
  /** Words that a shown clip has in its name, its tags or where it came from. */
  const sought = ref('')
  /** The tags that a shown clip has. */
  const tagged = ref<string[]>([])
  const starsOnly = ref(false)
  /** The clips that something is done to together. */
  const chosen = ref<number[]>([])

  const tags = computed(() => [...new Set(clips.value.flatMap((clip) => clip.tags))].sort((a, b) => a.localeCompare(b)))
  const shown = computed(() => {
    const words = sought.value.toLowerCase().split(/\s+/).filter(Boolean)
    const found = clips.value.filter((clip) => {
      const said = `${clip.name} ${clip.tags.join(' ')} ${clip.of}`.toLowerCase()
      return words.every((word) => said.includes(word)) && tagged.value.every(
        (tag) => clip.tags.includes(tag),
      ) && (!starsOnly.value || clip.starred)
    })
    return found.sort(COMPARE[order.value] ?? COMPARE.hand)
  })

  function show(pieceId: number, shelf: Clip[]): void {
    piece.value = pieceId
    clips.value = shelf
    sought.value = ''
    tagged.value = []
    starsOnly.value = false
    chosen.value = []
  }
  /** Lay a clip on top. */
  function add(clip: Clip | null | undefined): void {
    if (clip) clips.value = [clip, ...clips.value.filter((each) => each.id !== clip.id)]
  }
  const replace = (changed: Clip) =>
    (clips.value = clips.value.map((each) => (each.id === changed.id ? changed : each)))
  const opened = useClip()
  watch(() => opened.state?.shelved, (clip) => clip && replace(clip))

  /** Lay on the Shelf what the server makes a clip of. */
  async function layOn(made: () => Promise<Clip>, kept: number[] = []): Promise<Clip | null> {
    const of = piece.value
    let laid: Clip | null = null
    await notices.attempt(async () => {
      const clip = await made()
      if (of !== piece.value) return
      add((laid = clip))
      trail.markKept(kept)
      wasTried('keep')
      notices.say(`Kept as “${clip.name}”.`)
    })
    return laid
  }
  function keep(body: Omit<KeepIn, 'revision'>): Promise<Clip | null> {
    const params = { path: { pattern_id: pattern.id } }
    const wanted = { revision: pattern.revision, key: newKey(), ...body }
    return layOn(() => insist(() => api.POST('/api/patterns/{pattern_id}/keep', { params, body: wanted })), body.passes)
  }
  /** Keep the order as it stands, as one clip. */
  function keepOrder(name: string): Promise<Clip | null> {
    const params = { path: { piece_id: piece.value } }
    const body = { name: `${name}, whole`.slice(0, 80), key: newKey() }
    return layOn(() => insist(() => api.POST('/api/pieces/{piece_id}/order/keep', { params, body })))
  }

  /** Join the chosen clips end to end, in the order in which they were chosen. */
  async function join(): Promise<void> {
    const params = { path: { piece_id: piece.value } }
    const body = { clips: chosen.value, key: newKey() }
    if (await layOn(() => insist(() => api.POST('/api/pieces/{piece_id}/shelf/join', { params, body })))) {
      chosen.value = []
    }
  }

  const sayKept = () => notices.say('This clip lies on the Shelf already; whatever is changed in it is stored.')
  /**
   * Keep what is heard: the pass that sounds again, or the last whole one; the first as soon as it is whole. When
   * stopped, the bars that are shown.
   */
  async function keepHeard(): Promise<Clip | null> {
    const now = sounding.value
    if (!now) return keepShown()
    if (now.what === 'clip') {
      sayKept()
      return null
    }
    const again = now.pass?.()
    if (again) return keep({ passes: [again] })
    if (!trail.isAnyWhole()) notices.say('This pass is kept as soon as it was heard to its end.')
    const last = await trail.lastHeard()
    return last === null ? null : keep({ passes: [last] })
  }
  /**
   * Keep the last pass: while something sounds, what is heard of it; when stopped, what was heard last, or else the
   * bars that are shown.
   */
  const keepLast = () => (!sounding.value && trail.lastWhole ? keep({ passes: [trail.lastWhole.id] }) : keepHeard())
  /** Keep, and hand what was kept to the browser as a MIDI file. */
  async function takeOut(kept: () => Promise<Clip | null>): Promise<void> {
    const clip = await kept()
    if (clip) followLink(fileAddress(clip.id))
  }
  /** The bars that are shown, as they are tried out: also the whole weave. */
  const shownBars = () => ({
    ...(pattern.weave ? { bars: pattern.weaveBars, start: 0 } : { bars: pattern.viewBars, start: pattern.start }),
    edits: pattern.tried,
  })
  const keepShown = () => keep(shownBars())
  function sendShown(): void {
    const shown = shownBars()
    const first = Math.floor(shown.start / pattern.bar + 1e-9) + 1
    const span = shown.bars === 1 ? `bar ${first}` : `bars ${first}–${first + shown.bars - 1}`
    sendTaken(pattern.id, `${pattern.name}, ${span}`, { revision: pattern.revision, ...shown })
  }
  /** Keep everything that was played since play was pressed last, whatever was turned meanwhile, as one clip. */
  async function keepPlayed(): Promise<Clip | null> {
    await trail.sent()
    if (trail.since.length) return keep({ passes: trail.since })
    notices.say('Nothing was played yet: press space, turn what you like, and keep it all afterwards.')
    return null
  }
  /** The lengths of what was heard since play was pressed last, with the whole bars of the pass that is under way. */
  const heardLengths = () => [...trail.take.map(({ beats }) => beats), sounding.value?.soFar?.()?.beats ?? 0]
  const barsHeard = () => wholeBars(heardLengths(), pattern.bar)
  /** Keep the last whole bars that were heard. */
  async function keepBars(bars: number): Promise<void> {
    const soFar = sounding.value?.soFar?.() ?? null
    const { first, firstBar } = lastBars(heardLengths(), pattern.bar, bars)
    const passes = trail.take.slice(first)
    await trail.sent()
    const ids = passes.flatMap(({ id }) => id ?? [])
    await keep({ passes: ids, first_bar: firstBar, bars, running: soFar && { key: newKey(), ...soFar } })
  }

  /** Give a clip another name or tags, or a star. */
  function change(clip: Clip, said: Schemas['ClipChangesIn']): Promise<boolean> {
    const params = { path: { clip_id: clip.id } }
    return notices.attempt(
      async () => void replace(await ask(api.PATCH('/api/clips/{clip_id}', { params, body: said }))),
    )
  }
  /** Show only clips with a tag too, or no longer so. */
  function toggleTag(tag: string): void {
    tagged.value = tagged.value.includes(tag) ? tagged.value.filter((each) => each !== tag) : [...tagged.value, tag]
  }
  const rename = (clip: Clip, name: string) => change(clip, { name })

  async function remove(gone: Clip[]): Promise<void> {
    const before = clips.value
    const taken: Clip[] = []
    for (const clip of gone) {
      const params = { path: { clip_id: clip.id } }
      if (!(await notices.attempt(() => ask(api.DELETE('/api/clips/{clip_id}', { params }))))) break
      taken.push(clip)
    }
    const ids = taken.map(({ id }) => id)
    if (!ids.length) return
    clips.value = clips.value.filter(({ id }) => !ids.includes(id))
    chosen.value = chosen.value.filter((id) => !ids.includes(id))
    const what = taken.length === 1 ? `“${taken[0]?.name}” is` : `${taken.length} clips are`
    notices.sayGone(`${what} off the Shelf.`, async () => {
      for (const id of ids) {
        const back = await ask(api.POST('/api/clips/{clip_id}/restore', { params: { path: { clip_id: id } } }))
        const place = before.findIndex((each) => each.id === id)
        clips.value = clips.value.toSpliced(place, 0, back)
      }
    })
  }

  /** Lay a clip before another, or last (null): the order that is shown becomes the order by hand. */
  async function lay(clip: number, before: number | null): Promise<void> {
    const row = (order.value === 'hand' ? clips.value : [
      ...shown.value, ...clips.value.filter((each) => !shown.value.includes(each)),
    ])
    const moved = row.find(({ id }) => id === clip)
    if (!moved || clip === before) return
    const others = row.filter(({ id }) => id !== clip)
    const at = before === null ? others.length : others.findIndex(({ id }) => id === before)
    clips.value = others.toSpliced(at, 0, moved)
    order.value = 'hand'
    const params = { path: { piece_id: piece.value } }
    await notices.attempt(
      () => ask(api.PUT('/api/pieces/{piece_id}/shelf', { params, body: { clips: clips.value.map(({ id }) => id) } })),
    )
  }
  function toggle(clip: number): void {
    chosen.value = chosen.value.includes(clip) ? chosen.value.filter((id) => id !== clip) : [...chosen.value, clip]
  }

  return {
    piece, clips, shown, order, sought, tagged, toggleTag, tags, starsOnly, chosen, show, add, keep, join, sayKept,
    keepHeard, keepLast,
    keepPlayed, takeOut, keepBars, keepOrder, sendShown, barsHeard, change, rename, remove, lay, toggle,
  }
})
