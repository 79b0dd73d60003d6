/**
 * Step by step: where the next key of a lane goes. Each lane has a place of its own, which begins at its first
 * step and goes through all of it, whatever is in view: the view turns its pages. With `row` keys write the
 * row of pitches alone, and the rhythm stays.
 */
import { computed, nextTick, ref, watch, type Ref } from 'vue'
import type { Edit } from '@/api/client'
import { useNotices } from '@/app/notices'
import { visibleCells } from '@/pattern/cells'
import { usePattern } from '@/pattern/pattern'
import { toldOf } from '@/pattern/toldOf'
import { usePlayer } from '@/sound/player'
import type { Struck } from './chords'

interface Place {
  at: number
  /** Whether the next key begins from nothing. */
  begin: boolean
  /** Whether a row grows by each key. */
  grows: boolean
}
const FIRST: Place = { at: 0, begin: false, grows: false }
/** So many pages are turned in search of a step that some time of the lane is never at. */
const MOST_PAGES = 40

export function useStepping(active: Ref<boolean>) {
  const pattern = usePattern()
  const player = usePlayer()
  const notices = useNotices()
  const row = ref(false)
  const places = ref(new Map<string, Place>())
  const here = computed(() => `${pattern.id}/${pattern.chosen}/${row.value ? 'row' : 'steps'}`)
  const place = computed(() => places.value.get(here.value) ?? FIRST)
  /** So many pitches stand in the chosen lane's row. */
  const pitches = computed(() => {
    const strands = toldOf(pattern.view, pattern.chosen)?.strands
    return strands?.find(({ kind }) => kind === 'degree')?.values.length ?? 0
  })
  const count = computed(() => (row.value ? pitches.value : pattern.lane?.steps ?? 0))
  const words = computed(() => {
    const { at, begin, grows } = place.value
    if (!row.value) return `step ${at + 1} of ${count.value}`
    return begin || grows || !count.value ? `pitch ${at + 1}` : `pitch ${at + 1} of ${count.value}`
  })

  const put = (key: string, next: Place) => (places.value = new Map(places.value).set(key, next))
  /** On by so many steps, round the lane. */
  function move(by: number): void {
    const { at, ...rest } = place.value
    if (count.value) put(here.value, { ...rest, at: (at + by + count.value) % count.value, grows: false })
  }
  /** To the first step; `begin`: what the next key begins is all there is. */
  const restart = (begin: boolean) => put(here.value, { ...FIRST, begin })

  /** Fill the step, and go on to the next at once: fast hands do not wait for the server. */
  async function fill(notes: Struck[], tie = false): Promise<void> {
    const [lane, key, before] = [pattern.chosen, here.value, place.value]
    if (!lane) return
    if (pattern.lane?.kind === 'control') return notices.say(`${pattern.lane.name} has no notes to be played in.`)
    if (row.value && !notes.length) return notices.say('A row of pitches has no rests and ties: the rhythm has them.')
    const { at } = before
    const played = notes.slice(0, 8).map((note) => ({ ...note, at: 0, length: 1 }))
    const begin = before.begin || (row.value && !count.value && !before.grows)
    const edit: Edit = row.value
      ? { do: 'play_pitch', lane, place: at, notes: played, begin }
      : { do: 'play_step', lane, step: at, tie, begin, notes: played }
    const grows = row.value && (begin || before.grows)
    put(key, { at: grows ? at + 1 : (at + 1) % Math.max(1, count.value), begin: false, grows })
    const taken = await pattern.commit([edit])
    if (!taken && at < (places.value.get(key)?.at ?? 0)) put(key, before)
  }

  let turned = 0
  /** Show where the next key goes, on the page where it is. */
  function follow(): void {
    const [lane, view] = [pattern.lane, pattern.view]
    if (!active.value || row.value || !lane || !view) return
    const { cells, steps } = lane.drawn
    const seen = visibleCells(lane.drawn, pattern.start, pattern.span)
      .findIndex((cell) => steps[cell] === place.value.at)
    if (seen >= 0) {
      pattern.step = seen
      turned = 0
    } else if (!player.playing) {
      const ahead = steps.findIndex((step, cell) => step === place.value.at && (cells[cell] ?? 0) >= pattern.start)
      if (ahead >= 0) pattern.turnTo(cells[ahead] ?? 0)
      else if (turned < MOST_PAGES) pattern.turnTo(turned ? view.end : 0)
      turned += 1
    }
  }
  watch(
    [active, row, place, () => pattern.step, () => pattern.chosen, () => pattern.seen, () => pattern.start],
    () => void nextTick(follow),
  )
  return { row, words, count, place, move, restart, fill }
}
