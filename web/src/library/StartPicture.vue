<script setup lang="ts">
/** Two bars of a starting recipe as small wedges, pitched ones at their height. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{ start: Schemas['ShownStart'] }>()
const WIDTH = 128
const HEIGHT = 34
const marks = computed(() => {
  const pitches = props.start.marks.map(([, , pitch]) => pitch)
  const low = Math.min(...pitches)
  const range = Math.max(1, Math.max(...pitches) - low)
  return props.start.marks.map(([at, velocity, pitch]) => {
    const tall = (velocity / 127) * (range > 1 ? 10 : HEIGHT - 8)
    const base = HEIGHT - 4 - (range > 1 ? ((pitch - low) / range) * (HEIGHT - 18) : 0)
    const x = at * WIDTH
    return `M${x} ${base}V${base - tall}Q${x + 1.5} ${base - 1} ${x + 6} ${base}Z`
  })
})
</script>

<template>
  <svg :width="WIDTH" :height="HEIGHT" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" aria-hidden="true">
    <rect x="0" y="0" :width="WIDTH" :height="HEIGHT" rx="6" class="ground" />
    <path v-for="x in [WIDTH / 4, WIDTH / 2, (3 * WIDTH) / 4]" :key="x" :d="`M${x} 0V${HEIGHT}`" class="beat" />
    <path :d="marks.join('')" class="marks" />
  </svg>
</template>

<style scoped>
.ground { fill: var(--paper); }
.beat { stroke: var(--rule); }
.marks { fill: var(--ink); }
</style>
