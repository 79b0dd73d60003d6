/**
 * Cuttings of the open pattern: a strip of relatives for each lane, where the hand is on each, and what is
 * tried out of them. Nothing is stored until it is planted.
 */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import type { Edit, Strip } from '@/api/client'
import { letGo } from '@/app/hand'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'
import { useGrowing } from './growing'
import { nearest, onward, places, type Bounds, type Mark } from './strip'

type Places = Record<string, number>
export type Side = 'A' | 'B'

const ALL: Bounds = [0, 1]

export const useCuttings = defineStore('cuttings', () => {
  const pattern = usePattern()
  const player = usePlayer()
  /** Whether they are on the screen. */
  const shown = ref(false)
  const strips = shallowRef<Record<string, Strip>>({})
  /** Where the hand of each lane is; a lane that has none is as it was. */
  const at = ref<Places>({})
  const staying = ref<Record<string, boolean>>({})
  const brackets = ref<Record<string, Bounds>>({})
  const pointed = shallowRef<{ lane: string; mark: number } | null>(null)
  const marked = ref<Record<Side, Places | null>>({ A: null, B: null })
  /** What relatives are grown from, where that is not what is stored: edits that are tried out. */
  const base = shallowRef<Edit[]>([])

  const laid = computed(
    () => Object.fromEntries(Object.values(strips.value).map((strip) => [strip.lane, places(strip.marks)])),
  )
  const boundsOf = (lane: string): Bounds => brackets.value[lane] ?? ALL
  const moves = (lane: string) => !staying.value[lane] && !!strips.value[lane]?.marks.length
  /** Whether anything is tried out. */
  const trying = computed(() => base.value.length > 0 || Object.keys(at.value).length > 0)

  /** The number of the mark that a lane's hand is on, or -1. */
  function markAt(lane: string): number {
    const place = at.value[lane]
    return place === undefined ? -1 : nearest(laid.value[lane] ?? [], place, ALL)
  }
  const markOf = (lane: string): Mark | undefined => strips.value[lane]?.marks[markAt(lane)]

  function planted(lane: string, mark: Mark | undefined): Edit[] {
    return mark ? [{ do: 'plant', lane, hits: mark.hits, amount: mark.amount, degrees: mark.degrees }] : []
  }
  function edits(lanes?: string[]): Edit[] {
    const wanted = lanes ?? pattern.view?.lanes.map((lane) => lane.id) ?? []
    return wanted.flatMap((lane) => planted(lane, markOf(lane)))
  }
  /** Hear and see what the hands are on, and the mark that is pointed at. */
  function tryOut(): void {
    const there = pointed.value
    const hovered = there ? planted(there.lane, strips.value[there.lane]?.marks[there.mark]) : []
    void pattern.preview([...base.value, ...edits(), ...hovered])
  }

  const { wish, gusts, grown, growing, grow, turnGusts, throwAgain } = useGrowing({
    wanted: shown, strips, base, stays: (lane) => staying.value[lane] ?? false,
    onGrown: () => trying.value && tryOut(),
  })

  function open(): void {
    shown.value = true
    void grow()
  }
  /** Leave them; what was tried out is forgotten. */
  function leave(): void {
    if (!shown.value) return
    letGo()
    shown.value = false
    asWas()
    forget()
  }
  function forget(): void {
    strips.value = {}
    grown.value = null
    staying.value = {}
    brackets.value = {}
    marked.value = { A: null, B: null }
  }

  function moveTo(lane: string, mark: number): void {
    const place = laid.value[lane]?.[mark]
    if (place === undefined || staying.value[lane]) return
    at.value = { ...at.value, [lane]: place }
    tryOut()
  }
  /** Along a strip by so many marks. */
  function walk(lane: string, by: number): void {
    const strip = strips.value[lane]
    const hits = strip?.hits.join()
    const same = () => strip?.marks.findIndex((mark) => mark.hits.join() === hits) ?? -1
    const from = [
      markAt(lane), same(), nearest(laid.value[lane] ?? [], strip?.now ?? 0, boundsOf(lane)),
    ].find((mark) => mark >= 0)
    if (from !== undefined) moveTo(lane, onward(laid.value[lane] ?? [], from, by, boundsOf(lane)))
  }
  /** All strips that may move together, to so much of the way between their brackets. */
  function moveAll(share: number): void {
    const next = { ...at.value }
    for (const lane of Object.keys(strips.value).filter(moves)) {
      const [low, high] = boundsOf(lane)
      const mark = nearest(laid.value[lane] ?? [], low + share * (high - low), [low, high])
      const place = laid.value[lane]?.[mark]
      if (place !== undefined) next[lane] = place
    }
    at.value = next
    tryOut()
  }
  function point(there: { lane: string; mark: number } | null): void {
    if (there?.lane === pointed.value?.lane && there?.mark === pointed.value?.mark) return
    pointed.value = there
    tryOut()
  }
  function setBrackets(lane: string, bounds: Bounds): void {
    brackets.value = { ...brackets.value, [lane]: bounds }
  }
  const toggleStay = (lane: string) => (staying.value = { ...staying.value, [lane]: !staying.value[lane] })

  /** One lane as it was, or all of them. */
  function asWas(lane?: string): void {
    const others = lane === undefined
      ? {}
      : Object.fromEntries(Object.entries(at.value).filter(([each]) => each !== lane))
    if (lane === undefined) base.value = []
    at.value = others
    pointed.value = null
    tryOut()
  }
  /** Relatives of what is heard now. */
  function moreLikeThis(): void {
    base.value = [...base.value, ...edits()]
    at.value = {}
    wish.value = { ...wish.value, source: 'now' }
    void grow()
  }

  /** Store what is tried out, of one lane or of all. */
  async function plant(lane?: string): Promise<void> {
    const ofLane = base.value.filter((edit) => 'lane' in edit && edit.lane === lane)
    const wanted = lane === undefined ? [...base.value, ...edits()] : [...ofLane, ...edits([lane])]
    if (!wanted.length || !(await pattern.commit(wanted))) return
    asWas(lane)
    player.hearChange()
  }
  const addAnswering = (lane: string) => pattern.commit([{ do: 'add_answering', lane }])

  /** Remember what is heard as A or B; then go to it. */
  function mark(side: Side): void {
    const known = marked.value[side]
    if (known === null) marked.value = { ...marked.value, [side]: { ...at.value } }
    else {
      at.value = { ...known }
      tryOut()
    }
  }
  const unmark = () => (marked.value = { A: null, B: null })

  return {
    shown, wish, gusts, turnGusts, grown, strips, growing, at, staying, brackets, pointed, marked, laid, trying,
    open, leave, grow, markAt, markOf, moves, boundsOf, moveTo, walk, moveAll, point, setBrackets, toggleStay, asWas,
    throwAgain,
    moreLikeThis, plant, addAnswering, mark, unmark,
  }
})
