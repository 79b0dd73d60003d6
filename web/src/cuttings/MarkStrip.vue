<script setup lang="ts">
/**
 * The relatives of a lane as marks in a row. What is pointed at is tried; the hand is dragged along or walked
 * with the arrows; brackets bound where it goes.
 */
import { useDebounceFn, useDevicePixelRatio, useElementSize } from '@vueuse/core'
import { computed, ref, useTemplateRef, watch } from 'vue'
import type { Strip } from '@/api/client'
import { groundOf, jewel } from '@/app/colours'
import { diamond } from '@/app/marks'
import { useThemeName } from '@/app/theme'
import { useCuttings } from './cuttings'
import { nearest } from './strip'

/** steps: of one cycle of the lane. */
const props = defineProps<{ strip: Strip; index: number; name: string; told: string; steps: number }>()
const emit = defineEmits<{ walk: [by: number] }>()
const HEIGHT = 54
const EDGE = 36
const LINES = 4
const POINTING_MS = 70
const PICTURE = { widest: 224, cell: 9 }
const cuttings = useCuttings()
const { name: theme } = useThemeName()
const { pixelRatio } = useDevicePixelRatio()
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const area = useTemplateRef<HTMLElement>('area')
const { width } = useElementSize(area)
const at = computed(() => cuttings.laid[props.strip.lane] ?? [])
const x = (place: number) => EDGE + place * (width.value - 2 * EDGE)
const placeOf = (event: PointerEvent) => {
  const box = area.value?.getBoundingClientRect()
  return box ? Math.min(1, Math.max(0, (event.clientX - box.left - EDGE) / (box.width - 2 * EDGE))) : 0
}
const bounds = computed(() => cuttings.boundsOf(props.strip.lane))
const stays = computed(() => !!cuttings.staying[props.strip.lane])
const now = computed(() => cuttings.markAt(props.strip.lane))
const hand = computed(() => (now.value >= 0 ? (at.value[now.value] ?? 0) : props.strip.now))
const ends = computed(() => [props.strip.marks[0], props.strip.marks.at(-1)].map((mark) => mark?.words ?? ''))

/** Near-doubles are gathered into one mark, the larger the more there are. */
const groups = computed(() => {
  const found: { place: number; count: number; group: number }[] = []
  props.strip.marks.forEach(({ group }, i) => {
    const last = found.at(-1)
    if (last?.group === group) {
      last.count += 1
      last.place += ((at.value[i] ?? 0) - last.place) / last.count
    } else found.push({ place: at.value[i] ?? 0, count: 1, group })
  })
  return found
})
function paint(): void {
  const context = canvas.value?.getContext('2d')
  if (!context || !canvas.value || !width.value) return
  const ratio = pixelRatio.value
  canvas.value.width = Math.round(width.value * ratio)
  canvas.value.height = Math.round(HEIGHT * ratio)
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  const [low, high] = bounds.value
  context.fillStyle = jewel(props.index, theme.value)
  for (const { place, count, group } of groups.value) {
    context.globalAlpha = place < low - 1e-6 || place > high + 1e-6 || stays.value ? 0.25 : 1
    diamond(context, x(place), 8 + ((group * 7) % LINES) * 8, Math.min(5.5, 2.6 + 0.5 * Math.log2(count)))
  }
  context.globalAlpha = 1
  context.fillStyle = groundOf(theme.value).line
  context.fillRect(EDGE, HEIGHT - 16, width.value - 2 * EDGE, 1)
}
watch(() => [groups.value, width.value, bounds.value, stays.value, theme.value, pixelRatio.value], paint, {
  flush: 'post', immediate: true,
})

/** The mark under the pointer, whose steps are seen beside it before it is heard. */
const near = ref(-1)
const seen = computed(() => {
  const mark = props.strip.marks[near.value]
  if (!mark?.hits.length) return null
  const cell = Math.min(PICTURE.cell, PICTURE.widest / props.steps)
  const wide = cell * props.steps + 8
  const left = Math.min(width.value - wide, Math.max(0, x(at.value[near.value] ?? 0) - wide / 2))
  return { cell, wide, left, hits: new Set(mark.hits) }
})

const dragged = ref<'hand' | 0 | 1 | null>(null)
const point = useDebounceFn((mark: number) => {
  if (inside && dragged.value === null) cuttings.point(mark < 0 ? null : { lane: props.strip.lane, mark })
}, POINTING_MS)
let inside = false
function press(event: PointerEvent, what: 'hand' | 0 | 1): void {
  if (event.button !== 0 || (what === 'hand' && stays.value)) return
  area.value?.setPointerCapture(event.pointerId)
  dragged.value = what
  near.value = -1
  cuttings.point(null)
  if (what === 'hand') drag(event)
}
function drag(event: PointerEvent): void {
  const place = placeOf(event)
  if (dragged.value === null) {
    inside = true
    // Only a mark that is near the pointer is pointed at.
    const mark = nearest(at.value, place, bounds.value)
    near.value = !stays.value && event.pointerType === 'mouse' && Math.abs(x(at.value[mark] ?? -9) - x(place)) < 9
      ? mark
      : -1
    void point(near.value)
  } else if (dragged.value === 'hand') {
    const mark = nearest(at.value, place, bounds.value)
    if (mark !== now.value) cuttings.moveTo(props.strip.lane, mark)
  } else setBound(dragged.value, place)
}
function release(): void {
  dragged.value = null
}
function leave(): void {
  inside = false
  near.value = -1
  if (dragged.value === null) cuttings.point(null)
}
function setBound(which: 0 | 1, place: number): void {
  const [low, high] = bounds.value
  cuttings.setBrackets(props.strip.lane, which === 0 ? [Math.max(0, Math.min(place, high)), high] : [
    low, Math.min(1, Math.max(place, low)),
  ])
}
const STEP = 0.02
function boundKey(event: KeyboardEvent, which: 0 | 1): void {
  const by = { ArrowLeft: -STEP, ArrowRight: STEP, ArrowDown: -STEP, ArrowUp: STEP }[event.key]
  if (by === undefined) return
  event.preventDefault()
  event.stopPropagation()
  setBound(which, (bounds.value[which] ?? 0) + by)
}
function key(event: KeyboardEvent): void {
  const by = { ArrowLeft: -1, ArrowRight: 1, PageDown: -10, PageUp: 10, Home: -1e6, End: 1e6 }[event.key]
  if (by === undefined || event.ctrlKey || event.metaKey || event.altKey) return
  event.preventDefault()
  event.stopPropagation()
  emit('walk', event.shiftKey ? 10 * by : by)
}
</script>

<template>
  <div
    ref="area" class="strip" :class="{ stays }" :style="{ height: `${HEIGHT}px` }"
    @pointerdown="(event) => press(event, 'hand')" @pointermove="drag" @pointerup="release" @pointercancel="release"
    @pointerleave="leave"
  >
    <canvas ref="canvas" aria-hidden="true" :style="{ width: `${width}px`, height: `${HEIGHT}px` }" />
    <span
      v-for="which in ([0, 1] as const)" :key="which" class="bracket" :class="which ? 'upper' : 'lower'" role="slider"
      tabindex="0"
      :aria-label="`${which ? 'Upper' : 'Lower'} bracket of ${name}`" aria-valuemin="0" aria-valuemax="100"
      :aria-valuenow="Math.round(100 * bounds[which])"
      :style="{ left: `${x(bounds[which])}px` }" @pointerdown.stop="(event) => press(event, which)"
      @keydown="(event) => boundKey(event, which)"
    />
    <span
      class="hand" :class="{ moved: now >= 0 }" role="slider" tabindex="0" :aria-label="`Relatives of ${name}`"
      aria-valuemin="0"
      :aria-valuemax="strip.marks.length" :aria-valuenow="now + 1" :aria-valuetext="told"
      :aria-disabled="stays || undefined"
      :style="{ left: `${x(hand)}px` }" @keydown="key"
    ><i /></span>
    <svg v-if="seen" class="seen" :width="seen.wide" height="20" :style="{ left: `${seen.left}px` }" aria-hidden="true">
      <path
        v-for="step in steps" :key="step" :class="{ hit: seen.hits.has(step - 1) }"
        :transform="`translate(${5 + (step - 1) * seen.cell} 16)`"
        :d="seen.hits.has(step - 1) ? `M0 0V-12Q${seen.cell * 0.2} -2 ${seen.cell} 0Z` : 'M0 -2L2 0L0 2L-2 0Z'"
      />
    </svg>
    <span class="end">{{ ends[0] }}</span><span class="end last">{{ ends[1] }}</span>
  </div>
</template>

<style scoped>
.strip {
  position: relative; cursor: ew-resize; touch-action: pan-y; background: var(--card); border-radius: 6px; min-width: 0;
}
.strip.stays { cursor: default; }
canvas { position: absolute; inset: 0; border-radius: 6px; }
.seen {
  position: absolute; bottom: calc(100% - 4px); z-index: 2; pointer-events: none; background: var(--card);
  border: 1px solid var(--lane); border-radius: 4px;
}
.seen path { fill: var(--rule); }
.seen .hit { fill: var(--lane); }
.bracket { position: absolute; top: 1px; height: 39px; width: 24px; cursor: col-resize; }
.bracket::before { content: ''; position: absolute; inset: 2px 0; width: 8px; border: 1.5px solid var(--ink); }
/* Beside what the hand can be taken by, drawn at their places. */
.lower { transform: translateX(-34px); }
.lower::before { left: auto; right: -10px; border-right: 0; }
.upper { transform: translateX(10px); }
.upper::before { left: -10px; border-left: 0; }
.hand {
  position: absolute; top: 0; height: 40px; width: 2px; margin-left: -1px; background: var(--quiet); border-radius: 1px;
}
.hand.moved { background: var(--ink); }
.hand i {
  position: absolute; left: -5px; top: 14px; width: 12px; height: 12px; rotate: 45deg; background: var(--card);
  border: 2px solid var(--quiet);
}
.hand.moved i { background: var(--lane); border-color: var(--ink); }
.stays .hand { opacity: 0.5; }
.end {
  position: absolute; left: 8px; bottom: 1px; font-size: 11.5px; line-height: 13px; color: var(--quiet);
  pointer-events: none;
}
.last { left: auto; right: 8px; }
</style>
