<script setup lang="ts">
/** How something leaves as MIDI: the choices, remembered as soon as it can be done. */
import { computed, ref, watch } from 'vue'
import { exporting, PLAIN, type Exporting } from './exporting'

/** Why it cannot be done so; "": it can. */
const wrong = defineModel<string>('wrong', { required: true })
const draft = ref({ ...PLAIN, ticks: '960', exact: false })
function begin({ ticks, ...others }: Exporting): void {
  draft.value = { ...others, ticks: ticks === 'exact' ? String(PLAIN.ticks) : String(ticks), exact: ticks === 'exact' }
}
begin(exporting.value)
const problem = computed(() => {
  const number = Number(draft.value.ticks)
  if (!draft.value.exact && !(Number.isInteger(number) && number >= 24 && number <= 32767)) {
    return 'Ticks in a quarter note go from 24 to 32,767.'
  }
  if (!(Number.isInteger(draft.value.rounds) && draft.value.rounds >= 1 && draft.value.rounds <= 64)) {
    return 'Rounds go from 1 to 64.'
  }
  return ''
})
watch(problem, (now) => (wrong.value = now), { immediate: true })
watch(draft, ({ ticks, exact, ...others }) => {
  if (!problem.value) exporting.value = { ...others, ticks: exact ? 'exact' : Number(ticks) }
}, { deep: true })
defineExpose({ reset: () => begin(PLAIN) })
</script>

<template>
  <fieldset>
    <legend>Tracks</legend>
    <label><input v-model="draft.tracks" name="midi-tracks" type="radio" value="lanes" /> one for each lane</label>
    <label><input v-model="draft.tracks" name="midi-tracks" type="radio" value="merged" /> all in one</label>
    <label><input v-model="draft.tracks" name="midi-tracks" type="radio" value="files" /> each lane as a file, in a .zip</label>
  </fieldset>
  <fieldset>
    <legend>Format</legend>
    <label><input v-model.number="draft.format" name="midi-format" type="radio" :value="1" /> 1, several tracks</label>
    <label><input v-model.number="draft.format" name="midi-format" type="radio" :value="0" /> 0, a single track</label>
  </fieldset>
  <fieldset>
    <legend>Ticks in a quarter note</legend>
    <label><input v-model="draft.exact" name="midi-ticks" type="radio" :value="false" />
      <input v-model="draft.ticks" inputmode="numeric" class="number" aria-label="Ticks in a quarter note"
        :disabled="draft.exact" /></label>
    <label><input v-model="draft.exact" name="midi-ticks" type="radio"
      :value="true" /> exact: the fewest with which no place on the grid is rounded; swing and nudges are</label>
  </fieldset>
  <label class="row">Go round <input v-model.number="draft.rounds" type="number" min="1" max="64" class="number"
    aria-label="Times round" /> {{ draft.rounds === 1 ? 'time' : 'times' }}</label>
  <label class="row"><input v-model="draft.recipe"
    type="checkbox" /> let the recipe travel along, so that the lanes can come back</label>
</template>
