<script setup lang="ts">
/** One lane of the lattice, drawn on a canvas; steps are set with the pointer. */
import { useDevicePixelRatio } from '@vueuse/core'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import type { Lane, View } from '@/api/client'
import { groundOf, jewel } from '@/lattice/colours'
import { cellLength, drawLane, visibleCells } from '@/lattice/draw'
import { useWhy } from '@/lattice/useWhy'
import { usePattern } from '@/stores/pattern'
import { useThemeName } from '@/theme'

const props = defineProps<{
  lane: Lane
  index: number
  view: View
  width: number
  height: number
  cursor: number
}>()
const pattern = usePattern()
const { name: theme } = useThemeName()
const { pixelRatio } = useDevicePixelRatio()
const { point } = useWhy()
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const colour = computed(() => jewel(props.index, theme.value))

function paint(): void {
  const context = canvas.value?.getContext('2d')
  if (!context || !canvas.value) return
  const ratio = pixelRatio.value
  canvas.value.width = Math.round(props.width * ratio)
  canvas.value.height = Math.round(props.height * ratio)
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  drawLane(context, props.lane.drawn, {
    width: props.width, height: props.height, start: pattern.start, span: pattern.span,
    beat: 4 / props.view.meter[1], bar: props.view.bar_beats, colour: colour.value,
    ground: groundOf(theme.value), audible: props.lane.audible, cursor: props.cursor,
  })
}
onMounted(paint)
watch(
  () => [props.lane.drawn, props.lane.audible, props.index, props.view.meter, props.width, props.height, props.cursor, pattern.start, pattern.span, theme.value, pixelRatio.value],
  paint,
  { flush: 'post' },
)

/** The cell under the pointer, as its place in the lane's cells. */
function cellAt(event: PointerEvent): number {
  const box = canvas.value?.getBoundingClientRect()
  if (!box) return -1
  const beat = pattern.start + ((event.clientX - box.left) / box.width) * pattern.span
  const { cells } = props.lane.drawn
  for (let i = cells.length - 1; i >= 0; i -= 1) {
    const at = cells[i] ?? 0
    if (at <= beat) return beat < at + cellLength(props.lane.drawn, i) ? i : -1
  }
  return -1
}
function hasHit(cell: number): boolean {
  const at = props.lane.drawn.cells[cell] ?? 0
  const end = at + cellLength(props.lane.drawn, cell)
  return props.lane.drawn.hits.some(([place]) => place >= at - 1e-6 && place < end - 1e-6)
}

// A click sets or clears a step; dragging across makes all that it crosses the same.
const painting = ref<{ on: boolean; steps: Set<number> } | null>(null)
function press(event: PointerEvent): void {
  if (event.button !== 0) return
  pattern.choose(props.lane.id)
  const cell = cellAt(event)
  const step = props.lane.drawn.steps[cell]
  if (step === undefined) return
  canvas.value?.setPointerCapture(event.pointerId)
  pattern.step = Math.max(0, visibleCells(props.lane.drawn, pattern.start, pattern.span).indexOf(cell))
  painting.value = { on: !hasHit(cell), steps: new Set([step]) }
  tryPainting()
}
function tryPainting(): void {
  const { on, steps } = painting.value ?? { on: false, steps: [] }
  void pattern.preview([{ do: 'put', lane: props.lane.id, steps: [...steps], on }])
}
function move(event: PointerEvent): void {
  const cell = cellAt(event)
  const step = props.lane.drawn.steps[cell]
  if (painting.value && step !== undefined) {
    if (!painting.value.steps.has(step)) {
      painting.value.steps.add(step)
      tryPainting()
    }
  } else if (cell >= 0) {
    point(props.lane.id, (props.lane.drawn.cells[cell] ?? 0) + cellLength(props.lane.drawn, cell) / 2)
  }
}
function release(): void {
  const done = painting.value
  painting.value = null
  if (done) {
    void pattern.commit([{ do: 'put', lane: props.lane.id, steps: [...done.steps], on: done.on }])
  }
}
function abandon(): void {
  if (painting.value) void pattern.preview([])
  painting.value = null
}
</script>

<template>
  <canvas
    ref="canvas" class="row" :style="{ width: `${width}px`, height: `${height}px` }" aria-hidden="true"
    :data-lane="lane.id" @pointerdown="press" @pointermove="move" @pointerup="release" @pointercancel="abandon"
  />
</template>

<style scoped>
.row { display: block; cursor: crosshair; touch-action: pan-y; }
</style>
