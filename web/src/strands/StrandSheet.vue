<script setup lang="ts">
/** All strands of a lane, one beneath the other: each with its values, its length, how it is read, and dice. */
import { computed } from 'vue'
import type { Strand } from '@/api/client'
import { jewel } from '@/app/colours'
import { useThemeName } from '@/app/theme'
import { useReturnFocus } from '@/app/useReturnFocus'
import { usePattern } from '@/pattern/pattern'
import StrandLine from './StrandLine.vue'

const props = defineProps<{ strands: Strand[]; lane: string; name: string; size: number }>()
const pattern = usePattern()
const { name: theme } = useThemeName()
/** The sheet lies outside of the lane's words, and takes their colour along. */
const colour = computed(
  () => jewel(Math.max(0, pattern.view?.lanes.findIndex(({ id }) => id === props.lane) ?? 0), theme.value),
)
const open = defineModel<boolean>({ required: true })
useReturnFocus(open)
</script>

<template>
  <v-dialog v-model="open" max-width="1180" scrollable :aria-label="`All strands of ${name}`">
    <v-card :title="`Strands of ${name}`">
      <v-card-text class="sheet" :style="{ '--lane': colour }">
        <StrandLine v-for="strand in strands" :key="strand.kind" :strand="strand" :lane="lane"
          :size="strand.kind === 'degree' ? size : null" />
      </v-card-text>
      <v-card-actions><v-spacer /><v-btn @click="open = false">Close</v-btn></v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.sheet { display: flex; flex-direction: column; gap: 4px; }
</style>
