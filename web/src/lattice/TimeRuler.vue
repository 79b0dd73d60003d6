<script setup lang="ts">
/** Bars and beats over the lattice; dragging over a stretch makes the chosen lane roll there. */
import { computed, ref, useTemplateRef } from 'vue'
import { useEscape } from '@/app/useEscape'
import { labelledBars } from '@/pattern/cells'
import { usePattern } from '@/pattern/pattern'

const props = defineProps<{ start: number; span: number }>()
const pattern = usePattern()
const box = useTemplateRef<HTMLElement>('box')
/** A stretch begins and ends on quarters of a beat. */
const GRID = 4

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

const drag = ref<{ from: number; to: number } | null>(null)
const stretch = computed(() => {
  if (!drag.value) return null
  const [a, b] = [Math.min(drag.value.from, drag.value.to), Math.max(drag.value.from, drag.value.to)]
  return { from: Math.floor(a * GRID + 0.01), to: Math.ceil(b * GRID - 0.01) }
})
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
  const chosen = stretch.value
  const far = drag.value && Math.abs(drag.value.to - drag.value.from) > 0.1
  drag.value = null
  if (!chosen || !far || !pattern.chosen) return
  const frame = Math.round(pattern.frame * GRID)
  const where = { start: `${chosen.from % frame}/${GRID}`, beats: `${chosen.to - chosen.from}/${GRID}` }
  void pattern.commit([pattern.chosen, ...pattern.also].map((lane) => ({ do: 'roll_stretch', lane, ...where })))
}
</script>

<template>
  <div
    ref="box" class="ruler" :title="`Drag over a stretch: ${pattern.lane?.name ?? 'the lane'} rolls there`"
    @pointerdown="press" @pointermove="move" @pointerup="release" @pointercancel="drag = null"
  >
    <div
      v-if="stretch" class="stretch" :style="{
        left: `${((stretch.from / GRID - start) / span) * 100}%`, width: `${((stretch.to - stretch.from) / GRID / span) * 100}%`,
      }"
    />
    <span
      v-for="label in labels" :key="label.text" :class="{ strong: label.strong }" :style="{ left: `${label.left}%` }"
    >{{ label.text }}</span>
  </div>
</template>

<style scoped>
.ruler { position: relative; font-size: 12px; color: var(--quiet); cursor: col-resize; touch-action: none; user-select: none; }
span { position: absolute; transform: translateX(-50%); font-variant-numeric: tabular-nums; }
span:first-of-type { transform: none; }
.strong { font-weight: 700; color: var(--ink); }
.stretch { position: absolute; top: 0; bottom: 2px; background: var(--lamp); opacity: 0.6; border-radius: 4px; }
</style>
