<script setup lang="ts">
/** Scatter: degrees at random within bounds; one press is one throw, and one undo. */
import { useLocalStorage } from '@vueuse/core'
import { ref, useTemplateRef } from 'vue'
import { useNotices } from '@/app/notices'
import { useReturnFocus } from '@/app/useReturnFocus'
import { STATED } from '@/generated/stated'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'

const props = defineProps<{ lanes: string[]; steps: number[] | null }>()
const pattern = usePattern()
const notices = useNotices()
const player = usePlayer()
const open = ref(false)
const box = useTemplateRef<{ $el: HTMLElement }>('box')
useReturnFocus(open)
const bounds = useLocalStorage<Record<keyof typeof STATED.scatter, number>>('jolly-scatter', { ...STATED.scatter })

async function scatter(): Promise<void> {
  const empty = Object.values(bounds.value).some((each) => typeof each !== 'number')
  if (empty) return notices.say('Each bound of scatter is a number; write the one that is missing.')
  const thrown = await pattern.commit(
    props.lanes.map((lane) => ({ do: 'scatter', lane, steps: props.steps, ...bounds.value })),
  )
  if (thrown) player.hearChange()
}
</script>

<template>
  <button type="button" class="plain tool" title="Degrees at random, within the bounds beside it"
    @click="scatter">scatter</button>
  <v-menu v-model="open" :close-on-content-click="false" @after-enter="box?.$el.querySelector('input')?.focus()">
    <template #activator="{ props: menu }">
      <button v-bind="menu" type="button" class="plain tool" aria-haspopup="dialog"
        aria-label="Bounds of scatter">bounds …</button>
    </template>
    <v-card ref="box" class="bounds" role="dialog" aria-label="Bounds of scatter">
      <form @submit.prevent="scatter">
        <label>degrees from <input v-model.number="bounds.low" type="number" min="-64" max="64" /></label>
        <label>to <input v-model.number="bounds.high" type="number" min="-64" max="64" /></label>
        <label>leaps up to <input v-model.number="bounds.leap" type="number" min="1" max="128" /></label>
        <label>share of the steps <input v-model.number="bounds.share" type="number" min="0" max="100" /> %</label>
        <label>chord tones on strong places <input v-model.number="bounds.chord" type="number" min="0"
          max="100" /> %</label>
        <button type="submit" class="plain tool">another throw</button>
      </form>
    </v-card>
  </v-menu>
</template>

<style scoped>
.tool { font-size: 12.5px; line-height: 20px; border: 1px solid var(--rule); border-radius: 10px; padding: 0 8px; }
.tool:hover { border-color: var(--ink); }
.bounds { padding: 12px 14px; font-size: 13.5px; }
.bounds form { display: grid; gap: 6px; justify-items: start; }
.bounds input {
  width: 4.6em; font: inherit; color: var(--ink); background: var(--paper); border: 1px solid var(--rule);
  border-radius: 5px; padding: 1px 5px;
}
</style>
