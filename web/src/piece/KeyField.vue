<script setup lang="ts">
/** The key of the piece: root and scale, the same words as in a sentence. */
import { computed } from 'vue'
import { usePattern } from '@/pattern/pattern'
import { slotsOf } from '@/pattern/slots'
import SentenceWord from '@/sentence/SentenceWord.vue'

const pattern = usePattern()
const words = computed(() => slotsOf((pattern.view?.sentence.clauses ?? []).filter(({ id }) => id === 'key')))
const edit = (slot: string, value: unknown) => [{ do: 'set' as const, lane: null, slot, value, also: [] }]
</script>

<template>
  <span class="key" role="group" aria-label="Key">
    <SentenceWord
      v-for="each in words" :key="each.slot" :slotted="each"
      @preview="(value) => pattern.preview(edit(each.slot, value))"
      @settle="(value) => pattern.say(edit(each.slot, value))" @forget="pattern.preview([])"
    />
  </span>
</template>

<style scoped>
.key { --lane: #f2bd4b; display: flex; align-items: baseline; gap: 6px; font-size: 16px; max-width: 250px; }
.key :deep(.word) { overflow: hidden; text-overflow: ellipsis; }
@media (pointer: coarse) {
  .key { gap: 14px; margin: 0 14px; }
  .key :deep(.word) { overflow: visible; }
}
.key :deep(.typing) { color: #2b2240; background: #fff; }
</style>
