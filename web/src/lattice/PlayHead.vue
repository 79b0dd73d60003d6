<script setup lang="ts">
/**
 * The line where the sound is now. It is set going at each turn of the page, of the tempo or of the pass,
 * and then moved by the browser itself, however busy the page is.
 */
import { usePreferredReducedMotion } from '@vueuse/core'
import { computed, useTemplateRef, watchEffect } from 'vue'
import { usePlayer } from '@/sound/player'

const props = defineProps<{ left: number; width: number; start: number; span: number }>()
const player = usePlayer()
const motion = usePreferredReducedMotion()
const line = useTemplateRef<HTMLElement>('line')
const shown = computed(() => player.mark !== null)
/** Where less motion is wanted, the line goes from beat to beat. */
const beat = computed(() => (motion.value === 'reduce' ? Math.floor(player.beat + 1e-6) : null))
const place = (at: number) => `translateX(${props.left + ((at - props.start) / props.span) * props.width}px)`

watchEffect(
  (stopped) => {
    const { mark } = player
    if (!line.value || !mark) return
    const from = beat.value ?? player.beatNow()
    const to = beat.value ?? props.start + props.span
    const milliseconds = Math.max(0, (60_000 * (to - from)) / mark.tempo)
    const moving = line.value.animate([{ transform: place(from) }, { transform: place(to) }], {
      duration: milliseconds, fill: 'both',
    })
    stopped(() => moving.cancel())
  },
  { flush: 'post' },
)
</script>

<template>
  <div v-show="shown" ref="line" class="playhead" />
</template>

<style scoped>
.playhead {
  position: absolute; top: 0; bottom: 4px; left: 0; width: 2px; background: var(--ink); pointer-events: none;
  will-change: transform;
}
</style>
