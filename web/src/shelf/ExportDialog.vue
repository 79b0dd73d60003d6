<script setup lang="ts">
/** How clips leave as MIDI: the choices, remembered, and the file or archive. */
import { computed, ref, watch } from 'vue'
import { Refusal } from '@/api/client'
import { wasTried } from '@/app/firstMinute'
import { useNotices } from '@/app/notices'
import { useProgress } from '@/app/progress'
import { useReturnFocus } from '@/app/useReturnFocus'
import { saveFile } from '@/app/saveFile'
import { archiveAddress, ending, exporting, fileAddress, PLAIN, type Exporting } from './exporting'
import { useShelf } from './shelf'

const open = defineModel<boolean>({ required: true })
/** The clips that leave; none: all of the Shelf. */
const props = defineProps<{ clips: number[] }>()
const shelf = useShelf()
const notices = useNotices()
const progress = useProgress()
useReturnFocus(open)
/** What is being chosen: remembered as soon as it can be done. */
const draft = ref({ ...PLAIN, ticks: '960', exact: false })
function begin({ ticks, ...others }: Exporting): void {
  draft.value = { ...others, ticks: ticks === 'exact' ? String(PLAIN.ticks) : String(ticks), exact: ticks === 'exact' }
}
watch(open, (now) => now && begin(exporting.value))
const only = computed(() => (
  props.clips.length === 1 ? shelf.clips.find(({ id }) => id === props.clips[0]) : undefined
))
const count = computed(() => props.clips.length || shelf.clips.length)
const title = computed(() => (only.value ? `Send “${only.value.name}” as MIDI` : `Send ${count.value} clips as MIDI`))
const wrong = computed(() => {
  const number = Number(draft.value.ticks)
  if (!draft.value.exact && !(Number.isInteger(number) && number >= 24 && number <= 32767)) {
    return 'Ticks in a quarter note go from 24 to 32,767.'
  }
  if (!(Number.isInteger(draft.value.rounds) && draft.value.rounds >= 1 && draft.value.rounds <= 64)) {
    return 'Rounds go from 1 to 64.'
  }
  return ''
})
watch(draft, ({ ticks, exact, ...others }) => {
  if (!wrong.value) exporting.value = { ...others, ticks: exact ? 'exact' : Number(ticks) }
}, { deep: true })

async function send(): Promise<void> {
  const one = only.value
  const address = one ? fileAddress(one.id) : archiveAddress(shelf.piece, props.clips)
  const stopped = new AbortController()
  open.value = false
  progress.work = {
    what: count.value === 1 ? 'Writing a file' : `Writing ${count.value} clips`, done: 0, of: 0,
    stop: () => stopped.abort(),
  }
  try {
    const answer = await fetch(address, { signal: stopped.signal })
    if (!answer.ok) {
      throw new Refusal(
        ((await answer.json()) as { detail?: string }).detail ?? 'The server could not do that; try it once more.',
        answer.status,
      )
    }
    saveFile(
      await answer.blob(),
      one
        ? one.file.replace(/\.mid$/, ending.value)
        : /filename\*=UTF-8''([^;]+)/.exec(answer.headers.get('content-disposition') ?? '')?.[1] ?? 'clips.zip',
    )
    wasTried('take')
  } catch (problem) {
    if (stopped.signal.aborted) return
    notices.trouble(
      problem instanceof Refusal ? problem : new Refusal('The server is away; try it again in a moment.', 0),
    )
  } finally {
    progress.work = null
  }
}
</script>

<template>
  <v-dialog v-model="open" max-width="480" :aria-label="title">
    <v-card class="card">
      <h2>{{ title }}</h2>
      <form @submit.prevent="wrong || send()">
        <fieldset>
          <legend>Tracks</legend>
          <label><input v-model="draft.tracks" type="radio" value="lanes" /> one for each lane</label>
          <label><input v-model="draft.tracks" type="radio" value="merged" /> all in one</label>
          <label><input v-model="draft.tracks" type="radio" value="files" /> each lane as a file, in a .zip</label>
        </fieldset>
        <fieldset>
          <legend>Format</legend>
          <label><input v-model.number="draft.format" type="radio" :value="1" /> 1, several tracks</label>
          <label><input v-model.number="draft.format" type="radio" :value="0" /> 0, a single track</label>
        </fieldset>
        <fieldset>
          <legend>Ticks in a quarter note</legend>
          <label><input v-model="draft.exact" type="radio" :value="false" />
            <input v-model="draft.ticks" inputmode="numeric" class="number" aria-label="Ticks in a quarter note"
              :disabled="draft.exact" /></label>
          <label><input v-model="draft.exact" type="radio"
            :value="true" /> exact: the fewest with which no place on the grid is rounded; swing and nudges are</label>
        </fieldset>
        <label class="row">Go round <input v-model.number="draft.rounds" type="number" min="1" max="64" class="number"
          aria-label="Times round" /> {{ draft.rounds === 1 ? 'time' : 'times' }}</label>
        <label class="row"><input v-model="draft.recipe"
          type="checkbox" /> let the recipe travel along, so that the lanes can come back</label>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <v-card-actions>
          <button type="button" class="plain back" @click="begin(PLAIN)">as at first</button>
          <v-spacer />
          <v-btn @click="open = false">Cancel</v-btn>
          <v-btn type="submit" variant="flat" color="primary"
            :disabled="!!wrong">{{ only && ending === '.mid' ? 'MIDI file' : '.zip of MIDI files' }}</v-btn>
        </v-card-actions>
      </form>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.card { padding: 16px 20px 6px; }
h2 { font-size: 20px; margin-bottom: 6px; }
fieldset { border: 0; padding: 6px 0; display: grid; gap: 3px; border-bottom: 1px solid var(--rule); }
legend { font: 600 14px 'Fraunces Variable', serif; }
label { font-size: 14.5px; min-height: 24px; }
input[type='radio'] { margin-right: 8px; }
.row { display: block; padding-top: 8px; }
.number {
  width: 76px; font: inherit; color: var(--ink); background: var(--paper); border: 1px solid var(--rule);
  border-radius: 5px; padding: 1px 6px;
}
.wrong { color: rgb(var(--v-theme-error)); font-size: 13.5px; margin-top: 6px; }
.back { font-size: 13px; color: var(--link); }
</style>
