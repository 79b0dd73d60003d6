<script setup lang="ts">
/** A part of a file, small: a mark a note, as high as its pitch lies in the part, as wide as it lasts. */
import { computed } from 'vue'
import type { ClipView } from '@/api/client'
import { jewel } from '@/app/colours'
import { useThemeName } from '@/app/theme'

const props = defineProps<{ view: ClipView; row: number; place: number }>()
const { name: theme } = useThemeName()
const MOST = 3000
const marks = computed(() => {
  const notes = props.view.notes.filter((note) => note[4] === props.row).slice(0, MOST)
  const pitches = notes.map((note) => note[2])
  const low = Math.min(...pitches)
  const range = Math.max(1, Math.max(...pitches) - low)
  return notes.map(([start, length, pitch]) => {
    const x = (start / props.view.beats) * 240
    const wide = Math.max(0.8, (length / props.view.beats) * 240)
    return `M${x.toFixed(1)} ${(25 - ((pitch - low) / range) * 22).toFixed(1)}h${wide.toFixed(1)}v2.4h${(-wide).toFixed(1)}z`
  }).join('')
})
</script>

<template>
  <svg viewBox="0 0 240 30" preserveAspectRatio="none" aria-hidden="true"><path :d="marks"
    :fill="jewel(place, theme)" /></svg>
</template>

<style scoped>
svg { display: block; width: 100%; height: 30px; background: var(--paper); border-radius: 4px; }
</style>
