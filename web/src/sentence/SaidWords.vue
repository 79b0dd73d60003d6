<script setup lang="ts">
/** Text and words that can be changed, in turn: one clause, or a sentence that is said as a whole. */
import type { Shape, Slot } from '@/api/client'
import SentenceWord from './SentenceWord.vue'

/** onSettle: stores a value for a word; it, or what it promises, is false where that is refused. */
const props = defineProps<{ parts: (string | Slot)[]; onSettle?: (slot: string, value: unknown) => unknown }>()
const emit = defineEmits<{
  /** Try a value out for a word. */
  preview: [slot: string, value: unknown]
  /** Forget what was tried out. */
  forget: []
  /** Let a word follow a path. */
  path: [slot: string, shape: Shape | null, points: number[] | null, store: boolean]
}>()
</script>

<template>
  <template v-for="(part, i) in parts" :key="i">
    <template v-if="typeof part === 'string'">{{ part }}</template>
    <SentenceWord
      v-else :slotted="part" @preview="(value) => emit('preview', part.slot, value)"
      @settle="(value) => props.onSettle?.(part.slot, value)"
      @forget="emit('forget')" @path="(shape, points, store) => emit('path', part.slot, shape, points, store)"
    />
  </template>
</template>
