<script setup lang="ts">
/** A lane's own recording: what of it is heard, its beginning and end dragged, or stepped by milliseconds. */
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue'
import type { Edit } from '@/api/client'
import { useEscape } from '@/app/useEscape'
import { hold } from '@/app/hand'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'
import { recordingSamples, type Recording } from '@/drum/recordings'
import { snapped, waveOf, type Wave } from './wave'

const props = defineProps<{ lane: string; own: Recording }>()
const pattern = usePattern()
const player = usePlayer()
const HEIGHT = 40
const SNAP_PIXELS = 7
const LEAST_MS = 1
const wave = shallowRef<Wave | null>(null)
watch(() => props.own.file, async (file) => {
  wave.value = null
  const samples = await recordingSamples(file).catch(() => null)
  if (samples && props.own.file === file) wave.value = waveOf(samples.getChannelData(0), samples.sampleRate)
}, { immediate: true })

/** Both ends, in percent, as they are held. */
const held = ref<[number, number] | null>(null)
watch(() => [props.own.start, props.own.end], () => (held.value = dragging === null ? null : held.value))
const ends = computed<[number, number]>(() => held.value ?? [props.own.start ?? 0, props.own.end ?? 100])
const NAMES = ['Beginning of the sound', 'End of the sound'] as const
const ms = (percent: number) => ((wave.value?.length ?? 0) * percent) / 100
const told = (percent: number) => `${Math.round(ms(percent)).toLocaleString('en')} ms`
const path = computed(
  () => (wave.value?.peaks ?? []).map(
    (peak, i) => `M${i + 0.5} ${(HEIGHT * (1 - peak)) / 2}v${Math.max(1, HEIGHT * peak)}`,
  ).join(''),
)

const box = useTemplateRef<HTMLElement>('box')
let dragging: 0 | 1 | null = null
const edit = ([start, end]: [number, number]): Edit[] => [{ do: 'trim', lane: props.lane, start, end }]
function set(which: 0 | 1, at: number): void {
  const least = wave.value ? (100 * LEAST_MS) / wave.value.length : 1
  const [start, end] = ends.value
  held.value = which
    ? [start, Math.min(100, Math.max(start + least, at))]
    : [Math.max(0, Math.min(end - least, at)), end]
  void pattern.preview(edit(held.value))
}
function store(): void {
  if (!held.value) return
  void pattern.commit(edit(held.value)).then((taken) => {
    held.value = null
    if (taken) player.hearChange()
  })
}
function take(event: PointerEvent, which: 0 | 1): void {
  dragging = which
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent): void {
  const area = box.value?.getBoundingClientRect()
  if (dragging === null || !area || !wave.value) return
  const wanted = ((event.clientX - area.left) / area.width) * wave.value.length
  const at = event.altKey ? wanted : snapped(wanted, wave.value, (SNAP_PIXELS / area.width) * wave.value.length)
  set(dragging, (100 * at) / wave.value.length)
}
function release(): void {
  if (dragging !== null) store()
  dragging = null
}
useEscape(() => dragging !== null, () => {
  dragging = null
  held.value = null
  void pattern.preview([])
})
function key(event: KeyboardEvent, which: 0 | 1): void {
  const by = { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1, PageDown: -10, PageUp: 10 }[event.key]
  if (by === undefined || !wave.value || event.ctrlKey || event.metaKey || event.altKey) return
  set(which, ends.value[which] + (100 * by) / wave.value.length)
  hold(event.currentTarget as HTMLElement, store)
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div v-if="wave" ref="box" class="wave" role="group" aria-label="The sound"
    title="Drag its beginning and its end; they snap to where it is struck, but with Alt">
    <svg :viewBox="`0 0 ${wave.peaks.length} ${HEIGHT}`" preserveAspectRatio="none" aria-hidden="true"><path
      :d="path" /></svg>
    <span class="unheard" :style="{ left: 0, width: `${ends[0]}%` }" />
    <span class="unheard" :style="{ left: `${ends[1]}%`, right: 0 }" />
    <span
      v-for="which in ([0, 1] as const)" :key="which" class="end" role="slider" tabindex="0" :aria-label="NAMES[which]"
      :aria-valuenow="Math.round(ms(ends[which]))" aria-valuemin="0" :aria-valuemax="Math.round(wave.length)"
      :aria-valuetext="told(ends[which])"
      data-press="alt" data-press-words="wherever it is"
      :class="{ last: which }" :style="{ left: `${ends[which]}%` }" @pointerdown.prevent="take($event, which)"
      @pointermove="drag" @pointerup="release" @pointercancel="release" @keydown="key($event, which)"
    ><span class="told">{{ told(ends[which]) }}</span></span>
  </div>
</template>

<style scoped>
.wave {
  position: relative; height: 40px; flex: none; margin: 4px 12px 2px; background: var(--paper); border-radius: 6px;
  touch-action: none;
}
svg { width: 100%; height: 100%; display: block; }
path { stroke: var(--lane); stroke-width: 1; }
.unheard { position: absolute; top: 0; bottom: 0; background: var(--card); opacity: 0.75; pointer-events: none; }
.end { position: absolute; top: -2px; bottom: -2px; width: 24px; margin-left: -12px; cursor: ew-resize; }
.end::before { content: ''; position: absolute; inset: 0 11px; background: var(--ink); }
.end:focus-visible::before { outline: 2px solid var(--ink); outline-offset: 2px; }
.told {
  position: absolute; bottom: 0; left: 15px; font: 500 11px/14px 'Figtree Variable', sans-serif; white-space: nowrap;
  color: var(--ink); background: color-mix(in srgb, var(--card) 80%, transparent); padding: 0 3px;
}
.last .told { left: auto; right: 15px; }
</style>
