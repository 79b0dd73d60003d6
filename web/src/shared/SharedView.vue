<script setup lang="ts">
/** What a link shows, for whoever has it: seen, heard, asked about, taken as MIDI or as a copy; nothing is changed. */
import { mdiDownload, mdiPlay, mdiStop } from '@mdi/js'
import { useDebounceFn, useEventListener } from '@vueuse/core'
import { computed, onScopeDispose, ref, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, Refusal, type ClipView, type Schemas, type View } from '@/api/client'
import { insist, newKey } from '@/api/insist'
import { jewel } from '@/app/colours'
import { isTyped } from '@/app/keyboard'
import { many } from '@/app/many'
import { useNotices } from '@/app/notices'
import { useNoSound } from '@/sound/useNoSound'
import { useThemeName } from '@/app/theme'
import PartPicture from '@/arriving/PartPicture.vue'
import { useHearParts } from '@/arriving/useHearParts'
import { recordingsFrom } from '@/drum/recordings'
import { useSession } from '@/session/session'
import SharedRow from './SharedRow.vue'
import { useSharedPlayer, type Part } from './useSharedPlayer'

type Told = Exclude<NonNullable<View['chosen']>, null>['sentence']
const route = useRoute()
const router = useRouter()
const session = useSession()
const notices = useNotices()
const { name: theme } = useThemeName()
useNoSound()
const token = String(route.params.token)
const shown = shallowRef<Schemas['SharedOut'] | null>(null)
const gone = ref('')
const pattern = ref(0)
/** The clip that is shown in place of a pattern: one of the Shelf by its place, or all that the order plays. */
const clip = ref<number | 'order' | null>(null)
const first = shallowRef<View | null>(null)
const clipView = shallowRef<ClipView | null>(null)
const chosen = ref<string | null>(null)
const sentence = shallowRef<Told | null>(null)
const why = ref('')
const path = { token }
recordingsFrom(`/api/shared/${token}/sounds`)
onScopeDispose(() => recordingsFrom('/api/sounds'))

const viewOf = ({ pass: passing, part }: Part, lane: string | null = null) =>
  ask(api.GET('/api/shared/{token}/patterns/{number}/passes/{passing}', {
    params: { path: { ...path, number: pattern.value, passing }, query: { part, chosen: lane } },
  }))
const FIRST: Part = { pass: 0, part: 0 }
const player = useSharedPlayer((part) => viewOf(part), notices.trouble)
const { rows, hear, end } = useHearParts()
/** Play was pressed, and what it plays is still on its way. */
const begins = ref(false)
const plays = computed(() => begins.value || player.playing.value || rows.value.size > 0)
const view = computed(() => player.heard.value ?? first.value)

async function load(): Promise<void> {
  try {
    shown.value = await ask(api.GET('/api/shared/{token}', { params: { path } }))
    document.title = `${shown.value.name} · Jolly Lattice`
    if (shown.value.patterns.length) await showPattern(0)
    else await showClip(0)
  } catch (problem) {
    gone.value = problem instanceof Refusal && problem.status === 404
      ? 'This link leads nowhere: it was ended, or it is not whole. Ask whoever sent it for another.'
      : 'The server is away; load this page again in a moment.'
  }
}
/** What was chosen last: it may be on its way still. What was chosen before it is not shown any more. */
let coming = Promise.resolve()
function showPattern(number: number): Promise<void> {
  halt()
  pattern.value = number
  clip.value = first.value = chosen.value = sentence.value = null
  why.value = ''
  player.forget()
  coming = viewOf(FIRST).then((view) => {
    if (pattern.value === number && clip.value === null) first.value = view
  })
  return coming
}
function showClip(which: number | 'order'): Promise<void> {
  halt()
  clip.value = which
  clipView.value = null
  coming = ask(which === 'order'
    ? api.GET('/api/shared/{token}/order', { params: { path } })
    : api.GET('/api/shared/{token}/clips/{number}', { params: { path: { ...path, number: which } } }))
    .then((view) => {
      if (clip.value === which) clipView.value = view
    })
  return coming
}
const choose = (lane: string) => notices.attempt(async () => {
  chosen.value = lane
  const number = pattern.value
  const said = (await viewOf(FIRST, lane)).chosen?.sentence ?? null
  if (chosen.value === lane && pattern.value === number) sentence.value = said
})
const askWhy = useDebounceFn((lane: string, at: number) => notices.attempt(async () => {
  const query = { lane, at }
  const number = pattern.value
  const { words, measures } = await ask(api.GET('/api/shared/{token}/patterns/{number}/why', {
    params: { path: { ...path, number }, query },
  }))
  if (pattern.value === number) why.value = [words, measures].filter(Boolean).join(' ')
}), 120)
function halt(): void {
  begins.value = false
  player.stop()
  end()
}
async function play(): Promise<void> {
  begins.value = true
  await coming.catch(() => undefined) // told by whoever asked for it
  if (!begins.value) return // stopped before it began
  try {
    if (clip.value === null) await player.play()
    else if (clipView.value) await hear(clipView.value, clipView.value.lanes.map((_, row) => row))
  } finally {
    begins.value = false
  }
}
const toggle = () => (plays.value ? halt() : void play())
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key !== ' ' || isTyped(event.target) || event.target instanceof HTMLButtonElement) return
  event.preventDefault()
  toggle()
})
const file = computed(() => (clip.value === null
  ? `/api/shared/${token}/patterns/${pattern.value}/midi?passes=4`
  : `/api/shared/${token}/${clip.value === 'order' ? 'order' : `clips/${clip.value}`}/midi`))
const key = newKey()
const copy = () => notices.attempt(async () => {
  await session.load()
  if (!session.username) return void (await router.push({ name: 'door', query: { next: route.fullPath } }))
  const params = { path }
  const made = await insist(() => api.POST('/api/shared/{token}/copy', { params, body: { key } }))
  await router.push({ name: 'piece', params: { piece: made.id } })
  notices.say(`“${made.name}” is a piece of yours now.`)
})
void load()
</script>

<template>
  <main class="shared">
    <p v-if="gone" class="sentence gone" role="alert">{{ gone }}</p>
    <p v-else-if="!shown" class="sentence gone" role="status">Opening …</p>
    <template v-else>
      <header>
        <h1>{{ shown.name }}</h1>
        <span v-if="shown.by" class="quiet">by {{ shown.by }}</span>
        <span class="quiet">{{ shown.follows ? 'as it is now' : 'as it was when it was shared' }}</span>
        <v-btn variant="flat" color="primary" :prepend-icon="plays ? mdiStop : mdiPlay"
          @click="toggle">{{ plays ? 'Stop' : 'Play' }}</v-btn>
        <span class="space" />
        <v-btn :href="file" download :prepend-icon="mdiDownload">MIDI file</v-btn>
        <v-btn @click="copy">Take a copy</v-btn>
      </header>
      <nav v-if="shown.order || shown.patterns.length + shown.clips.length > 1" aria-label="What is shown">
        <button v-for="(each, number) in shown.patterns" :key="`pattern ${number}`" type="button" class="plain tab"
          :aria-current="clip === null && pattern === number ? 'page' : undefined"
          @click="notices.attempt(() => showPattern(number))">{{ each.name }}</button>
        <button v-if="shown.order" type="button" class="plain tab" :aria-current="clip === 'order' ? 'page' : undefined"
          title="All patterns one after another" @click="notices.attempt(() => showClip('order'))">The order</button>
        <button v-for="(each, number) in shown.clips" :key="`clip ${number}`" type="button" class="plain tab clip"
          :aria-current="clip === number ? 'page' : undefined"
          @click="notices.attempt(() => showClip(number))">{{ each.name }}</button>
      </nav>
      <section v-if="clip !== null && clipView" class="lanes" aria-label="Clip">
        <div v-for="(lane, row) in clipView.lanes" :key="lane.id" class="lane">
          <span class="name">{{ lane.name }}</span><PartPicture :view="clipView" :row="row" :place="row" />
        </div>
        <p class="quiet">{{ Number(clipView.bars.toFixed(2)) }} bars, {{ many(clipView.notes.length, 'note') }}</p>
      </section>
      <section v-else-if="clip === null && view" class="lanes" aria-label="Pattern">
        <div v-for="(lane, place) in view.lanes" :key="lane.id" class="lane">
          <button type="button" class="plain name" :aria-pressed="chosen === lane.id"
            :style="{ '--lane': jewel(place, theme) }" @click="choose(lane.id)">{{ lane.name }}</button>
          <SharedRow :lane="lane" :place="place" :view="view" :beat="player.playing.value ? player.beat.value : null"
            @ask="(at) => askWhy(lane.id, at)" />
        </div>
        <p class="why quiet" role="status">{{ why || 'Point at a step to learn why it plays; press a lane’s name to read what it says.' }}</p>
        <p v-if="sentence" class="sentence said">
          <template v-for="(clause, i) in sentence.clauses" :key="i"><template v-for="(part, j) in clause.parts"
            :key="j"><template v-if="typeof part === 'string'">{{ part }}</template><b
              v-else>{{ part.text }}</b></template>{{ ' ' }}</template>
        </p>
      </section>
    </template>
  </main>
</template>

<style scoped>
.shared { max-width: 1160px; margin: 0 auto; padding: 20px 24px 40px; }
header { display: flex; flex-wrap: wrap; align-items: center; gap: 6px 16px; }
h1 { font: 650 30px 'Fraunces Variable', serif; }
.space { flex: 1; }
nav { display: flex; flex-wrap: wrap; gap: 8px; margin-top: 12px; }
.tab { border: 1px solid var(--rule); border-radius: 16px; padding: 4px 14px; }
.tab.clip { border-radius: 8px; font-family: 'Fraunces Variable', serif; }
.tab[aria-current] { background: var(--ink); color: var(--paper); }
.lanes { margin-top: 16px; display: grid; gap: 6px; }
.lane { display: grid; grid-template-columns: 132px minmax(0, 1fr); align-items: center; gap: 8px; }
.name { font: 600 16px 'Fraunces Variable', serif; text-align: left; min-height: 32px; overflow: hidden; text-overflow: ellipsis; }
button.name { color: color-mix(in srgb, var(--lane) 62%, var(--ink)); }
button.name[aria-pressed='true'] { text-decoration: underline; text-underline-offset: 4px; }
.why { min-height: 40px; font-size: 14px; }
.said { font-size: 20px; line-height: 1.5; background: var(--card); border: 1px solid var(--rule); border-radius: 12px; padding: 12px 20px; }
.gone { padding: 18vh 8vw; font-size: 22px; text-align: center; }
</style>
