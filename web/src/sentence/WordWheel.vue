<script setup lang="ts">
/** What a word becomes as it is turned by a finger, above the finger that covers it: now, one more and one less. */
defineProps<{ x: number; y: number; more: string; now: string; less: string }>()
</script>

<template>
  <Teleport to="body">
    <span class="wheel" aria-hidden="true" :style="{ left: `${x}px`, top: `${Math.max(8, y - 150)}px` }">
      <span class="beside">{{ more }}</span><span class="now">{{ now }}</span><span class="beside">{{ less }}</span>
    </span>
  </Teleport>
</template>

<style scoped>
.wheel {
  position: fixed; z-index: 3000; transform: translateX(-50%); display: grid; justify-items: center; gap: 2px;
  background: var(--night); color: #f6ecd6; border-radius: 14px; padding: 6px 18px; pointer-events: none;
  min-width: 96px; max-width: 60vw; box-shadow: 0 3px 14px #0004;
}
.now { font: 650 26px/34px 'Source Serif 4 Variable', serif; color: #f2bd4b; }
.beside { font-size: 15px; line-height: 24px; opacity: 0.7; min-height: 24px; }
.wheel span { white-space: nowrap; overflow: hidden; text-overflow: ellipsis; max-width: 100%; }
</style>
