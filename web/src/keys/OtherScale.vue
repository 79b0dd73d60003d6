<script setup lang="ts">
/** Another scale under a lane, all throws as they are: tried, held against the one that stands, and taken. */
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import type { Edit } from '@/api/client'
import { usePattern } from '@/pattern/pattern'

const pattern = usePattern()
const thrown = ref(-1)
const side = ref<'A' | 'B'>('A')
const edit = computed<Edit[]>(() => (pattern.chosen && thrown.value >= 0
  ? [{ do: 'another_scale', lane: pattern.chosen, throw: thrown.value }] : []))
function hear(which: 'A' | 'B'): void {
  side.value = which
  void pattern.preview(which === 'B' ? edit.value : [])
}
function another(): void {
  thrown.value += 1
  hear('B')
}
async function take(): Promise<void> {
  const taken = edit.value
  forget()
  await pattern.commit(taken)
}
function forget(): void {
  if (side.value === 'B') void pattern.preview([])
  thrown.value = -1
  side.value = 'A'
}
watch(() => [pattern.id, pattern.chosen], forget)
onBeforeUnmount(forget)
</script>

<template>
  <span class="scales" role="group" aria-label="Another scale">
    <button type="button" class="plain tool" title="The same draws over another scale" @click="another">another scale</button>
    <template v-if="thrown >= 0">
      <button type="button" class="plain tool" :aria-pressed="side === 'A'" title="As it stands" @click="hear('A')">A</button>
      <button type="button" class="plain tool" :aria-pressed="side === 'B'" title="The other scale"
        @click="hear('B')">B</button>
      <button type="button" class="plain tool" @click="take">take B</button>
    </template>
  </span>
</template>

<style scoped>
.scales { display: flex; gap: 4px; }
</style>
