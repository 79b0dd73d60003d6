<script setup lang="ts">
/** A small picture of notes: a row a lane, a mark a note, as tall as it is loud. */
import { computed } from 'vue'
import type { Thumb } from '@/api/client'
import { jewel } from './colours'
import { useThemeName } from './theme'

const props = defineProps<{ thumb: Thumb; lanes?: string[] }>()
const { name } = useThemeName()

const rows = computed(() => {
  const count = Math.max(props.thumb.lanes.length, 1)
  const tall = 36 / count
  // Wedges grow thinner where there are many of them.
  const most = Math.max(1, ...props.thumb.lanes.map((lane) => lane.notes.length))
  const wide = Math.min(4, Math.max(1.4, 60 / most))
  return props.thumb.lanes.map((lane, index) => {
    const known = props.lanes?.indexOf(lane.id) ?? -1
    const marks = lane.notes
      .map(([at, velocity]) => {
        const height = Math.max(0.8, (velocity / 127) * tall * 0.92)
        return `M${(at * 120).toFixed(2)} ${((index + 1) * tall - height).toFixed(2)}v${height.toFixed(2)}h${wide}z`
      })
      .join('')
    return { marks, colour: jewel(known >= 0 ? known : index, name.value), id: lane.id }
  })
})
</script>

<template>
  <svg class="thumb" viewBox="0 0 122 36" preserveAspectRatio="none" aria-hidden="true">
    <path v-for="row in rows" :key="row.id" :d="row.marks" :fill="row.colour" />
  </svg>
</template>

<style scoped>
.thumb { display: block; width: 100%; height: 100%; }
</style>
