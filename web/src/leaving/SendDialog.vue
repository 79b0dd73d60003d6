<script setup lang="ts">
/** How something leaves, as MIDI or as sound: the choices, and the file or archive. */
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { ask, Refusal } from '@/api/client'
import { wasTried } from '@/app/firstMinute'
import { useNotices } from '@/app/notices'
import { useProgress } from '@/app/progress'
import { saveFile } from '@/app/saveFile'
import { useReturnFocus } from '@/app/useReturnFocus'
import { rowsOf, scored } from '@/wave/scored'
import { soundFile } from '@/wave/soundFile'
import { asSound, exporting, sendsAs } from './exporting'
import { leaving, type Leaving, type Taken } from './leaving'
import MidiChoices from './MidiChoices.vue'
import SoundChoices from './SoundChoices.vue'

const notices = useNotices()
const progress = useProgress()
const open = computed({ get: () => leaving.value !== null, set: (now) => now || (leaving.value = null) })
useReturnFocus(open)
const choices = useTemplateRef<{ reset: () => void }>('choices')
const wrong = ref('')
const taken = shallowRef<Taken | null>(null)
const as = computed(() => (leaving.value?.taken ? sendsAs.value : 'midi'))
const title = computed(() => (
  leaving.value?.clips === 1 ? `Send “${leaving.value.name}”` : `Send ${leaving.value?.clips ?? 0} clips`
))
const action = computed(() => {
  if (as.value === 'sound') return asSound.value.lanes ? '.zip of sound files' : 'Sound file'
  return leaving.value?.clips === 1 && exporting.value.tracks !== 'files' ? 'MIDI file' : '.zip of MIDI files'
})
watch([leaving, as], async ([now, kind]) => {
  wrong.value = ''
  taken.value = null
  if (!now?.taken || kind !== 'sound') return
  try {
    const found = await now.taken()
    if (leaving.value === now) taken.value = found
  } catch (problem) {
    if (leaving.value === now) wrong.value = problem instanceof Refusal ? problem.message : 'It cannot be had just now.'
  }
})
const score = computed(() => {
  const now = leaving.value
  return taken.value && now && scored(taken.value.view, asSound.value.rate, now.level, now.stretch ?? undefined)
})
/** How long it will be, and about how large. */
const size = computed(() => {
  if (!score.value) return 'looking at what there is …'
  const { frames, rate, notes } = score.value
  const files = asSound.value.lanes ? rowsOf(notes).length : 1
  const megabytes = (frames * asSound.value.bits * files) / 4 / 1e6
  const seconds = frames / rate
  const long = seconds < 90 ? `${seconds.toFixed(1)} seconds` : `${Math.floor(seconds / 60)} min ${Math.round(seconds % 60)} s`
  return `${long}${asSound.value.seamless ? '' : ' and what rings on'}, about ${megabytes.toFixed(megabytes < 10 ? 1 : 0)} MB`
})

function send(): void {
  const now = leaving.value
  if (!now || wrong.value) return
  void (as.value === 'sound' ? sendSound() : sendMidi(now))
  leaving.value = null
}
async function sendMidi(now: Leaving): Promise<void> {
  const stopped = new AbortController()
  progress.work = {
    what: now.clips === 1 ? 'Writing a file' : `Writing ${now.clips} clips`, done: 0, of: 0, stop: () => stopped.abort(),
  }
  try {
    const answer = now.midi({ ...exporting.value }, stopped.signal)
    const { response } = await answer
    const name = /filename\*=UTF-8''([^;]+)/.exec(response.headers.get('content-disposition') ?? '')?.[1]
    saveFile((await ask(answer)) as Blob, decodeURIComponent(name ?? 'clip.mid'))
    wasTried('take')
  } catch (problem) {
    if (!stopped.signal.aborted) notices.trouble(problem)
  } finally {
    progress.work = null
  }
}
async function sendSound(): Promise<void> {
  const { value: whole } = score
  const { value: files } = taken
  if (!whole || !files) return
  const wanted = { ...asSound.value }
  let stopped = false
  const at = (done: number, of: number) => {
    progress.work = { what: 'Rendering sound', done, of, stop: () => (stopped = true) }
  }
  at(0, 0)
  try {
    const made = await soundFile(whole, wanted, files.lane_files, { at, stopped: () => stopped })
    if (!made) return
    saveFile(made.blob, `${files.file}${wanted.lanes ? '.zip' : '.wav'}`)
    wasTried('take')
    if (made.softer > 0.05) {
      notices.say(`It is ${made.softer.toFixed(1)} dB softer than it is heard, so that no sample is cut.`)
    }
  } catch (problem) {
    notices.trouble(problem)
  } finally {
    progress.work = null
  }
}
</script>

<template>
  <v-dialog v-model="open" max-width="500" :aria-label="title">
    <v-card class="card">
      <h2>{{ title }}</h2>
      <form @submit.prevent="send">
        <div v-if="leaving?.taken" v-one-stop class="kinds" role="group" aria-label="What it leaves as">
          <button type="button" class="plain" :aria-pressed="as === 'midi'" @click="sendsAs = 'midi'">as MIDI</button>
          <button type="button" class="plain" :aria-pressed="as === 'sound'" @click="sendsAs = 'sound'">as sound</button>
        </div>
        <div class="choices">
          <SoundChoices v-if="as === 'sound'" ref="choices" />
          <MidiChoices v-else ref="choices" v-model:wrong="wrong" />
        </div>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <p v-else-if="as === 'sound'" class="quiet size" role="status">{{ size }}</p>
        <p v-if="leaving?.stretch && as === 'midi'"
          class="quiet size">As MIDI the whole clip leaves; as sound, what lies between the brackets.</p>
        <v-card-actions>
          <button type="button" class="plain back" @click="choices?.reset()">as at first</button>
          <v-spacer />
          <v-btn @click="open = false">Cancel</v-btn>
          <v-btn type="submit" variant="flat" color="primary"
            :disabled="!!wrong || (as === 'sound' && !score)">{{ action }}</v-btn>
        </v-card-actions>
      </form>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.card { padding: 16px 20px 6px; }
h2 { font-size: 20px; margin-bottom: 6px; }
.kinds { display: flex; gap: 20px; border-bottom: 1px solid var(--rule); }
.kinds button { font-size: 15px; padding: 2px 2px 5px; color: var(--quiet); border-bottom: 3px solid transparent; }
.kinds button[aria-pressed='true'] { color: var(--ink); font-weight: 650; border-color: var(--lamp); }
.choices :deep(fieldset) {
  border: 0; padding: 6px 0; display: grid; gap: 3px; border-bottom: 1px solid var(--rule);
}
.choices :deep(legend) { font: 600 14px 'Fraunces Variable', serif; }
.choices :deep(label) { font-size: 14.5px; min-height: 24px; }
.choices :deep(input[type='radio']) { margin-right: 8px; }
.choices :deep(.row) { display: block; padding-top: 8px; }
.choices :deep(.number) {
  width: 76px; font: inherit; color: var(--ink); background: var(--paper); border: 1px solid var(--rule);
  border-radius: 5px; padding: 1px 6px;
}
.wrong { color: rgb(var(--v-theme-error)); font-size: 13.5px; margin-top: 6px; }
.size { font-size: 13.5px; margin-top: 6px; }
.back { font-size: 13px; color: var(--link); }
</style>
