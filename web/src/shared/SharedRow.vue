<script setup lang="ts">
/** A lane of a shared pattern, to be looked at: a step that is pointed at, or reached by arrow keys, is asked about. */
import { useDevicePixelRatio, useElementSize } from '@vueuse/core'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import type { Lane, View } from '@/api/client'
import { groundOf, jewel } from '@/app/colours'
import { useThemeName } from '@/app/theme'
import { drawLane, reachOf, type Stage } from '@/lattice/draw'
import { rungsOf } from '@/melody/rungs'
import { cellLength, visibleCells } from '@/pattern/cells'

const props = defineProps<{ lane: Lane; place: number; view: View; beat: number | null }>()
const emit = defineEmits<{ ask: [at: number] }>()
const HEIGHT = 44
const { name: theme } = useThemeName()
const { pixelRatio } = useDevicePixelRatio()
const box = useTemplateRef<HTMLElement>('box')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const { width } = useElementSize(box)
const span = computed(() => props.view.end - props.view.start)
const cursor = ref(-1)
const stage = computed<Stage>(() => ({
  width: width.value, height: HEIGHT, start: props.view.start, span: span.value, beat: 4 / props.view.meter[1],
  bar: props.view.bar_beats, colour: jewel(props.place, theme.value), ground: groundOf(theme.value),
  audible: props.lane.audible, cursor: cursor.value, ...reachOf(HEIGHT), rungs: rungsOf(props.lane, props.view.chords),
  line: props.lane.kind === 'control', chosen: [], end: null, coarse: false,
}))
function paint(): void {
  const context = canvas.value?.getContext('2d')
  if (!context || !canvas.value || !width.value) return
  canvas.value.width = Math.round(width.value * pixelRatio.value)
  canvas.value.height = Math.round(HEIGHT * pixelRatio.value)
  context.setTransform(pixelRatio.value, 0, 0, pixelRatio.value, 0, 0)
  drawLane(context, props.lane.drawn, stage.value)
}
onMounted(paint)
watch([stage, pixelRatio, () => props.lane], paint, { flush: 'post' })

const cells = computed(() => visibleCells(props.lane.drawn, props.view.start, span.value))
function step(by: number): void {
  cursor.value = Math.min(cells.value.length - 1, Math.max(0, cursor.value + by))
  told()
}
function told(): void {
  const cell = cells.value[cursor.value]
  if (cell !== undefined) emit('ask', props.lane.drawn.cells[cell] ?? 0)
}
function point({ offsetX }: PointerEvent): void {
  const at = props.view.start + (offsetX / width.value) * span.value
  const { cells: starts } = props.lane.drawn
  const found = cells.value.findIndex((cell) => {
    const from = starts[cell] ?? 0
    return at >= from && at < from + cellLength(props.lane.drawn, cell)
  })
  if (found < 0 || found === cursor.value) return
  cursor.value = found
  told()
}
const head = computed(() => (props.beat === null ? null : ((props.beat - props.view.start) / span.value) * 100))
</script>

<template>
  <div ref="box" class="row" tabindex="0" role="group" :aria-label="`Steps of ${lane.name}`"
    @keydown.left.prevent="step(-1)" @keydown.right.prevent="step(1)" @pointermove="point" @pointerdown="point"
    @pointerleave="cursor = -1" @blur="cursor = -1"
  ><canvas ref="canvas" :style="{ width: `${width}px`, height: `${HEIGHT}px` }" aria-hidden="true" /><span
    v-if="head !== null && head >= 0 && head <= 100" class="head" :style="{ left: `${head}%` }" /></div>
</template>

<style scoped>
.row { position: relative; height: 44px; border-radius: 6px; overflow: hidden; }
.row:focus-visible { outline: 2px solid var(--ink); outline-offset: 1px; }
canvas { display: block; }
.head { position: absolute; top: 0; bottom: 0; width: 2px; background: var(--ink); pointer-events: none; }
</style>
