<script setup lang="ts">
/** A clause of a sentence, and what takes it away; its words are listened to as those of SaidWords are. */
import type { Sentence } from '@/api/client'
import SaidWords from './SaidWords.vue'

defineOptions({ inheritAttrs: false })
defineProps<{ clause: Sentence['clauses'][number] }>()
const emit = defineEmits<{ remove: [] }>()
</script>

<template>
  <span class="clause" :data-clause="clause.id"><SaidWords v-bind="$attrs" :parts="clause.parts" /><button
    v-if="clause.removable" type="button" class="plain remove" :aria-label="`Take away: ${clause.label}`"
    :title="`Take away: ${clause.label}`" @click="emit('remove')"
  ><span class="cross" aria-hidden="true">×</span></button></span>
</template>

<style scoped>
.clause { position: relative; }
.remove { position: absolute; margin: -5px 0 0 -3px; opacity: 0; z-index: 1; }
.cross {
  display: inline-block; width: 18px; height: 18px; line-height: 16px; border-radius: 9px; text-align: center;
  background: var(--ink); color: var(--card); font-family: 'Figtree Variable', sans-serif; font-size: 14px;
}
.clause:hover .remove, .remove:focus-visible { opacity: 1; }
@media (hover: none) { .remove { position: static; margin: 0 3px 0 0; opacity: 1; } }
@media (pointer: coarse) {
  .clause { line-height: 46px; }
  .remove { position: relative; margin: 0; vertical-align: middle; }
}
</style>
