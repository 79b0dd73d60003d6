<script setup lang="ts">
/** What is chosen, in words: one note with all that it is, or what several have in common. */
import { computed } from 'vue'
import { useSession } from '@/session/session'
import { useClip } from './clip'
import { barAndBeat, notesCalled } from './told'

const clip = useClip()
const session = useSession()
const notes = computed(() => clip.marked.map((place) => clip.view?.notes[place]).filter((note) => note !== undefined))
const lanes = computed(
  () => [
    ...new Set(notes.value.map((note) => note[4])),
  ].map((row) => clip.view?.lanes[row]).filter((lane) => lane !== undefined),
)
const span = (values: number[], unit = '') => {
  const [low, high] = [Math.min(...values), Math.max(...values)]
  return low === high ? `${low}${unit}` : `${low} to ${high}${unit}`
}
/** How far a note stands from the grid, in milliseconds. */
const off = computed(() => {
  const note = notes.value[0]
  if (!note || notes.value.length > 1 || !clip.view) return ''
  const beats = note[0] - Math.round(note[0] / clip.step) * clip.step
  const milliseconds = Math.round((beats * 60_000) / clip.view.tempo)
  return milliseconds === 0 ? 'on the grid' : `${Math.abs(milliseconds)} ms ${milliseconds > 0 ? 'late' : 'early'}`
})
const told = computed(() => {
  const { view } = clip
  if (!view || !notes.value.length) return null
  const pitches = notes.value.map((note) => note[2])
  const [first] = notes.value
  const names = lanes.value.length === 1 && first && new Set(pitches).size <= 4
    ? notesCalled(view, first[4], pitches, session.drums) : `${new Set(pitches).size} pitches`
  const { bar, beat } = barAndBeat(view, first?.[0] ?? 0)
  const tunes = notes.value.map((note) => note[5])
  const tuned = tunes.some(Boolean) ? `, tuned ${span(tunes)}` : ''
  const beats = (value: number) => Number(value.toFixed(3))
  return {
    head: lanes.value.map(({ name }) => name).join(', '),
    at: notes.value.length === 1 ? `at ${bar}.${beat}` : `${notes.value.length} notes`,
    words: `${names}, velocity ${span(notes.value.map((note) => note[3]))}, lasting ${span(notes.value.map((note) => beats(note[1])))} beats${tuned}${off.value ? `, ${off.value}` : ''}.`,
  }
})
const remove = () => void clip.commit([{ do: 'remove_notes', notes: clip.chosen }])
</script>

<template>
  <div class="told pane">
    <template v-if="told">
      <h3>{{ told.head }} <span class="quiet">{{ told.at }}</span></h3>
      <p class="sentence">{{ told.words }}</p>
      <div class="acts">
        <button type="button" class="plain act" @click="remove">delete</button>
        <button type="button" class="plain act" @click="clip.choose([])">choose nothing</button>
      </div>
    </template>
    <p v-else class="quiet hint">
      Nothing is chosen: tools work on all of it. Take a note by its body to move it, by its tip for its velocity, by its end for its length;
      with Alt freely, with Ctrl a copy. Drag over the ruler to go round there.
    </p>
  </div>
</template>

<style scoped>
.told {
  width: 330px; flex: none; border-left: 1px solid var(--rule); padding: 8px 16px; display: flex;
  flex-direction: column; gap: 5px; overflow-y: auto;
}
h3 { font-size: 15px; line-height: 1.25; }
h3 .quiet { font-family: 'Figtree Variable', sans-serif; font-size: 13px; font-weight: 500; }
.sentence { font-size: 15px; line-height: 1.4; }
.hint { font-size: 13px; line-height: 1.45; }
.acts { display: flex; gap: 6px; margin-top: auto; }
.act { font-size: 12px; line-height: 20px; border: 1px solid var(--rule); border-radius: 10px; padding: 0 9px; }
@media (max-width: 900px) { .told { width: auto; border-left: 0; border-top: 1px solid var(--rule); } }
</style>
