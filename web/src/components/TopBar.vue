<script setup lang="ts">
/** The bar over the main view: the piece and its patterns, tempo and metre, play, undo and redo. */
import {
  mdiArrowLeft, mdiDotsHorizontal, mdiHelp, mdiPause, mdiPlay, mdiPlus, mdiRedo, mdiThemeLightDark, mdiUndo,
} from '@mdi/js'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Pattern } from '@/api/client'
import { away, insist, newKey } from '@/api/insist'
import { usePlayer } from '@/sound/player'
import { useNotices } from '@/stores/notices'
import { usePattern } from '@/stores/pattern'
import { usePiece } from '@/stores/piece'
import { useThemeName } from '@/theme'
import AskName from './AskName.vue'
import TempoField from './TempoField.vue'

const emit = defineEmits<{ help: [] }>()
const pattern = usePattern()
const piece = usePiece()
const player = usePlayer()
const notices = useNotices()
const router = useRouter()
const theme = useThemeName()

const METRES: [number, 1 | 2 | 4 | 8 | 16 | 32][] = [
  [2, 4], [3, 4], [4, 4], [5, 4], [6, 4], [7, 4], [5, 8], [6, 8], [7, 8], [9, 8], [11, 8], [12, 8], [13, 8], [15, 16],
]
const asking = ref(false)
const question = ref<'new' | 'copy' | 'rename'>('new')
const titles = { new: 'A new pattern', copy: 'Duplicate the pattern', rename: 'Rename the pattern' }
// Texts, so that the bar is drawn anew only when one of them changes.
const tempo = computed(() => pattern.view?.tempo ?? 120)
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
function setMetre(text: string): void {
  const [, beats, unit] = /^\s*(\d{1,2})\s*\/\s*(\d{1,2})\s*$/.exec(text) ?? []
  if (beats && unit) void pattern.commit([{ do: 'pattern', field: 'meter', value: [Number(beats), Number(unit)] }])
  else notices.say('Write a metre as beats/unit, such as 7/8: 1 to 32 beats of 1, 2, 4, 8, 16 or 32.')
}
const show = (id: number) => router.push({ name: 'piece', params: { piece: piece.id, pattern: id } })

async function named(name: string): Promise<void> {
  try {
    if (question.value === 'rename') {
      const params = { path: { pattern_id: pattern.id } }
      const renamed = await ask(api.PATCH('/api/patterns/{pattern_id}', { params, body: { name } }))
      piece.patterns = piece.patterns.map((each) => (each.id === renamed.id ? renamed : each))
      return
    }
    const params = { path: { piece_id: piece.id } }
    const body = { name, copy_of: question.value === 'copy' ? pattern.id : null, key: newKey() }
    const made = await insist(() => api.POST('/api/pieces/{piece_id}/patterns', { params, body }))
    piece.patterns = [...piece.patterns, made]
    await show(made.id)
  } catch (problem) {
    notices.trouble(problem)
  }
}
async function remove(): Promise<void> {
  const gone: Pattern | undefined = piece.patterns.find((each) => each.id === pattern.id)
  if (!gone) return
  const params = { path: { pattern_id: gone.id } }
  try {
    await ask(api.DELETE('/api/patterns/{pattern_id}', { params }))
  } catch (problem) {
    notices.trouble(problem)
    return
  }
  piece.patterns = piece.patterns.filter((each) => each.id !== gone.id)
  await show(piece.patterns[0]?.id ?? 0)
  notices.say(`“${gone.name}” is deleted.`, {
    label: 'Bring it back',
    run: async () => {
      try {
        const back = await ask(api.POST('/api/patterns/{pattern_id}/restore', { params }))
        piece.patterns = [...piece.patterns, back].sort((a, b) => a.id - b.id)
        await show(back.id)
      } catch (problem) {
        notices.trouble(problem)
      }
    },
  })
}
</script>

<template>
  <header class="bar pane">
    <v-btn :icon="mdiArrowLeft" size="small" aria-label="All pieces" to="/" />
    <h1>{{ piece.name }}</h1>
    <nav aria-label="Patterns">
      <button
        v-for="each in piece.patterns" :key="each.id" type="button" class="plain tab"
        :aria-current="each.id === pattern.id ? 'page' : undefined" @click="show(each.id)"
      >{{ each.name }}</button>
      <v-btn :icon="mdiPlus" size="x-small" aria-label="New pattern" @click="askFor('new')" />
      <v-menu>
        <template #activator="{ props: menu }">
          <v-btn v-bind="menu" :icon="mdiDotsHorizontal" size="x-small" aria-label="More for this pattern" />
        </template>
        <v-list>
          <v-list-item title="Rename …" @click="askFor('rename')" />
          <v-list-item title="Duplicate …" @click="askFor('copy')" />
          <v-list-item title="Delete" :disabled="piece.patterns.length < 2" @click="remove" />
        </v-list>
      </v-menu>
    </nav>
    <span v-if="away || player.starving" class="away" role="status">
      {{ player.starving ? 'Server away: repeating what is known' : 'Server away: trying again' }}
    </span>
    <TempoField :tempo="tempo" />
    <v-menu>
      <template #activator="{ props: menu }">
        <button v-bind="menu" type="button" class="plain metre" aria-label="Metre">
          {{ metre }}
        </button>
      </template>
      <v-list max-height="420">
        <v-list-item
          v-for="each in METRES" :key="each.join('/')" :title="each.join('/')" :active="each.join('/') === metre"
          @click="setMetre(each.join('/'))"
        />
        <v-list-item title="Another metre …" @click="askingMetre = true" />
      </v-list>
    </v-menu>
    <v-btn
      :icon="player.playing ? mdiPause : mdiPlay" variant="flat" color="#f2bd4b" class="play" rounded="lg"
      :aria-label="player.playing ? 'Stop' : 'Play'" @click="player.toggle"
    />
    <span class="where"><b>{{ passText }}</b> {{ beatText }}</span>
    <button
      type="button" class="plain stay" :aria-pressed="pattern.staying" @click="pattern.toggleStay"
    >{{ pattern.staying ? 'Stay' : 'Flow' }}</button>
    <v-btn
      :icon="mdiUndo" size="small" :disabled="!pattern.history.undo"
      :aria-label="`Undo ${pattern.history.undo ?? ''}`" :title="pattern.history.undo ?? ''" @click="pattern.undo"
    />
    <v-btn
      :icon="mdiRedo" size="small" :disabled="!pattern.history.redo"
      :aria-label="`Redo ${pattern.history.redo ?? ''}`" :title="pattern.history.redo ?? ''" @click="pattern.redo"
    />
    <v-btn :icon="mdiThemeLightDark" size="small" aria-label="Paper or lamplight" @click="theme.toggle" />
    <v-btn :icon="mdiHelp" size="small" aria-label="Shortcuts" @click="emit('help')" />
    <AskName v-model="askingMetre" title="The metre" label="Beats/unit, such as 7/8" action="Set" :name="metre ?? ''" @named="setMetre" />
    <AskName
      v-model="asking" :title="titles[question]" :action="question === 'rename' ? 'Rename' : 'Make it'"
      :name="question === 'rename' ? pattern.name : question === 'copy' ? `${pattern.name} 2` : ''" @named="named"
    />
  </header>
</template>

<style scoped>
.bar { background: var(--night); color: #f6ecd6; display: flex; align-items: center; gap: 8px; padding: 5px 12px 5px 6px; min-height: 54px; }
h1 { font-size: 20px; white-space: nowrap; }
nav { display: flex; align-items: center; gap: 6px; flex: 1; min-width: 0; overflow: hidden; padding-left: 6px; }
.tab { background: #43365f; border-radius: 13px; padding: 2px 12px; font-size: 13.5px; font-weight: 600; white-space: nowrap; }
.tab[aria-current] { background: #f2bd4b; color: #2b2240; }
.metre { font-size: 18px; font-weight: 650; padding: 2px 6px; }
.play { width: 40px; height: 40px; }
.where { font-size: 13px; white-space: nowrap; min-width: 132px; font-variant-numeric: tabular-nums; }
.where b { font-size: 16px; }
.stay { border: 1px solid #8d7fa6; border-radius: 12px; padding: 1px 10px; font-size: 13px; }
.stay[aria-pressed='true'] { background: #f6ecd6; color: #2b2240; }
.away { background: #f6d9d0; color: #6d1d12; border-radius: 8px; padding: 2px 10px; font-size: 13px; }
</style>
