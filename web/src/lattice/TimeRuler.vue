<script setup lang="ts">
/** Bars and beats over the lattice; dragging over a stretch of the chosen lane's steps offers rolls for it. */
import { computed, ref, useTemplateRef } from 'vue'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import { useEscape } from '@/app/useEscape'
import { cellLength, labelledBars } from '@/pattern/cells'
import { usePattern } from '@/pattern/pattern'

const props = defineProps<{ start: number; span: number }>()
const pattern = usePattern()
const box = useTemplateRef<HTMLElement>('box')
const labels = computed(() => {
  const { beat, bar: length } = pattern
  const bars = Math.round(props.span / length)
  const every = labelledBars(bars)
  const found = []
  for (let i = 0; i * beat < props.span - 1e-6; i += 1) {
    const at = props.start + i * beat
    const bar = Math.floor(at / length + 1e-6)
    const inBar = Math.round((at - bar * length) / beat)
    if (inBar !== 0 && props.span / beat > 16) continue
    if (bar % every !== 0) continue
    found.push({
      text: props.span / beat > 32 ? String(bar + 1) : `${bar + 1}.${inBar + 1}`,
      left: ((at - props.start) / props.span) * 100, strong: inBar === 0,
    })
  }
  return found
})
/** Where a gust blows or a fill plays by itself, of what is in sight. */
const spells = computed(() => {
  const [from, to] = [props.start, props.start + props.span]
  const shown = ((pattern.weave ?? pattern.view)?.spells ?? []).filter(({ start, end }) => start < to && end > from)
  return shown.map(({ start, end, name, words }) => ({
    name, words,
    left: ((Math.max(start, from) - from) / props.span) * 100,
    width: ((Math.min(end, to) - Math.max(start, from)) / props.span) * 100,
  }))
})

const drag = ref<{ from: number; to: number } | null>(null)
const drawn = computed(() => pattern.lane?.drawn ?? null)
/** A stretch begins and ends with steps of the chosen lane: those that were gone over for more than a third. */
const stretch = computed(() => {
  if (!drag.value || !drawn.value) return null
  const [a, b] = [Math.min(drag.value.from, drag.value.to), Math.max(drag.value.from, drag.value.to)]
  const lane = drawn.value
  const cells = lane.cells.flatMap((at, i) => {
    const length = cellLength(lane, i)
    return Math.min(b, at + length) - Math.max(a, at) > Math.min(length / 3, b - a) * 0.99
      ? [{ at, end: at + length }]
      : []
  })
  const [first, last] = [cells[0], cells.at(-1)]
  return first && last ? { from: first.at, to: last.end, cells: cells.length } : null
})
/** What was drawn over, while strokes are offered for it. */
const offered = ref<NonNullable<typeof stretch.value> | null>(null)
const shown = computed(() => stretch.value ?? (picking.value ? offered.value : null))
const picking = ref(false)
const mark = useTemplateRef<HTMLElement>('mark')
const MOST_STROKES = 64
const gcd = (a: number, b: number): number => (b ? gcd(b, a % b) : a)
/** A length in whole notes as a fraction; those of lanes have small parts. */
function fraction(whole: number): string {
  for (const parts of [1, 2, 4, 8, 16, 32, 64, 3, 6, 12, 24, 48, 96, 5, 10, 20, 40, 80]) {
    const top = whole * parts
    if (Math.abs(top - Math.round(top)) < 1e-6) {
      const least = gcd(Math.round(top), parts)
      return `${Math.round(top) / least}/${parts / least}`
    }
  }
  return ''
}
/** The numbers of strokes that fit: those whose length is one of a note's common parts. */
const entries = computed<Entry[]>(() => {
  const { from, to, cells } = offered.value ?? { from: 0, to: 0, cells: 0 }
  const lane = pattern.lane?.name ?? ''
  const fitting = Array.from({ length: MOST_STROKES - 1 }, (_, i) => i + 2).map((strokes) => ({
    strokes, length: fraction((to - from) / 4 / strokes),
  }))
  return fitting.filter(({ length }) => length.startsWith('1/')).map(({ strokes, length }, i) => ({
    title: `${strokes} strokes`, about: `of ${length}`, group: i === 0 ? `${lane} rolls here` : undefined,
    chosen: strokes === 2 * cells, run: () => roll(strokes),
  }))
})
function roll(strokes: number): void {
  if (!offered.value) return
  const { from, to } = offered.value
  void pattern.commit(
    [pattern.chosen, ...pattern.also].flatMap((lane) => (
      lane ? [{ do: 'roll_cells' as const, lane, at: from, until: to, strokes }] : []
    )),
  )
}
function beatAt(event: PointerEvent): number {
  const area = box.value?.getBoundingClientRect()
  if (!area) return props.start
  const share = Math.min(1, Math.max(0, (event.clientX - area.left) / area.width))
  return props.start + share * props.span
}
function press(event: PointerEvent): void {
  if (event.button !== 0 || !pattern.chosen) return
  box.value?.setPointerCapture(event.pointerId)
  drag.value = { from: beatAt(event), to: beatAt(event) }
}
function move(event: PointerEvent): void {
  if (drag.value) drag.value = { ...drag.value, to: beatAt(event) }
}
useEscape(() => drag.value !== null, () => (drag.value = null))
function release(): void {
  const far = drag.value && Math.abs(drag.value.to - drag.value.from) > 0.1
  offered.value = far ? stretch.value : null
  drag.value = null
  picking.value = offered.value !== null
}
</script>

<template>
  <div
    ref="box" class="ruler" :title="`Drag over a stretch: ${pattern.lane?.name ?? 'the lane'} rolls there`"
    @pointerdown="press" @pointermove="move" @pointerup="release" @pointercancel="drag = null"
  >
    <div
      v-if="shown" ref="mark" class="stretch" :style="{
        left: `${((shown.from - start) / span) * 100}%`, width: `${((shown.to - shown.from) / span) * 100}%`,
      }"
    />
    <PickMenu v-model="picking" :target="mark" label="How many strokes" :entries="entries" />
    <div v-for="(spell, i) in spells" :key="i" class="spell" :title="spell.words"
      :style="{ left: `${spell.left}%`, width: `${spell.width}%` }"><b>{{ spell.name }}</b></div>
    <span
      v-for="label in labels" :key="label.text" :class="{ strong: label.strong }" :style="{ left: `${label.left}%` }"
    >{{ label.text }}</span>
  </div>
</template>

<style scoped>
.ruler {
  position: relative; font-size: 12px; color: var(--quiet); cursor: col-resize; touch-action: none; user-select: none;
}
span { position: absolute; transform: translateX(-50%); font-variant-numeric: tabular-nums; }
span:first-of-type { transform: none; }
@media (pointer: coarse) { span { bottom: 2px; } }
.strong { font-weight: 700; color: var(--ink); }
.spell {
  position: absolute; z-index: 1; inset-block: 0; border-bottom: 2px dotted var(--link); text-align: right;
  container-type: size;
}
.spell b {
  display: inline-block; max-width: calc(100% - 14px); overflow: hidden; margin-right: 14px; padding: 0 4px;
  background: var(--paper);
  font-weight: 400; font-style: italic; color: var(--link); text-overflow: ellipsis; white-space: nowrap;
}
@container (max-width: 70px) { .spell b { display: none; } }
.stretch { position: absolute; top: 0; bottom: 2px; background: var(--lamp); opacity: 0.6; border-radius: 4px; }
</style>
