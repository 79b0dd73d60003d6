<script setup lang="ts">
/**
 * What was ridden and laid in, as a curve over the bars: each stretch as high as its steps are short. A stretch is
 * dragged up and down to another pace, at its end to last longer; by keys, the arrows do the same.
 */
import { computed, ref, useTemplateRef } from 'vue'
import type { Edit } from '@/api/client'
import { ratio } from '@/app/ratio'
import { usePattern } from '@/pattern/pattern'
import { slotsOf } from '@/pattern/slots'
import { toldOf } from '@/pattern/toldOf'
import { PACES } from './useRide'

interface Stretch {
  place: number
  start: number
  beats: number
  step: string
  human: number
}
const props = defineProps<{ lane: string }>()
const pattern = usePattern()
const area = useTemplateRef<SVGElement>('area')
const GRID = 48
const LEAST = GRID / 4
const EDGE = 9

const inGrid = (text: unknown) =>
  Math.round(String(text).split('+').reduce((sum, part) => sum + ratio(part), 0) * GRID)
const stretches = computed<Stretch[]>(() => {
  const clauses = toldOf(pattern.view, props.lane)?.sentence.clauses ?? []
  const slots = new Map(slotsOf(clauses).map((slot) => [slot.slot, slot.value]))
  const found: Stretch[] = []
  for (let place = 0; slots.has(`rate_path.${place}.step`); place += 1) {
    const of = (word: string) => slots.get(`rate_path.${place}.${word}`)
    found.push({
      place, start: inGrid(of('start')) - GRID, beats: inGrid(of('beats')), step: String(of('step')), human: Number(of('human')),
    })
  }
  return found
})
const whole = computed(() =>
  Math.max((pattern.view?.frame_beats ?? 4) * GRID, ...stretches.value.map(({ start, beats }) => start + beats)))
const level = (step: string) => Math.min(1, Math.max(0.08, (-Math.log2(ratio(step)) - 2) / 4))
const drawn = computed(() => stretches.value.map((each) => ({
  ...each, left: (each.start / whole.value) * 100, wide: (each.beats / whole.value) * 100, high: level(each.step) * 100,
  words: `${each.step}, ${each.human} % human`,
  label: `From beat ${each.start / GRID + 1} for ${(each.beats / GRID).toFixed(2).replace(/\.?0+$/, '')} beats`,
})))
const bars = computed(() => {
  const bar = pattern.bar * GRID
  return Array.from({ length: Math.ceil(whole.value / bar) }, (_, i) => (i * bar * 100) / whole.value)
})

const set = (place: number, word: string, value: unknown): Edit =>
  ({ do: 'set', lane: props.lane, slot: `rate_path.${place}.${word}`, value, also: [] })
/** Another pace for a stretch. */
function paced({ place, step }: Stretch, by: number): Edit[] {
  const now = PACES.reduce((best, each, i) =>
    Math.abs(ratio(each) - ratio(step)) < Math.abs(ratio(PACES[best] ?? '') - ratio(step)) ? i : best, 0)
  const next = PACES[Math.min(PACES.length - 1, Math.max(0, now + by))]
  return next && next !== step ? [set(place, 'step', next)] : []
}
/** Another end for a stretch; the one that begins there begins with it. */
function ended(own: Stretch, others: Stretch[], end: number): Edit[] {
  const next = others.find(({ start }) => start >= own.start + own.beats)
  const joined = next && next.start === own.start + own.beats ? next : null
  const most = joined ? joined.start + joined.beats - LEAST : next?.start ?? whole.value
  const to = Math.min(most, Math.max(own.start + LEAST, end))
  const beats = (count: number) => `${count}/${GRID}`
  if (to === own.start + own.beats) return []
  const mine = set(own.place, 'beats', beats(to - own.start))
  if (!joined) return [mine]
  const shorter = set(joined.place, 'beats', beats(joined.start + joined.beats - to))
  const later = set(joined.place, 'start', beats(to + GRID)) // words count from 1
  return to > joined.start ? [shorter, later, mine] : [mine, later, shorter]
}

const held = ref<{ of: Stretch; all: Stretch[]; atEnd: boolean; x: number; y: number } | null>(null)
let wanted: Edit[] = []
function press(event: PointerEvent, of: Stretch): void {
  if (event.button !== 0) return
  const box = (event.currentTarget as Element).getBoundingClientRect()
  held.value = {
    of, all: stretches.value, atEnd: box.right - event.clientX < EDGE, x: event.clientX, y: event.clientY,
  }
  wanted = []
  event.preventDefault() // no text is marked
  ;(event.currentTarget as SVGElement).focus()
  area.value?.setPointerCapture(event.pointerId)
}
function follow(event: PointerEvent): void {
  const { value: hand } = held
  const box = area.value?.getBoundingClientRect()
  if (!hand || !box) return
  const across = ((event.clientX - hand.x) / box.width) * whole.value
  const end = hand.of.start + hand.of.beats + across
  wanted = hand.atEnd
    ? ended(hand.of, hand.all, Math.round(end / LEAST) * LEAST)
    : paced(hand.of, Math.round(((hand.y - event.clientY) / box.height) * PACES.length))
  void pattern.preview(wanted)
}
async function release(taken: boolean): Promise<void> {
  if (!held.value) return
  held.value = null
  if (taken && wanted.length) await pattern.commit(wanted)
  else void pattern.preview([])
}
function key(event: KeyboardEvent, own: Stretch): void {
  const [up, across] = [
    { ArrowUp: 1, ArrowDown: -1 }[event.key], { ArrowRight: LEAST, ArrowLeft: -LEAST }[event.key],
  ]
  if (!up && !across) return
  event.preventDefault()
  event.stopPropagation()
  const edits = up ? paced(own, up) : ended(own, stretches.value, own.start + own.beats + (across ?? 0))
  if (edits.length) void pattern.commit(edits)
}
</script>

<template>
  <svg
    ref="area" class="curve" role="group" aria-label="What was ridden, over the bars"
    @pointermove="follow" @pointerup="release(true)" @pointercancel="release(false)"
  >
    <line v-for="bar in bars" :key="bar" class="bar" :x1="`${bar}%`" :x2="`${bar}%`" y1="0" y2="100%" />
    <g
      v-for="each in drawn" :key="each.place" class="stretch" role="slider" tabindex="0" :aria-label="each.label"
      :aria-valuetext="each.words" :aria-valuenow="PACES.indexOf(each.step)" aria-valuemin="0"
      :aria-valuemax="PACES.length - 1" @pointerdown="(event) => press(event, each)"
      @keydown="(event) => key(event, each)"
    >
      <title>{{ each.label }}: {{ each.words }}</title>
      <rect class="reach" :x="`${each.left}%`" y="0" :width="`${each.wide}%`" height="100%" />
      <rect
        class="pace" :x="`${each.left}%`" :y="`${100 - each.high}%`" :width="`${each.wide}%`" :height="`${each.high}%`"
      />
      <text :x="`${each.left + each.wide / 2}%`" y="97%" text-anchor="middle">{{ each.step }}</text>
    </g>
  </svg>
</template>

<style scoped>
.curve {
  display: block; width: 100%; height: 52px; margin-bottom: 4px; border: 1px solid var(--rule); border-radius: 8px; touch-action: none;
  user-select: none;
}
.bar { stroke: var(--rule); stroke-dasharray: 3 3; }
.reach { fill: transparent; }
.stretch { cursor: ns-resize; }
.stretch:focus-visible { outline: 2px solid var(--link); outline-offset: -2px; }
.pace { fill: color-mix(in srgb, var(--lane) 32%, transparent); stroke: var(--lane); stroke-width: 1.5; }
text { font-size: 11px; fill: var(--ink); pointer-events: none; }
</style>
