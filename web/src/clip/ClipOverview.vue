<script setup lang="ts">
/** All of the clip, small: what is shown above is framed, and the frame can be dragged. */
import { useDevicePixelRatio, useElementSize } from '@vueuse/core'
import { computed, onMounted, useTemplateRef, watch } from 'vue'
import { jewel } from '@/app/colours'
import { useThemeName } from '@/app/theme'
import { useClip } from './clip'

const props = defineProps<{ start: number; span: number }>()
const emit = defineEmits<{ look: [start: number, span: number] }>()
const clip = useClip()
const { name: theme } = useThemeName()
const { pixelRatio } = useDevicePixelRatio()
const box = useTemplateRef<HTMLElement>('box')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const { width, height } = useElementSize(box)
const beats = computed(() => clip.view?.beats ?? 1)

function paint(): void {
  const context = canvas.value?.getContext('2d')
  const { view } = clip
  if (!context || !canvas.value || !view || !width.value) return
  const ratio = pixelRatio.value
  canvas.value.width = Math.round(width.value * ratio)
  canvas.value.height = Math.round(height.value * ratio)
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  const tall = height.value / Math.max(1, view.lanes.length)
  for (const [start, , , velocity, lane] of view.notes) {
    const high = Math.max(1, (velocity / 127) * tall * 0.9)
    context.fillStyle = jewel(lane, theme.value)
    context.fillRect((start / view.beats) * width.value, (lane + 1) * tall - high, 2, high)
  }
}
onMounted(paint)
watch(() => [clip.view, width.value, height.value, theme.value, pixelRatio.value], paint, { flush: 'post' })

let held: number | null = null
const beatUnder = (event: PointerEvent) =>
  ((event.clientX - (box.value?.getBoundingClientRect().left ?? 0)) / Math.max(1, width.value)) * beats.value
function press(event: PointerEvent): void {
  if (event.button !== 0) return
  box.value?.setPointerCapture(event.pointerId)
  const beat = beatUnder(event)
  held = beat >= props.start && beat <= props.start + props.span ? beat - props.start : props.span / 2
  drag(event)
}
function drag(event: PointerEvent): void {
  if (held !== null) emit('look', beatUnder(event) - held, props.span)
}
const keys: Record<string, number> = {
  ArrowLeft: -0.25, ArrowRight: 0.25, PageUp: -1, PageDown: 1, Home: -1e6, End: 1e6,
}
function key(event: KeyboardEvent): void {
  const by = keys[event.key]
  if (by === undefined) return
  event.preventDefault()
  event.stopPropagation()
  emit('look', props.start + by * props.span, props.span)
}
</script>

<template>
  <div class="overview">
    <span class="head">All of it</span>
    <div
      ref="box" class="box" role="slider" tabindex="0" aria-label="What is shown of the clip"
      :aria-valuenow="Math.round(start)" aria-valuemin="0"
      :aria-valuemax="Math.round(beats)"
      :aria-valuetext="`from beat ${Math.round(start) + 1}, ${Number(span.toFixed(1))} of ${Math.round(beats)} beats`"
      @pointerdown="press" @pointermove="drag" @pointerup="held = null" @pointercancel="held = null" @keydown="key"
    >
      <canvas ref="canvas" aria-hidden="true" :style="{ width: `${width}px`, height: `${height}px` }" />
      <span class="frame"
        :style="{ left: `${(start / beats) * 100}%`, width: `${Math.min(100, (span / beats) * 100)}%` }" />
    </div>
  </div>
</template>

<style scoped>
.overview { display: flex; align-items: center; gap: 14px; height: 46px; flex: none; }
.head { width: 66px; font-size: 15px; }
.box {
  position: relative; flex: 1; min-width: 0; height: 100%; background: color-mix(in srgb, var(--card) 60%, transparent);
  border-radius: 8px; touch-action: none; cursor: grab;
}
canvas { display: block; border-radius: 8px; }
.frame { position: absolute; top: 0; bottom: 0; border: 2px solid var(--ink); border-radius: 8px; }
</style>
