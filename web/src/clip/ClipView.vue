<script setup lang="ts">
/** The open clip, in place of the lattice: its rows, what can be done to its notes, and an overview of all of it. */
import { mdiClose } from '@mdi/js'
import { computed, ref, watch } from 'vue'
import ClipOverview from './ClipOverview.vue'
import ClipRows from './ClipRows.vue'
import ClipTools from './ClipTools.vue'
import NoteTold from './NoteTold.vue'
import { useClip } from './clip'
import { useClipKeys } from './useClipKeys'
import { many } from '@/app/many'

defineProps<{ name: string }>()
const emit = defineEmits<{ close: [] }>()
const clip = useClip()
const LEAST_SPAN = 0.5
/** The stretch of beats that is shown. */
const start = ref(0)
const span = ref(4)
const view = computed(() => clip.view)
const beats = computed(() => view.value?.beats ?? 4)
const about = computed(() => {
  if (!view.value) return ''
  const bars = Number(view.value.bars.toFixed(2))
  const notes = view.value.notes.length
  return [
    `${bars} bar${bars === 1 ? '' : 's'}`, many(notes, 'note'),
    clip.state?.shelved.of,
  ].filter(Boolean).join(' · ')
})

function look(from: number, wide: number): void {
  span.value = Math.min(Math.max(LEAST_SPAN, wide), Math.max(beats.value, LEAST_SPAN))
  start.value = Math.min(Math.max(0, from), Math.max(0, beats.value - span.value))
}
/** Closer (times < 1) or wider, about a beat, or about the middle. */
function zoom(times: number, about = start.value + span.value / 2): void {
  const share = (about - start.value) / span.value
  const wide = Math.min(Math.max(LEAST_SPAN, span.value * times), beats.value)
  look(about - share * wide, wide)
}
const whole = () => look(0, beats.value)
/** Bring a beat into sight. */
function show(beat: number): void {
  if (beat < start.value || beat > start.value + span.value * 0.97) look(beat - span.value / 4, span.value)
}
watch(() => clip.id, () => look(0, Math.min(beats.value, 8 * (view.value?.bar_beats ?? 4))), { immediate: true })
watch(beats, () => look(start.value, span.value))
useClipKeys({ zoom, show, close: () => emit('close') })
const GRIDS = ['1/4', '1/8', '1/12', '1/16', '1/20', '1/24', '1/32', '1/48', '1/64']
const chosenWords = computed(() => {
  const { length } = clip.chosen
  if (!length) return 'Drag over notes to choose them; two clicks on an empty place add one, two on a note take it away.'
  const lanes = new Set(clip.marked.map((place) => view.value?.notes[place]?.[4])).size
  return `${length === 1 ? 'One note' : `${length.toLocaleString('en')} notes`} of ${lanes === 1 ? 'one lane' : `${lanes} lanes`} chosen`
})
</script>

<template>
  <section v-if="view" class="clip pane" aria-label="Clip">
    <header>
      <h2 :title="name">{{ name }}</h2>
      <span class="quiet about">{{ about }}</span>
      <slot name="acts" />
      <v-btn size="small" :prepend-icon="mdiClose" @click="emit('close')">back to the pattern</v-btn>
    </header>
    <ClipRows :start="start" :span="span" class="grow" @look="look" @zoom="zoom" />
    <div class="line">
      <label>Grid <select v-model="clip.grid" class="pick" aria-label="Grid"><option v-for="each in GRIDS"
        :key="each">{{ each }}</option></select></label>
      <span class="which">{{ chosenWords }}</span>
      <button v-if="clip.round" type="button" class="plain act" @click="clip.round = null">no brackets</button>
      <button type="button" class="plain act" @click="zoom(0.5)">closer</button>
      <button type="button" class="plain act" @click="zoom(2)">wider</button>
      <button type="button" class="plain act" :class="{ all: span >= beats }" @click="whole">whole clip</button>
    </div>
    <section class="done pane" aria-label="What is done to the notes" data-region>
      <ClipTools />
      <NoteTold />
    </section>
    <ClipOverview :start="start" :span="span" @look="look" />
  </section>
</template>

<style scoped>
.clip { display: flex; flex-direction: column; gap: 6px; flex: 1; min-height: 0; min-width: 0; }
header { display: flex; align-items: center; gap: 14px; flex: none; padding: 0 4px; }
header h2 { font-size: 20px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; min-width: 60px; }
.about { font-size: 13px; flex: 1; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.grow { flex: 1; min-height: 120px; }
.line {
  display: flex; align-items: center; gap: 14px; font-size: 13px; color: var(--quiet); flex: none; padding: 0 4px;
}
.which { flex: 1; min-width: 0; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.pick {
  font: inherit; font-weight: 650; color: var(--ink); background: transparent; border: 0;
  border-bottom: 2px dotted var(--quiet);
}
.act:hover, .all { color: var(--ink); text-decoration: underline; text-underline-offset: 3px; }
.all { font-weight: 700; }
.done {
  display: flex; flex: none; background: var(--card); border: 1px solid var(--rule); border-radius: 12px; height: 156px;
}
@media (max-width: 900px) { .done { flex-direction: column; max-height: none; } header { flex-wrap: wrap; } }
</style>
