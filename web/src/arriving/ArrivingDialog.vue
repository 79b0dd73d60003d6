<script setup lang="ts">
/** What is in a MIDI file: its parts to choose from, seen and heard, and what it is to become. */
import { mdiPlay, mdiStop } from '@mdi/js'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useNotices } from '@/app/notices'
import { many } from '@/app/many'
import { usePiece } from '@/pieces/piece'
import { useSayAll } from '@/say/useSayAll'
import { useArriving, type Become } from './arriving'
import { useHearParts } from './useHearParts'
import PartPicture from './PartPicture.vue'

const arriving = useArriving()
const notices = useNotices()
const piece = usePiece()
const router = useRouter()
const { rows, hear, end } = useHearParts()
const { sayAll } = useSayAll()
const song = computed(() => arriving.song)
const open = computed({ get: () => song.value !== null, set: (now) => now || leave() })
const chosen = ref<number[]>([])
const first = ref(1)
const last = ref(1)
const shorter = ref(true)
const taking = ref(false)
watch(song, (now) => {
  end()
  if (!now) return
  chosen.value = now.parts.map((_, place) => place)
  first.value = 1
  last.value = now.bars
})
function leave(): void {
  end()
  arriving.end()
}
/** The rows of the view that a part has: its notes, and a row for each of its controllers. */
const rowsOf = (place: number) => (song.value?.view.lanes ?? []).flatMap(({ id }, row) => (
  id === `p${place}` || id.startsWith(`p${place}-`) ? [row] : []
))
const noteRow = (place: number) => song.value?.view.lanes.findIndex(({ id }) => id === `p${place}`) ?? -1
const sounding = (place: number) => rowsOf(place).some((row) => rows.value.has(row))
function toggleHearing(places: number[]): void {
  if (rows.value.size && places.every(sounding)) end()
  else if (song.value) void hear(song.value.view, places.flatMap(rowsOf))
}
const bars = computed<[number, number] | null>(() => {
  if (!song.value || (first.value === 1 && last.value === song.value.bars)) return null
  return [first.value - 1, last.value]
})
const fits = computed(
  () => Number.isInteger(first.value) && Number.isInteger(last.value) && first.value >= 1 && last.value >= first.value
    && last.value <= (song.value?.bars ?? 0),
)
const about = computed(() => {
  const now = song.value
  return now
    ? `${Number(now.tempo.toFixed(2))} beats a minute, ${now.meter.join('/')}, ${now.bars} bar${now.bars === 1 ? '' : 's'}` : ''
})

async function take(become: Become): Promise<void> {
  if (taking.value) return
  taking.value = true
  end()
  const told = await arriving.take(become, chosen.value, bars.value)
  taking.value = false
  if (!told) return
  const heard = told.remarks.join(' ')
  if (told.clip) notices.say(`“${told.clip.name}” lies on the Shelf. ${heard}`)
  const made = told.pattern
  if (!made) return
  piece.patterns = [...piece.patterns, made]
  await router.push({ name: 'piece', params: { piece: piece.id, pattern: made.id } })
  notices.say(`“${made.name}” is a pattern now. ${heard}`)
  if (become === 'lanes' && shorter.value) await sayAll(made.id)
}
</script>

<template>
  <v-dialog v-model="open" max-width="740" scrollable aria-label="A MIDI file came in">
    <v-card v-if="song" class="card">
      <div class="title">
        <h2>{{ arriving.name }}</h2>
        <span class="quiet">{{ about }}<template
          v-if="arriving.count > 1"> · file {{ arriving.place }} of {{ arriving.count }}</template></span>
      </div>
      <p v-for="remark in song.remarks" :key="remark" class="quiet remark">{{ remark }}</p>
      <p v-if="song.carries"
        class="carries">The recipe that made this file travels in it, and can come back as it was.</p>
      <div class="list">
        <div class="row tops quiet">
          <label><input type="checkbox" :checked="chosen.length === song.parts.length" aria-label="All parts"
            @change="chosen = chosen.length === song.parts.length ? [] : song.parts.map((_, place) => place)" /> parts</label>
          <button type="button" class="plain hear"
            @click="toggleHearing(chosen)">{{ rows.size > 1 ? 'stop' : 'hear the chosen ones' }}</button>
        </div>
        <label v-for="(part, place) in song.parts" :key="place" class="row part">
          <input v-model="chosen" type="checkbox" :value="place" />
          <span class="called"><b>{{ part.name || `Part ${place + 1}` }}</b>
            <span
              class="quiet">{{ part.kind === 'drum' ? 'drums' : `channel ${part.channel}` }}, {{ many(part.notes, 'note') }}<template
              v-if="part.controllers">, {{ part.controllers.toLocaleString('en') }} turns of controllers</template></span>
          </span>
          <span class="picture"><PartPicture v-if="part.notes" :view="song.view" :row="noteRow(place)"
            :place="place" /></span>
          <v-btn :icon="sounding(place) ? mdiStop : mdiPlay" size="x-small"
            :aria-label="`${sounding(place) ? 'Stop' : 'Hear'} ${part.name || `Part ${place + 1}`}`"
            @click.prevent="toggleHearing([place])" />
        </label>
      </div>
      <div class="bars">
        <label>Bars <input v-model.number="first" type="number" min="1" :max="song.bars" aria-label="First bar" /> to
          <input v-model.number="last" type="number" min="1" :max="song.bars"
            aria-label="Last bar" /> of {{ song.bars }}</label>
        <label><input v-model="shorter" type="checkbox" /> say lanes as short as they can be</label>
      </div>
      <p v-if="!fits" class="wrong" role="alert">Bars go from 1 to {{ song.bars }}.</p>
      <v-card-actions class="acts">
        <v-btn
          @click="arriving.count > 1 ? arriving.next() : leave()">{{ arriving.count > 1 ? 'Leave aside' : 'Cancel' }}</v-btn>
        <v-btn v-if="arriving.count - arriving.place > 0"
          @click="arriving.takeAll">All {{ arriving.count - arriving.place + 1 }} as clips</v-btn>
        <v-spacer />
        <v-btn v-if="song.carries" variant="flat" color="primary" :disabled="taking"
          @click="take('recipe')">Bring its recipe back</v-btn>
        <v-btn :variant="song.carries ? 'text' : 'tonal'" :disabled="taking || !chosen.length || !fits"
          @click="take('clip')">Lay on the Shelf</v-btn>
        <v-btn :variant="song.carries ? 'text' : 'flat'" :color="song.carries ? undefined : 'primary'"
          :disabled="taking || !chosen.length || !fits" @click="take('lanes')">Make lanes</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.card { padding: 16px 20px 8px; }
.title { display: flex; align-items: baseline; gap: 14px; }
h2 { font-size: 21px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.remark, .carries { font-size: 13.5px; margin-top: 4px; }
.carries { color: var(--link); font-weight: 600; }
.list {
  margin-top: 10px; border: 1px solid var(--rule); border-radius: 9px; overflow-y: auto; max-height: 44vh;
  min-height: 90px;
}
.row { display: flex; align-items: center; gap: 10px; padding: 4px 10px; }
.tops { justify-content: space-between; font-size: 13px; border-bottom: 1px solid var(--rule); }
.hear { color: var(--link); }
.part + .part { border-top: 1px solid var(--rule); }
.called { width: 210px; flex: none; display: flex; flex-direction: column; line-height: 1.25; min-width: 0; }
.called b { font-size: 14.5px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.called .quiet { font-size: 12.5px; }
.picture { flex: 1; min-width: 0; }
.bars { display: flex; gap: 24px; margin-top: 10px; font-size: 14px; flex-wrap: wrap; }
.bars input[type='number'] {
  width: 62px; font: inherit; color: var(--ink); background: var(--paper); border: 1px solid var(--rule);
  border-radius: 5px; padding: 1px 6px;
}
.wrong { color: rgb(var(--v-theme-error)); font-size: 13.5px; margin-top: 4px; }
.acts { padding-inline: 0; flex-wrap: wrap; }
</style>
