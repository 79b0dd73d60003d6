<script setup lang="ts">
/** One lane of the lattice, drawn on a canvas; what the pointer does is in useLanePointer. */
import { useDevicePixelRatio, useElementVisibility } from '@vueuse/core'
import { computed, onMounted, useTemplateRef, watch } from 'vue'
import type { Lane, View } from '@/api/client'
import CalledTag from '@/app/CalledTag.vue'
import { groundOf, jewel } from '@/app/colours'
import { namesOf } from '@/melody/noteName'
import { rungsOf } from '@/melody/rungs'
import { drawLane, reachOf, type Stage } from './draw'
import { useLanePointer } from './useLanePointer'
import { usePattern } from '@/pattern/pattern'
import { useSession } from '@/session/session'
import { useThemeName } from '@/app/theme'
import { useDropSound } from '@/drum/useDropSound'

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
const session = useSession()
const { name: theme } = useThemeName()
const { pixelRatio } = useDevicePixelRatio()
const { dropped } = useDropSound()
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const box = useTemplateRef<HTMLElement>('box')
/** Whether it is in sight, or soon may be: each canvas is a layer, and many of them slow down every frame. */
const near = useElementVisibility(box, {
  scrollTarget: computed(() => box.value?.closest<HTMLElement>('.scroll')), rootMargin: '200px 0px', initialValue: true,
})
const colour = computed(() => jewel(props.index, theme.value))
const isChosen = computed(() => props.lane.id === pattern.chosen)

const rungs = computed(() => rungsOf(props.lane, props.chords))
const stage = computed<Stage>(() => ({
  width: props.width, height: props.height, start: props.start, span: props.span,
  beat: props.beat, bar: props.bar, colour: colour.value,
  ground: groundOf(theme.value), audible: props.lane.audible, cursor: props.cursor,
  ...reachOf(props.height), rungs: rungs.value, line: props.lane.kind === 'control',
  chosen: isChosen.value ? pattern.steps : [], end: null, coarse: props.coarse,
}))
const { press, move, release, abandon, leave, keepTouch, cursor, end, pointed, pulled } = useLanePointer(() => ({
  id: props.lane.id, steps: props.lane.steps, drawn: props.lane.drawn, stage: stage.value, canvas: canvas.value,
}))

/** What the hit that is pointed at is called, beside the pointer. */
const called = computed(() => {
  if (pulled.value) return pulled.value
  const strokes = pointed.value && props.lane.drawn.hits[pointed.value.hit]?.[3]
  if (!strokes?.length || !pointed.value) return null
  const { x, y } = pointed.value
  return { x, y, words: namesOf(props.lane, strokes.map(([, , , pitch]) => pitch), session.drums) }
})

function paint(): void {
  const context = canvas.value?.getContext('2d')
  if (!context || !canvas.value) return
  const ratio = pixelRatio.value
  const [wide, tall] = near.value ? [Math.round(props.width * ratio), Math.round(props.height * ratio)] : [0, 0]
  // Setting a size, even the same one, makes the canvas anew.
  if (canvas.value.width !== wide) canvas.value.width = wide
  if (canvas.value.height !== tall) canvas.value.height = tall
  if (!near.value) return
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  drawLane(context, props.lane.drawn, {
    ...stage.value, end: isChosen.value || pulled.value || cursor.value === 'ew-resize' ? end() : null,
  })
}
onMounted(paint)
watch(
  () => [
    near.value, props.lane.drawn, rungs.value, props.lane.audible, props.index, props.beat, props.bar, props.width,
    props.height, props.cursor,
    props.start, props.span, theme.value, pixelRatio.value, isChosen.value, isChosen.value && pattern.steps,
    pulled.value === null, cursor.value === 'ew-resize',
  ],
  paint,
  { flush: 'post' },
)
</script>

<template>
  <div ref="box" class="stage" @pointerleave="leave"><canvas
    ref="canvas" class="row" :style="{ width: `${width}px`, height: `${height}px`, cursor }" aria-hidden="true"
    :data-lane="lane.id" data-press="shift" data-press-words="chooses steps" @dragover.prevent
    @drop.prevent="(event) => dropped(lane.id, event)" @touchstart="keepTouch" @pointerdown="press" @pointermove="move"
    @pointerup="release" @pointercancel="abandon"
  /><CalledTag v-if="called" v-bind="called" :width="width" :height="height" /></div>
</template>

<style scoped>
.stage { position: relative; }
.row { display: block; touch-action: pan-y; }
</style>
