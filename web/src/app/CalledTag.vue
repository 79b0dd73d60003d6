<script setup lang="ts">
/** What is pointed at is called so: a tag beside the pointer, inside the box that it lies in. */
import { computed } from 'vue'

/** x, y: the pointer in the box; width, height: of the box; left: where the box begins in what holds the tag. */
const props = withDefaults(
  defineProps<{ words: string; x: number; y: number; width: number; height: number; left?: number }>(), { left: 0 },
)
const ROOM = 180
const place = computed(() => ({
  top: `${Math.min(Math.max(0, props.y - 24), props.height - 20)}px`,
  ...(props.x < props.width - ROOM ? { left: `${props.left + props.x + 14}px` } : {
    right: `${props.width - props.x + 10}px`,
  }),
}))
</script>

<template>
  <span class="called" aria-hidden="true" :style="place">{{ words }}</span>
</template>

<style scoped>
.called {
  position: absolute; pointer-events: none; white-space: nowrap; font-size: 12px; line-height: 18px; padding: 0 7px;
  border-radius: 9px; background: var(--ink); color: var(--card);
}
</style>
