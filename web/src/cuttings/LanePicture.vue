<script setup lang="ts">
/** One frame of a lane as it plays now, small: the same drawing as in the lattice. */
import { useDevicePixelRatio } from '@vueuse/core'
import { computed, onMounted, useTemplateRef, watch } from 'vue'
import type { Lane } from '@/api/client'
import { groundOf, jewel } from '@/app/colours'
import { useThemeName } from '@/app/theme'
import { drawLane, reachOf, type Stage } from '@/lattice/draw'
import { rungsOf } from '@/melody/rungs'
import { usePattern } from '@/pattern/pattern'

const props = defineProps<{ lane: Lane; index: number; width: number; height: number }>()
const pattern = usePattern()
const { name: theme } = useThemeName()
const { pixelRatio } = useDevicePixelRatio()
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const MOST_BARS = 2
const stage = computed<Stage>(() => ({
  width: props.width, height: props.height, start: pattern.start,
  span: Math.min(pattern.frame, MOST_BARS * pattern.bar),
  beat: pattern.beat, bar: pattern.bar, colour: jewel(props.index, theme.value), ground: groundOf(theme.value),
  audible: props.lane.audible,
  cursor: -1, ...reachOf(props.height), rungs: rungsOf(props.lane, pattern.view?.chords ?? []),
  line: props.lane.kind === 'control', chosen: [], end: null, coarse: false,
}))
function paint(): void {
  const context = canvas.value?.getContext('2d')
  if (!context || !canvas.value) return
  const ratio = pixelRatio.value
  canvas.value.width = Math.round(props.width * ratio)
  canvas.value.height = Math.round(props.height * ratio)
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  drawLane(context, props.lane.drawn, stage.value)
}
onMounted(paint)
watch(() => [props.lane.drawn, stage.value, pixelRatio.value], paint, { flush: 'post' })
</script>

<template>
  <canvas ref="canvas" :style="{ width: `${width}px`, height: `${height}px` }" aria-hidden="true" />
</template>

<style scoped>
canvas { display: block; border-radius: 6px; }
</style>
