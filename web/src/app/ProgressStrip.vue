<script setup lang="ts">
/** What takes long, how far it is, and Stop. */
import { useProgress } from './progress'

const progress = useProgress()
</script>

<template>
  <div v-if="progress.work" class="strip" role="status" data-progress>
    <span>{{ progress.work.what }}<template
      v-if="progress.work.of">: {{ progress.work.done + 1 }} of {{ progress.work.of }}</template></span>
    <progress :value="progress.work.of ? progress.work.done : undefined" :max="progress.work.of || undefined"
      :aria-label="progress.work.what" />
    <button type="button" class="plain" @click="progress.work.stop">Stop</button>
  </div>
</template>

<style scoped>
.strip {
  position: fixed; z-index: 3000; left: 50%; bottom: 16px; transform: translateX(-50%); display: flex;
  align-items: center; gap: 14px; padding: 8px 16px; border-radius: 20px; background: var(--ink); color: var(--paper);
  font-size: 14px; box-shadow: 0 4px 18px #0004;
}
progress { width: 140px; accent-color: #f2bd4b; }
button { font-weight: 700; text-decoration: underline; text-underline-offset: 3px; color: inherit; }
</style>
