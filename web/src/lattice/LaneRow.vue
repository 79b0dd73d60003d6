<script setup lang="ts">
/** One lane of the lattice, drawn on a canvas; what the pointer does is in useLanePointer. */
import { useDevicePixelRatio } from '@vueuse/core'
import { computed, onMounted, useTemplateRef, watch } from 'vue'
import type { Lane, View } from '@/api/client'
import { groundOf, jewel } from '@/app/colours'
import { rungsOf } from '@/melody/rungs'
import { drawLane, reachOf, type Stage } from './draw'
import { useLanePointer } from './useLanePointer'
import { usePattern } from '@/pattern/pattern'
import { useThemeName } from '@/app/theme'

const props = defineProps<{
  lane: Lane
  index: number
  beat: number
  bar: number
  width: number
  height: number
  start: number
  span: number
  cursor: number
  coarse: boolean
  chords: View['chords']
}>()
const pattern = usePattern()
const { name: theme } = useThemeName()
const { pixelRatio } = useDevicePixelRatio()
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const colour = computed(() => jewel(props.index, theme.value))
const isChosen = computed(() => props.lane.id === pattern.chosen)

const rungs = computed(() => rungsOf(props.lane, props.chords))
const stage = computed<Stage>(() => ({
  width: props.width, height: props.height, start: props.start, span: props.span,
  beat: props.beat, bar: props.bar, colour: colour.value,
  ground: groundOf(theme.value), audible: props.lane.audible, cursor: props.cursor,
  ...reachOf(props.height), rungs: rungs.value, line: props.lane.kind === 'control', chosen: isChosen.value ? pattern.steps : [], end: null, coarse: props.coarse,
}))
const { press, move, release, abandon, cursor, end } = useLanePointer(() => ({
  id: props.lane.id, drawn: props.lane.drawn, stage: stage.value, canvas: canvas.value,
}))

function paint(): void {
  const context = canvas.value?.getContext('2d')
  if (!context || !canvas.value) return
  const ratio = pixelRatio.value
  const [wide, tall] = [Math.round(props.width * ratio), Math.round(props.height * ratio)]
  // Setting a size, even the same one, makes the canvas anew.
  if (canvas.value.width !== wide) canvas.value.width = wide
  if (canvas.value.height !== tall) canvas.value.height = tall
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  drawLane(context, props.lane.drawn, { ...stage.value, end: end() })
}
onMounted(paint)
watch(
  () => [
    props.lane.drawn, rungs.value, props.lane.audible, props.index, props.beat, props.bar, props.width, props.height, props.cursor,
    props.start, props.span, theme.value, pixelRatio.value, isChosen.value, isChosen.value && pattern.steps,
  ],
  paint,
  { flush: 'post' },
)
</script>

<template>
  <canvas
    ref="canvas" class="row" :style="{ width: `${width}px`, height: `${height}px`, cursor }" aria-hidden="true"
    :data-lane="lane.id" @pointerdown="press" @pointermove="move" @pointerup="release" @pointercancel="abandon"
  />
</template>

<style scoped>
.row { display: block; touch-action: pan-y; }
</style>
