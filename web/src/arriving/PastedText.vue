<script setup lang="ts">
/** A text that came in: its lanes and patterns, seen and heard, before they are taken; it may be mended here. */
import { mdiPlay, mdiStop } from '@mdi/js'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Edit, type Schemas } from '@/api/client'
import { insist, newKey } from '@/api/insist'
import { many } from '@/app/many'
import { useNotices } from '@/app/notices'
import { useReturnFocus } from '@/app/useReturnFocus'
import { usePattern } from '@/pattern/pattern'
import { usePiece } from '@/pieces/piece'
import { pastedAfter, pastedText } from '@/writing/pasted'
import PartPicture from './PartPicture.vue'
import { useHearParts } from './useHearParts'

type Found = Schemas['ReadOut']
type Written = Schemas['WrittenOut']
const pattern = usePattern()
const piece = usePiece()
const router = useRouter()
const notices = useNotices()
const { rows, hear, end } = useHearParts()
const open = computed({ get: () => pastedText.value !== null, set: (now) => now || leave() })
useReturnFocus(open)
const text = ref('')
const found = shallowRef<Written | null>(null)
const heard = ref<Found | null>(null)
/** What of it has been taken already; taking the rest, or closing, ends it. */
const taken = ref<'lanes' | 'patterns' | null>(null)
let asked = 0
const lanes = computed(() => found.value?.lanes ?? null)
const parts = computed(() => [...(lanes.value ? [lanes.value] : []), ...(found.value?.patterns ?? [])])
const pasting = (): Edit[] => [{
  do: 'paste_lanes', lanes: (lanes.value?.lanes ?? []) as Extract<Edit, { do: 'paste_lanes' }>['lanes'],
  after: pastedAfter.value,
}]
watch(pastedText, (now) => {
  text.value = now ?? ''
  found.value = taken.value = null
  if (now !== null) void look()
})
/** What it holds; lanes are tried out in the pattern, so that they are heard in time where it plays. */
async function look(): Promise<void> {
  asked += 1
  const number = asked
  end()
  if (!text.value.trim()) return void (found.value = null)
  const params = { path: { pattern_id: pattern.id } }
  await notices.attempt(async () => {
    const told = await ask(api.POST('/api/patterns/{pattern_id}/written', { params, body: { text: text.value } }))
    if (number !== asked || pastedText.value === null) return
    found.value = told
    await pattern.preview(told.lanes ? pasting() : [])
  })
}
function leave(): void {
  end()
  pastedText.value = null
  void pattern.preview([])
}
function toggle(part: Found): void {
  const same = heard.value === part && rows.value.size
  end()
  if (same || !part.view) return
  heard.value = part
  void hear(part.view, part.view.lanes.map((_, row) => row))
}
async function takeLanes(): Promise<void> {
  end()
  if (!(await pattern.commit(pasting()))) return
  if (taken.value === null && found.value?.patterns.length) taken.value = 'lanes'
  else pastedText.value = null
}
async function takePatterns(): Promise<void> {
  const body = { text: text.value, keys: (found.value?.patterns ?? []).map(newKey) }
  const params = { path: { piece_id: piece.id } }
  end()
  await notices.attempt(async () => {
    const made = await insist(() => api.POST('/api/pieces/{piece_id}/texts', { params, body }))
    const [first] = made
    piece.patterns = [...piece.patterns, ...made]
    if (lanes.value && taken.value === null) taken.value = 'patterns' // its lanes are for the pattern that is open
    else leave()
    if (first && pastedText.value === null) await router.push({ name: 'piece', params: { piece: piece.id, pattern: first.id } })
    notices.say(`${made.map(({ name }) => `“${name}”`).join(', ')} ${made.length === 1 ? 'is' : 'are'} in this piece now.`)
  })
}
const named = (part: Found) => part.name || (part === lanes.value ? 'Lanes for this pattern' : 'A pattern')
</script>

<template>
  <v-dialog v-model="open" max-width="740" scrollable aria-label="A text came in">
    <v-card class="card">
      <h2>A text came in</h2>
      <textarea v-model="text" class="sentence" rows="6" aria-label="The text" spellcheck="false"
        :readonly="taken !== null"
        placeholder="Drip, closed hi-hat: Spread 7 hits over 12 steps of 1/16." @input="look" />
      <p v-if="found?.wrong" class="wrong" role="status">{{ found.wrong.words }}
        <span class="quiet">“…{{ text.slice(Math.max(0, found.wrong.start - 24), found.wrong.start) }}<b
          class="at">{{ text.slice(found.wrong.start, found.wrong.end) || '▸' }}</b>{{
            text.slice(found.wrong.end, found.wrong.end + 24) }}…”</span></p>
      <p v-else class="quiet">{{ parts.length ? 'This is what it says; it is heard and seen before it is taken.'
        : 'Paste or write lanes, a line each, or whole patterns.' }}</p>
      <div v-if="parts.length" class="list">
        <div v-for="(part, place) in parts" :key="place" class="row">
          <span class="called"><span><b>{{ named(part) }}</b>{{
            taken === (part === lanes ? 'lanes' : 'patterns') ? ' · taken' : '' }}</span>
            <span class="quiet">{{ many(part.lanes.length, 'lane') }}: {{
              part.lanes.map((lane) => lane.name).join(', ') }}</span></span>
          <span class="pictures"><PartPicture v-for="(_, row) in part.view?.lanes.slice(0, 6) ?? []" :key="row"
            :view="part.view!" :row="row" :place="row" /></span>
          <v-btn :icon="heard === part && rows.size ? mdiStop : mdiPlay" size="x-small" :disabled="!part.view"
            :aria-label="`${heard === part && rows.size ? 'Stop' : 'Hear'} ${named(part)}`" @click="toggle(part)" />
        </div>
      </div>
      <v-card-actions class="acts">
        <v-btn @click="leave">{{ taken ? 'Close' : 'Cancel' }}</v-btn>
        <v-spacer />
        <v-btn v-if="found?.patterns.length && taken !== 'patterns'" :variant="lanes && !taken ? 'tonal' : 'flat'" color="primary"
          @click="takePatterns">Make {{ many(found.patterns.length, 'pattern') }}</v-btn>
        <v-btn v-if="lanes && taken !== 'lanes'" variant="flat" color="primary"
          @click="takeLanes">Add {{ many(lanes.lanes.length, 'lane') }} here</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.card { padding: 16px 20px 8px; }
h2 { font-size: 21px; }
textarea {
  width: 100%; margin-top: 8px; padding: 8px 12px; border: 1px solid var(--rule); border-radius: 9px; resize: vertical;
  font-size: 15px; line-height: 1.45; background: var(--card); color: var(--ink);
}
.wrong { color: rgb(var(--v-theme-error)); font-size: 13.5px; margin-top: 6px; }
.at { text-decoration: underline wavy rgb(var(--v-theme-error)); color: var(--ink); }
p { font-size: 13.5px; margin-top: 6px; }
.list { margin-top: 8px; border: 1px solid var(--rule); border-radius: 9px; overflow-y: auto; max-height: 34vh; }
.row { display: flex; align-items: center; gap: 10px; padding: 6px 10px; }
.row + .row { border-top: 1px solid var(--rule); }
.called { width: 220px; flex: none; display: flex; flex-direction: column; line-height: 1.25; min-width: 0; font-size: 13.5px; }
.pictures { flex: 1; min-width: 0; display: grid; gap: 1px; }
</style>
