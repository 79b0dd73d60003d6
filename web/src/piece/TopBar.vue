<script setup lang="ts">
/** The bar over the main view: the piece and its patterns, tempo and metre, play, undo and redo. */
import {
  mdiArrowLeft, mdiDotsHorizontal, mdiHelp, mdiPause, mdiPlay, mdiPlus, mdiRedo, mdiThemeLightDark, mdiUndo,
  mdiVolumeHigh, mdiVolumeOff,
} from '@mdi/js'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Pattern } from '@/api/client'
import { away, insist, newKey } from '@/api/insist'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import { silent } from '@/sound/audioClock'
import { volume } from '@/sound/master'
import { usePlayer } from '@/sound/player'
import { useNotices } from '@/app/notices'
import { useOrder } from '@/order/order'
import { usePlaying } from '@/order/playing'
import { lookAtText } from '@/writing/pasted'
import { useCopiedText } from '@/writing/useCopiedText'
import { usePattern } from '@/pattern/pattern'
import { usePiece } from '@/pieces/piece'
import { linking } from '@/links/links'
import { useShelf } from '@/shelf/shelf'
import { useThemeName } from '@/app/theme'
import { freeName } from '@/app/freeName'
import AskName from '@/app/AskName.vue'
import DrawDialog from '@/draw/DrawDialog.vue'
import KeyField from './KeyField.vue'
import TempoField from './TempoField.vue'
import { useFills } from './useFills'
import { useTransport } from './useTransport'

defineProps<{ shelf: boolean }>()
const emit = defineEmits<{ help: []; shelf: [] }>()
const pattern = usePattern()
const piece = usePiece()
const order = useOrder()
const onShelf = useShelf()
const player = usePlayer()
const notices = useNotices()
const router = useRouter()
const theme = useThemeName()
const transport = useTransport()
const fills = useFills()
const past = transport.history

const orderPlayer = usePlaying()
/** Where the order waits while a pattern is edited. */
const waits = computed(() => {
  const { waiting } = orderPlayer
  const block = waiting === null || transport.inOrder.value
    ? -1
    : (order.view?.blocks.findIndex((each) => each.at >= waiting - 1e-6) ?? -1)
  return block < 0 ? '' : ` waits at ${block + 1}`
})
const showOrder = () => void router.push({ query: transport.inOrder.value ? {} : { order: null } })

const METRES: [number, 1 | 2 | 4 | 8 | 16 | 32][] = [
  [2, 4], [3, 4], [4, 4], [5, 4], [6, 4], [7, 4], [5, 8], [6, 8], [7, 8], [9, 8], [11, 8], [12, 8], [13, 8], [15, 16],
]
const asking = ref(false)
const question = ref<'new' | 'rename'>('new')
const titles = { new: 'A new pattern', rename: 'Rename the pattern' }
const nameAfter = (name: string) => freeName(name, piece.patterns.map((each) => each.name))
// Texts, so that the bar is drawn anew only when one of them changes.
const tempo = computed(() => pattern.view?.tempo_word)
const metre = computed(() => pattern.view?.meter.join('/'))
const place = computed(() => Math.max(0, player.playing ? player.beat : pattern.start) + 1e-6)
const passText = computed(() => `pass ${Math.floor(place.value / pattern.frame) + 1}`)
const beatText = computed(() => {
  const at = place.value
  const pass = Math.floor(at / pattern.frame)
  const inFrame = at - pass * pattern.frame
  const bar = Math.floor(inFrame / pattern.bar)
  const beatInBar = Math.floor((inFrame - bar * pattern.bar) / pattern.beat)
  return `bar ${bar + 1} · beat ${beatInBar + 1}`
})
function askFor(what: typeof question.value): void {
  question.value = what
  asking.value = true
}
const askingMetre = ref(false)
const drawing = ref(false)
const { copyText } = useCopiedText()
function setMetre(text: string): Promise<boolean> | false {
  const [, beats, unit] = /^\s*(\d{1,2})\s*\/\s*(\d{1,2})\s*$/.exec(text) ?? []
  if (beats && unit) return pattern.commit([{ do: 'pattern', field: 'meter', value: [Number(beats), Number(unit)] }])
  notices.say('Write a metre as beats/unit, such as 7/8: 1 to 32 beats of 1, 2, 4, 8, 16 or 32.')
  return false
}
const entries = computed<Entry[]>(() => [
  { title: 'Rename …', run: () => askFor('rename') },
  { title: 'Duplicate', about: 'and go on in the copy', run: () => void make(nameAfter(pattern.name), pattern.id) },
  { title: 'Make a fill', about: 'the last bar of every 4th pass', run: () => void fills.make() },
  { title: 'Send …', about: 'the bars that are shown, as MIDI or as sound', run: onShelf.sendShown },
  {
    title: 'Link to this pattern …', about: 'for whoever you send it to',
    run: () => (linking.value = { piece: piece.id, pattern: pattern.id, name: pattern.name }),
  },
  {
    title: 'Link to the whole piece …', about: piece.name,
    run: () => (linking.value = { piece: piece.id, name: piece.name }),
  },
  { title: 'Copy as text', about: 'to send or to paste', run: () => void copyText() },
  { title: 'Paste a text …', about: 'lanes, or whole patterns', run: () => lookAtText('') },
  { title: 'Draw as a picture …', run: () => (drawing.value = true) },
  { title: 'Delete', disabled: piece.patterns.length < 2, run: () => void remove() },
])
const metres = computed<Entry[]>(() => [
  ...METRES.map((each) => each.join('/')).map((text) => ({
    title: text, chosen: text === metre.value, run: () => void setMetre(text),
  })),
  { title: 'Another metre …', run: () => (askingMetre.value = true) },
])
// Where there are many patterns, the one that is open is in sight.
const tabs = useTemplateRef<HTMLElement>('tabs')
watch(() => [pattern.id, piece.patterns.length], () => void nextTick(() =>
  tabs.value?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' })), {
    immediate: true, flush: 'post',
  })
const show = (id: number) => router.push({ name: 'piece', params: { piece: piece.id, pattern: id } })

function named(name: string): Promise<boolean> {
  if (question.value === 'new') return make(name, null)
  return notices.attempt(async () => {
    const params = { path: { pattern_id: pattern.id } }
    const renamed = await ask(api.PATCH('/api/patterns/{pattern_id}', { params, body: { name } }))
    piece.patterns = piece.patterns.map((each) => (each.id === renamed.id ? renamed : each))
  })
}
/** Make a pattern, empty or a copy of another, and go on in it. */
function make(name: string, copyOf: number | null): Promise<boolean> {
  return notices.attempt(async () => {
    const params = { path: { piece_id: piece.id } }
    const body = { name, copy_of: copyOf, key: newKey() }
    const made = await insist(() => api.POST('/api/pieces/{piece_id}/patterns', { params, body }))
    piece.patterns = [...piece.patterns, made]
    await show(made.id)
  })
}
async function remove(): Promise<void> {
  const gone: Pattern | undefined = piece.patterns.find((each) => each.id === pattern.id)
  if (!gone) return
  const params = { path: { pattern_id: gone.id } }
  if (!(await notices.attempt(() => ask(api.DELETE('/api/patterns/{pattern_id}', { params }))))) return
  piece.patterns = piece.patterns.filter((each) => each.id !== gone.id)
  await show(piece.patterns[0]?.id ?? 0)
  notices.sayGone(`“${gone.name}” is deleted.`, async () => {
    const back = await ask(api.POST('/api/patterns/{pattern_id}/restore', { params }))
    piece.patterns = [...piece.patterns, back].sort((a, b) => a.id - b.id)
    await show(back.id)
  })
}
</script>

<template>
  <header data-region class="bar pane">
    <v-btn :icon="mdiArrowLeft" size="small" aria-label="All pieces" to="/" />
    <h1 :title="piece.name">{{ piece.name }}</h1>
    <nav aria-label="Patterns">
      <span ref="tabs" v-one-stop class="tabs">
        <button
          v-for="each in piece.patterns" :key="each.id" type="button" class="plain tab" :title="each.name"
          :aria-current="each.id === pattern.id && !transport.inOrder.value ? 'page' : undefined" @click="show(each.id)"
        >{{ each.name }}</button>
      </span>
      <v-btn :icon="mdiPlus" size="x-small" aria-label="New pattern" @click="askFor('new')" />
      <PickMenu label="More for this pattern" :entries="entries">
        <template #opener="{ menu }">
          <v-btn v-bind="menu" :icon="mdiDotsHorizontal" size="x-small" aria-label="More for this pattern" />
        </template>
      </PickMenu>
      <button
        type="button" class="plain one-after-another" :aria-current="transport.inOrder.value ? 'page' : undefined"
        title="Patterns one after another" @click="showOrder"
      >Order{{ waits }}</button>
    </nav>
    <span v-if="away || player.starving" class="away" role="status">
      {{ player.starving ? 'Server away: repeating what is known' : 'Server away: trying again' }}
    </span>
    <TempoField v-if="tempo" :tempo="tempo" />
    <PickMenu label="Metre" :entries="metres">
      <template #opener="{ menu }">
        <button v-bind="menu" type="button" class="plain metre" :aria-label="`Metre ${metre}`">{{ metre }}</button>
      </template>
    </PickMenu>
    <KeyField />
    <v-btn
      :icon="transport.playing.value ? mdiPause : mdiPlay" variant="flat" color="#f2bd4b" class="play" rounded="lg"
      :aria-label="transport.playing.value ? 'Stop' : 'Play'" @click="transport.toggle"
    />
    <span v-if="transport.told.value === 'clip'" class="where"><b>clip</b> {{ transport.clipPlace.value }}</span>
    <span v-else-if="transport.told.value === 'order'" class="where"><b>order</b> {{ orderPlayer.where }}</span>
    <span v-else class="where"><b>{{ passText }}</b> {{ beatText }}</span>
    <button
      v-if="transport.told.value === 'pattern'" type="button" class="plain stay" :aria-pressed="pattern.staying"
      @click="pattern.toggleStay"
    >{{ pattern.staying ? 'Stay' : 'Flow' }}</button>
    <v-btn
      :icon="mdiUndo" size="small" :aria-disabled="!past.undo" :class="{ spent: !past.undo }"
      :aria-label="`Undo ${past.undo ?? ''}`" :title="past.undo ?? ''" @click="transport.undo"
    />
    <v-btn
      :icon="mdiRedo" size="small" :aria-disabled="!past.redo" :class="{ spent: !past.redo }"
      :aria-label="`Redo ${past.redo ?? ''}`" :title="past.redo ?? ''" @click="transport.redo"
    />
    <label class="volume" :title="silent ? 'The browser gives no sound' : 'Volume, in this browser'">
      <svg viewBox="0 0 24 24" aria-hidden="true"><path :d="volume && !silent ? mdiVolumeHigh : mdiVolumeOff" /></svg>
      <input v-model.number="volume" type="range" min="0" max="1" step="0.02" aria-label="Volume"
        :aria-valuetext="`${Math.round(volume * 100)} %${silent ? ', but the browser gives no sound' : ''}`" />
    </label>
    <v-btn v-if="shelf" size="small" @click="emit('shelf')">Shelf ({{ onShelf.clips.length }})</v-btn>
    <v-btn :icon="mdiThemeLightDark" size="small" aria-label="Paper or lamplight" @click="theme.toggle" />
    <v-btn :icon="mdiHelp" size="small" aria-label="Shortcuts" @click="emit('help')" />
    <DrawDialog v-model="drawing" :of="{ kind: 'pattern', id: pattern.id, name: pattern.name }" />
    <AskName v-model="askingMetre" title="The metre" label="Beats/unit, such as 7/8" action="Set" :name="metre ?? ''"
      @named="setMetre" />
    <AskName
      v-model="asking" :title="titles[question]" :action="question === 'rename' ? 'Rename' : 'Make it'"
      :name="question === 'rename' ? pattern.name : nameAfter('Pattern 1')" @named="named"
    />
  </header>
</template>

<style scoped>
.bar {
  background: var(--night); color: #f6ecd6; display: flex; align-items: center; gap: 8px; padding: 5px 12px 5px 6px;
  min-height: 54px;
}
.bar > * { flex: none; }
.bar > h1 {
  font-size: 20px; white-space: nowrap; flex: 0 1000 auto; min-width: 124px; max-width: 300px; overflow: hidden;
  text-overflow: ellipsis;
}
.bar > nav { display: flex; align-items: center; gap: 6px; flex: 1 1 auto; min-width: 120px; padding-left: 6px; }
.tabs { display: flex; gap: 6px; min-width: 0; overflow-x: auto; scrollbar-width: none; padding: 3px; margin: -3px; }
.tab, .one-after-another {
  background: #43365f; border-radius: 13px; padding: 2px 12px; font-size: 13.5px; font-weight: 600; white-space: nowrap;
  flex: none; max-width: 180px; overflow: hidden; text-overflow: ellipsis;
}
.tab[aria-current], .one-after-another[aria-current] { background: #f2bd4b; color: #2b2240; }
.one-after-another { background: none; border: 1px solid #8d7fa6; }
.metre { font-size: 18px; font-weight: 650; padding: 2px 6px; }
.play { width: 40px; height: 40px; }
.where { font-size: 13px; white-space: nowrap; min-width: 132px; font-variant-numeric: tabular-nums; }
.where b { font-size: 16px; }
.stay { border: 1px solid #8d7fa6; border-radius: 12px; padding: 1px 10px; font-size: 13px; }
.stay[aria-pressed='true'] { background: #f6ecd6; color: #2b2240; }
.volume { display: flex; align-items: center; gap: 2px; }
.volume svg { width: 19px; fill: currentColor; }
.volume input { width: 64px; accent-color: #f2bd4b; cursor: pointer; }
.spent { opacity: 0.4; cursor: default; }
.away { background: #f6d9d0; color: #6d1d12; border-radius: 8px; padding: 2px 10px; font-size: 13px; }
@media (max-width: 900px) {
  .bar { flex-wrap: wrap; gap: 4px; }
  .where { min-width: 0; }
  .bar > nav { order: 1; flex-basis: 100%; }
}
</style>
