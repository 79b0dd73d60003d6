<script setup lang="ts">
/** The tempo: dragged, typed, stepped, or tapped. */
import { ref } from 'vue'
import type { Slot } from '@/api/client'
import { usePattern } from '@/pattern/pattern'
import SentenceWord from '@/sentence/SentenceWord.vue'

const props = defineProps<{ tempo: Slot }>()
const pattern = usePattern()
const taps = ref<number[]>([])
const LONGEST_PAUSE = 2500

const edit = (value: unknown) => [{ do: 'pattern' as const, field: 'tempo' as const, value: value as number }]

/** The tempo of the last taps, once there are two. */
function tap(): void {
  const now = performance.now()
  const last = taps.value.at(-1)
  taps.value = last === undefined || now - last > LONGEST_PAUSE ? [now] : [...taps.value.slice(-7), now]
  const first = taps.value[0]
  if (first === undefined || taps.value.length < 3) return
  const tapped = Math.round((60000 * (taps.value.length - 1)) / (now - first))
  if (tapped >= Number(props.tempo.low) && tapped <= Number(props.tempo.high)) void pattern.commit(edit(tapped))
}
</script>

<template>
  <span class="tempo">
    <SentenceWord
      :slotted="tempo" @preview="(value) => pattern.preview(edit(value))"
      @settle="(value) => pattern.say(edit(value))" @forget="pattern.preview([])"
    />
    <span class="unit">bpm</span>
    <v-btn size="x-small" aria-label="Tap the tempo" @click="tap">tap</v-btn>
  </span>
</template>

<style scoped>
.tempo { --lane: #f2bd4b; display: flex; align-items: baseline; gap: 4px; font-size: 18px; }
.tempo :deep(.typing) { color: #2b2240; background: #fff; width: 2.6em; padding: 0 2px; }
.unit { font-size: 13px; opacity: 0.85; }
</style>
