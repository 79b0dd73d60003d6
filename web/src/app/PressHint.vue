<script setup lang="ts">
/** Above a finger that holds on: what its long press does. */
import { heldBy } from './longPress'
</script>

<template>
  <span v-if="heldBy?.words" class="hint" aria-hidden="true"
    :style="{ left: `${heldBy.x}px`, top: `${Math.max(8, heldBy.y - 64)}px` }">{{ heldBy.words }}</span>
</template>

<style scoped>
.hint {
  position: fixed; z-index: 3000; transform: translateX(-50%); pointer-events: none; white-space: nowrap;
  background: var(--night); color: #f6ecd6; border-radius: 12px; padding: 3px 12px; font-size: 14px;
}
</style>
