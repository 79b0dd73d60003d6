<script setup lang="ts">
/** The Trail: a small picture of each pass just heard, the newest last. Hear one again, keep one or several. */
import { mdiPlay } from '@mdi/js'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import { many } from '@/app/many'
import { useNotices } from '@/app/notices'
import { STATED } from '@/generated/stated'
import { usePlayer } from '@/sound/player'
import { sounding } from '@/sound/sounding'
import { sendTaken } from '@/leaving/leaving'
import { usePattern } from '@/pattern/pattern'
import { useTrail } from '@/pattern/trail'
import { useShelf } from '@/shelf/shelf'
import RhythmThumb from '@/app/RhythmThumb.vue'

/** narrow: beside a drawer, with room for two passes. */
defineProps<{ narrow?: boolean }>()
const trail = useTrail()
const shelf = useShelf()
const pattern = usePattern()
const player = usePlayer()
const notices = useNotices()
const strip = useTemplateRef<HTMLElement>('strip')
const keepBars = [1, 2, 4, 8]

const lanes = () => pattern.view?.lanes.map((lane) => lane.id)

/** Passes as they were heard, or the strangest first: those farthest from what passes of their recipe usually are. */
const ORDERS = { heard: 'just heard', strange: 'strangest first' }
const order = ref<keyof typeof ORDERS>('heard')
const shown = computed(() => (order.value === 'heard'
  ? trail.passes
  : [...trail.passes].sort((a, b) => (b.strange ?? -1) - (a.strange ?? -1))))
const orders = computed<Entry[]>(() => Object.entries(ORDERS).map(([name, title]) => ({
  title, chosen: order.value === name,
  about: name === 'strange' ? 'farthest from the usual pass of their recipe' : 'the newest last',
  run: () => void putInOrder(name as keyof typeof ORDERS),
})))
async function putInOrder(by: keyof typeof ORDERS): Promise<void> {
  if (by === 'strange') await notices.attempt(() => trail.open(pattern.id))
  order.value = by
  await nextTick()
  strip.value?.scrollTo({ left: by === 'strange' ? 0 : strip.value.scrollWidth })
}
watch(() => pattern.id, () => (order.value = 'heard'))
const told = (pass: (typeof trail.passes)[number]) => {
  const notes = many(pass.thumb.notes, 'note')
  return pass.strange === null || pass.strange === undefined
    ? notes : `${notes}, ${Number(pass.strange.toFixed(1))} from the usual`
}

watch(
  () => trail.passes.at(-1)?.id,
  () => void nextTick(() => order.value === 'heard' && strip.value?.scrollTo({ left: strip.value.scrollWidth })),
  { immediate: true },
)
/** The chosen passes, from the first to the last. */
const ends = ref<[number, number] | null>(null)
const chosen = computed(() => {
  if (!ends.value) return []
  const places = ends.value.map((id) => trail.passes.findIndex((pass) => pass.id === id))
  return trail.passes.slice(Math.max(0, Math.min(...places)), Math.max(...places) + 1)
})
function choose(id: number, more: boolean): void {
  if (more && ends.value) ends.value = [ends.value[0], id]
  else ends.value = ends.value?.[0] === id && ends.value[1] === id ? null : [id, id]
}
const first = computed(() => chosen.value[0])
const last = computed(() => chosen.value.at(-1))
const bars = computed(() => Math.round(chosen.value.reduce((sum, pass) => sum + pass.thumb.bars, 0)))
const firstBar = ref(1)
const lastBar = ref(1)
watch([ends, bars], () => {
  firstBar.value = 1
  lastBar.value = Math.max(1, bars.value)
})
/** The chosen passes, or those bars of them; null, said why, where there are no such bars. */
function takeChosen(): Schemas['TakeIn'] | null {
  const [from, to] = [firstBar.value, lastBar.value]
  if (!(Number.isInteger(from) && Number.isInteger(to) && from >= 1 && from <= to && to <= bars.value)) {
    notices.say(`Bars go from 1 to ${bars.value}, and the last is not before the first.`)
    return null
  }
  const passes = chosen.value.map((pass) => pass.id)
  return from === 1 && to === bars.value ? { passes } : { passes, first_bar: from, bars: to - from + 1 }
}
function keepChosen(): void {
  const wanted = takeChosen()
  if (wanted) void shelf.keep(wanted)
}
function sendChosen(): void {
  const wanted = takeChosen()
  const [from, to] = [first.value?.number, last.value?.number]
  if (wanted) sendTaken(pattern.id, from === to ? `pass ${from}` : `passes ${from}–${to}`, wanted)
}
/** How many whole bars there are to keep, as of when the menu was opened. */
const heard = ref(0)
const bar = (count: number, words: string) => (count === 1 ? `The ${words} bar` : `The ${words} ${count} bars`)
const keepEntries = computed<Entry[]>(() => {
  const { bars: period } = pattern.view?.meeting ?? { bars: null }
  const known = (count: number) => ({
    disabled: heard.value < count,
    about: heard.value < count ? `${heard.value} heard since play was pressed` : undefined,
  })
  return [
    ...keepBars.map((count, i) => ({
      title: bar(count, 'last'), group: i === 0 ? 'heard' : undefined, ...known(count),
      run: () => void shelf.keepBars(count),
    })),
    ...(period && !keepBars.includes(period) && period <= STATED.clipBars ? [{
      title: `The last ${period} bars: one whole meeting period`, ...known(period),
      run: () => void shelf.keepBars(period),
    }] : []),
    {
      title: 'All since play was pressed', about: 'with all that was turned',
      disabled: !trail.take.length && !sounding.value, run: () => void shelf.keepPlayed(),
    },
    {
      title: 'A stretch of passes …', about: 'chosen on the Trail, as far as you like',
      disabled: trail.passes.length < 2, run: chooseLast,
    },
    ...keepBars.map((count, i) => ({
      title: bar(count, 'next'), group: i === 0 ? 'the bars to come, from the first that is shown' : undefined,
      run: () => void shelf.keep({ bars: count, start: pattern.start }),
    })),
    ...(
      period && period <= STATED.clipBars ? [
        {
          title: 'One whole meeting period', about: `bars 1 to ${period}`,
          run: () => void shelf.keep({ bars: period, start: 0 }),
        },
      ] : []
    ),
  ]
})
/** Choose the last two passes, to go on from there. */
function chooseLast(): void {
  const [first, second] = trail.passes.slice(-2)
  if (first && second) ends.value = [first.id, second.id]
}

/** Chances that were there before, by their numbers; asked for when the menu is opened. */
const earlier = ref<Schemas['ChancesOut']>({ pattern: [], lane: [] })
const MOST_EARLIER = 4
async function findEarlier(): Promise<void> {
  const params = { path: { pattern_id: pattern.id }, query: { lane: pattern.chosen } }
  try {
    earlier.value = await ask(api.GET('/api/patterns/{pattern_id}/chances', { params }))
  } catch {
    earlier.value = { pattern: [], lane: [] }
  }
}
const rerollEntries = computed<Entry[]>(() => {
  const reroll = (lane: string | null, seed?: number) => () => void pattern.commit([{ do: 'reroll', lane, seed }])
  const back = (seeds: number[], lane: string | null, of: string): Entry[] =>
    seeds.slice(0, MOST_EARLIER).map((seed) => ({ title: `Back to chances no. ${seed}${of}`, run: reroll(lane, seed) }))
  const all = [{ title: 'New chances for all lanes', run: reroll(null) }, ...back(earlier.value.pattern, null, '')]
  const lane = pattern.lane
  if (!lane) return all
  const own = [
    { title: `New chances for ${lane.name}`, apart: true, run: reroll(lane.id) },
    ...back(earlier.value.lane, lane.id, ` for ${lane.name}`),
  ]
  return [...all, ...own]
})
/** The button keeps what K keeps; when stopped, the last pass that was heard, if there is one. */
const keepsPass = computed(() => sounding.value !== null || trail.lastWhole !== null)
const keepTitle = computed(() => (
  player.again.length ? 'Keep this pass' : keepsPass.value ? 'Keep last pass' : 'Keep these bars'
))
</script>

<template>
  <section class="trail pane" :class="{ narrow }" aria-label="Trail" data-region>
    <div class="title">
      <span class="head">Trail</span>
      <PickMenu v-if="trail.passes.length > 2" label="Order of the Trail" :entries="orders">
        <template #opener="{ menu }"><button type="button" class="plain quiet sort"
          v-bind="menu">{{ ORDERS[order] }}</button></template>
      </PickMenu>
      <span v-else class="quiet">just heard</span>
    </div>
    <ol ref="strip" v-one-stop="'li'">
      <li
        v-for="pass in shown" :key="pass.id" :data-pass="pass.id"
        :class="{ chosen: chosen.includes(pass), sounding: player.again.includes(pass.id) }"
      >
        <button
          type="button" class="plain picture" data-press="shift" data-press-words="all up to here"
          :aria-pressed="chosen.includes(pass)"
          :aria-label="`Choose pass ${pass.number}`"
          :title="`Pass ${pass.passing} of the pattern: ${told(pass)}. Choose it; with Shift, all up to here`"
          @click="(event) => choose(pass.id, event.shiftKey)"
        ><RhythmThumb :thumb="pass.thumb" :lanes="lanes()" /></button>
        <span class="foot">
          <v-btn
            :icon="mdiPlay" size="x-small" class="hear" :aria-label="`Hear pass ${pass.number} again`"
            @click="player.hearAgain([pass.id])"
          />
          <span class="number">pass {{ pass.number }}<small>{{ order === 'strange' && pass.strange != null ? `${pass.strange.toFixed(1)} apart` : many(pass.thumb.notes, 'note') }}</small></span>
          <button
            type="button" class="plain keep"
            :aria-label="pass.kept ? `Pass ${pass.number} is kept; keep it again` : `Keep pass ${pass.number}`"
            @click="shelf.keep({ passes: [pass.id] })"
          >{{ pass.kept ? 'kept' : 'keep' }}</button>
        </span>
      </li>
      <li v-if="trail.passes.length === 0" class="none quiet">
        Play: every pass that you hear is laid down here, and can be kept afterwards.
      </li>
    </ol>
    <div v-if="chosen.length" class="tools" role="group" aria-label="Chosen passes">
      <span>
        bars <input v-model.number="firstBar" type="number" min="1" :max="lastBar" aria-label="First bar" /> to
        <input v-model.number="lastBar" type="number" :min="firstBar" :max="bars" aria-label="Last bar" /> of {{ bars }}
      </span>
      <span class="pair">
        <v-btn size="x-small" variant="flat" color="primary" @click="keepChosen">Keep chosen</v-btn>
        <v-btn size="x-small" @click="sendChosen">Send …</v-btn>
        <v-btn
          v-if="first && last && first !== last" size="x-small" @click="player.hearAgain([first.id, last.id])"
        >Compare {{ first.number }} with {{ last.number }}</v-btn>
        <v-btn v-else-if="first" size="x-small" @click="player.hearAgain([first.id], true)">Stay on it</v-btn>
      </span>
    </div>
    <div v-else class="tools" role="group" aria-label="Keep and reroll">
      <button type="button" class="plain act first" @click="shelf.keepLast">{{ keepTitle }}</button>
      <button type="button" class="plain act" :title="`${keepTitle}, and take it out as a MIDI file`"
        @click="shelf.takeOut(shelf.keepLast)">Keep as MIDI</button>
      <PickMenu label="Keep more" :entries="keepEntries">
        <template #opener="{ menu }"><button v-bind="menu" type="button" class="plain act"
          @click="heard = shelf.barsHeard()" @keydown="heard = shelf.barsHeard()">Keep …</button></template>
      </PickMenu>
      <PickMenu label="Reroll" :entries="rerollEntries">
        <template #opener="{ menu }"><button v-bind="menu" type="button" class="plain act" @click="findEarlier"
          @keydown="findEarlier">Reroll …</button></template>
      </PickMenu>
    </div>
  </section>
</template>

<style scoped>
.trail { display: flex; align-items: center; gap: 12px; min-width: 0; }
.title { display: grid; line-height: 1.3; flex: none; }
.title .head { font-size: 15px; }
.title .quiet { font-size: 12px; }
ol {
  list-style: none; display: flex; gap: 8px; overflow-x: auto; padding: 2px; flex: 1; min-width: 0;
  scrollbar-width: thin;
}
li {
  flex: none; width: 116px; background: var(--card); border: 1px solid var(--rule); border-radius: 8px;
  padding: 5px 7px 1px;
}
li.chosen { border-color: var(--ink); box-shadow: 0 0 0 1px var(--ink); }
li.sounding { background: color-mix(in srgb, var(--lamp) 30%, var(--card)); }
.picture { display: block; height: 30px; width: 100%; }
.foot { display: flex; align-items: center; font-size: 12px; }
.hear { margin-left: -7px; }
.number { flex: 1; white-space: nowrap; line-height: 1.05; }
.number small { display: block; font-size: 10.5px; color: var(--quiet); }
.sort { font-size: 12px; text-align: left; border-bottom: 2px dotted var(--quiet); }
.keep { color: var(--link); font-weight: 700; }
.none { flex: 0 1 auto; width: auto; font-size: 13px; border-style: dashed; padding: 14px; }
.tools { flex: none; display: flex; gap: 6px; align-items: center; font-size: 12.5px; }
.tools:has(.pair) { display: grid; gap: 4px; }
@media (max-width: 900px) { .trail { flex-wrap: wrap; } .trail ol { flex-basis: 60%; } }
.act {
  background: var(--card); border: 1px solid var(--rule); border-radius: 8px; padding: 6px 12px; font-weight: 600;
  white-space: nowrap;
}
.act:hover { border-color: var(--ink); }
.act.first {
  background: rgb(var(--v-theme-primary)); color: rgb(var(--v-theme-on-primary)); border-color: transparent;
}
.pair { display: flex; gap: 2px; }
.narrow { flex-wrap: wrap; gap: 4px 8px; }
.narrow .title { display: none; }
.narrow .tools { order: -1; flex-basis: 100%; flex-wrap: wrap; gap: 4px; }
.narrow .act { padding: 3px 9px; font-size: 12.5px; }
.narrow ol { flex-basis: 100%; }
input {
  width: 38px; font: inherit; color: var(--ink); background: var(--card); border: 1px solid var(--rule);
  border-radius: 5px; padding: 0 3px;
}
</style>
