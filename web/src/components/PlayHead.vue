<script setup lang="ts">
/** The line where the sound is now; a component of its own, since it moves with every frame. */
import { computed } from 'vue'
import { usePlayer } from '@/sound/player'

const props = defineProps<{ left: number; width: number; start: number; span: number }>()
const player = usePlayer()
const share = computed(() => (player.beat - props.start) / props.span)
const shown = computed(() => player.playing && share.value >= 0 && share.value <= 1)
const place = computed(() => `translateX(${props.left + share.value * props.width}px)`)
</script>

<template>
  <div v-show="shown" class="playhead" :style="{ transform: place }" />
</template>

<style scoped>
.playhead { position: absolute; top: 0; bottom: 4px; left: 0; width: 2px; background: var(--ink); pointer-events: none; will-change: transform; }
</style>
