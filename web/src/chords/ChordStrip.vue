<script setup lang="ts">
/** The progression under the ruler: each chord picked or typed, its length dragged; heard when it is chosen. */
import { computed, ref, watch } from 'vue'
import type { Edit, View } from '@/api/client'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import AskName from '@/app/AskName.vue'
import { ratio } from '@/app/ratio'
import { useEscape } from '@/app/useEscape'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'

type Shown = View['chords'][number]
const props = defineProps<{
  progression: NonNullable<View['progression']>; chords: View['chords']; offered: View['chords_offered']
  /** Progressions in common use. */
  inUse: View['progressions_offered']; start: number; span: number; head: number; width: number
}>()
const pattern = usePattern()
const player = usePlayer()

/** The progression as it is stored: each chord once. A later time round stands for the first. */
const all = computed(() => {
  const known = new Map<number, Shown>()
  for (const chord of props.chords) known.set(chord.number, chord)
  return known
})
const words = computed(() => props.progression.words)
const beats = computed(() => props.progression.beats)
const bars = computed(() => {
  const whole = beats.value.reduce((sum, each) => sum + ratio(each), 0) / pattern.bar
  return Number.isInteger(whole)
    ? `round after ${whole} ${whole === 1 ? 'bar' : 'bars'}`
    : `round after ${Number(whole.toFixed(2))} bars`
})
const x = (beat: number) => ((beat - props.start) / props.span) * props.width
const seen = computed(
  () => props.chords.filter((chord) => chord.end > props.start + 1e-6 && chord.start < props.start + props.span - 1e-6),
)

const edit = (next: string[], lengths: (string | number)[]): Edit[] => [{ do: 'chords', words: next, beats: lengths }]
const replaced = <T,>(list: readonly T[], at: number, ...items: T[]): T[] =>
  [...list.slice(0, at), ...items, ...list.slice(at + 1)]
async function put(number: number, word: string): Promise<boolean> {
  const taken = await pattern.commit(edit(replaced(words.value, number, word), beats.value))
  if (taken) hear(number)
  return taken
}
function hear(number: number): void {
  const chord = all.value.get(number)
  if (chord) void player.hearChord(chord.classes)
}
const entries = (number: number): Entry[] => [
  ...props.offered.map(({ word, name }, i) => ({
    title: word, about: name, chosen: words.value[number] === word, group: i === 0 ? 'in the key' : undefined,
    run: () => void put(number, word),
  })),
  { title: 'Type a chord …', group: 'or', run: () => ask(number) },
  { title: 'Another after it', run: () => void pattern.commit(edit(
    [...words.value.slice(0, number + 1), words.value[number] ?? props.offered[0]?.word ?? 'I', ...words.value.slice(number + 1)],
    [...beats.value.slice(0, number + 1), beats.value[number] ?? '4', ...beats.value.slice(number + 1)])) },
  { title: 'Take it away', disabled: words.value.length < 2, run: () => void pattern.commit(edit(
    words.value.filter((_, i) => i !== number), beats.value.filter((_, i) => i !== number))) },
]
const progressions = computed<Entry[]>(() => props.inUse.map(({ text, about, fits }, i, all) => ({
  title: text, about, group: fits === all[i - 1]?.fits ? undefined : fits ? 'of this kind of key' : 'of the other kind',
  run: () => void putAll(text),
})))
/** A whole progression, one bar for each chord. */
function putAll(text: string): Promise<boolean> {
  const set = (slot: string, value: string): Edit => ({ do: 'set', lane: null, slot, value, also: [] })
  return pattern.commit([set('chords.beats', 'one bar each'), set('chords.text', text.split(/[\s,|]+/).join(' '))])
}
/** A progression that was typed and refused, to be put right. */
const refused = ref('')
const mending = ref(false)
async function typeAll(text: string): Promise<void> {
  refused.value = text
  mending.value = !(await putAll(text))
}
/**
 * Where the key has gone on from a root, and chords are written by their names: what becomes of them is asked once.
 * What is undone or tried out asks nothing.
 */
const leftRoot = ref<number | null>(null)
const stored = { pattern: pattern.id, root: props.progression.root }
watch(() => [pattern.id, props.progression, pattern.tried] as const, ([id, { root, named }, tried]) => {
  if (tried.length) return
  const before = id === stored.pattern ? leftRoot.value ?? stored.root : root
  if (id !== stored.pattern || root !== stored.root) {
    leftRoot.value = named && root !== before && pattern.history.redo === null ? before : null
  }
  Object.assign(stored, { pattern: id, root })
})
async function rewrite(how: 'move' | 'numerals'): Promise<void> {
  const root = leftRoot.value
  leftRoot.value = null
  if (root !== null) await pattern.commit([{ do: 'rewrite_chords', root, how }])
}

const asking = ref(false)
const asked = ref(0)
function ask(number: number): void {
  asked.value = number
  asking.value = true
}

/** Dragging a chord's end: in quarters of a beat, in whole beats unless Alt is held. */
let pulled: { number: number; from: number; beats: number } | null = null
const dragging = ref(false)
function take(event: PointerEvent, chord: Shown): void {
  ;(event.target as HTMLElement).setPointerCapture(event.pointerId)
  pulled = { number: chord.number, from: event.clientX, beats: ratio(chord.beats) }
  dragging.value = true
}
function pull(event: PointerEvent): void {
  if (!pulled) return
  const grid = event.altKey ? 4 : 1
  const raw = pulled.beats + ((event.clientX - pulled.from) / props.width) * props.span
  const length = Math.min(1024, Math.max(1 / grid, Math.round(raw * grid) / grid))
  void pattern.preview(edit(words.value, replaced<string | number>(beats.value, pulled.number, length)))
  latest = length
}
let latest: number | null = null
function letGo(): void {
  if (pulled && latest !== null) {
    void pattern.commit(edit(words.value, replaced<string | number>(beats.value, pulled.number, latest)))
  }
  pulled = latest = null
  dragging.value = false
}
useEscape(() => dragging.value, () => {
  pulled = latest = null
  dragging.value = false
  void pattern.preview([])
})
function key(event: KeyboardEvent, chord: Shown): void {
  const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
  if (!by) return
  event.preventDefault()
  event.stopPropagation()
  const length = Math.max(0.25, ratio(chord.beats) + by * (event.altKey ? 0.25 : 1))
  void pattern.commit(edit(words.value, replaced<string | number>(beats.value, chord.number, length)))
}
</script>

<template>
  <section aria-label="Chords" :style="{ marginLeft: `${-head}px` }">
    <div class="strip">
    <div class="about" :style="{ width: `${head}px` }">
      <PickMenu label="Progressions in common use" find="Find or type: Dm7 G7 C" free :entries="progressions"
        @typed="typeAll">
        <template #opener="{ menu }"><button v-bind="menu" type="button"
          class="plain head title">Chords</button></template>
      </PickMenu>
      <span class="quiet">{{ bars }}</span>
    </div>
    <div class="blocks" :style="{ width: `${width}px` }">
      <div
        v-for="chord in seen" :key="chord.start" class="block"
        :class="{ again: chord.start >= beats.reduce((sum, each) => sum + ratio(each), 0) - 1e-6 }"
        :style="{ left: `${x(chord.start)}px`, width: `${x(chord.end) - x(chord.start)}px` }"
      >
        <PickMenu :label="`Chord ${chord.number + 1}`" find="Find a chord" :entries="entries(chord.number)">
          <template #opener="{ menu }">
            <button v-bind="menu" type="button" class="plain word"
              :aria-label="`Chord ${chord.number + 1}: ${chord.word}, ${chord.name}`"
              @dblclick.stop="ask(chord.number)">{{ chord.word }}</button>
          </template>
        </PickMenu>
        <button type="button" class="plain quiet name" :title="`Hear ${chord.name}`"
          @click="hear(chord.number)">{{ chord.name === chord.word ? '' : chord.name }}</button>
        <span
          class="end" role="slider" tabindex="0" :aria-label="`Beats of chord ${chord.number + 1}`"
          :aria-valuenow="ratio(chord.beats)" :aria-valuetext="`${chord.beats} beats`"
          aria-valuemin="0.25" aria-valuemax="1024" title="Drag its length; with Alt in quarters of a beat"
          data-press="alt" data-press-words="in quarters of a beat"
          @pointerdown.stop="(event) => take(event, chord)" @pointermove="pull" @pointerup="letGo"
          @pointercancel="letGo" @keydown="(event) => key(event, chord)"
        />
      </div>
    </div>
    </div>
    <p v-if="leftRoot !== null" class="asks" role="status" :style="{ paddingLeft: `${head}px` }">
      The key has another root now, and these chords are written by their names:
      <button type="button" class="plain act" @click="rewrite('move')">move them along</button>
      <button type="button" class="plain act" @click="rewrite('numerals')">make them numerals</button>
      <button type="button" class="plain act" @click="leftRoot = null">leave them</button>
    </p>
    <AskName v-model="asking" title="The chord" label="Such as ii7, bVII, V7/V, Dm7, C/E" action="Set"
      :name="words[asked] ?? ''" @named="(word) => put(asked, word.trim())" />
    <AskName v-model="mending" title="The chords" label="Chords, one bar each" action="Set" empty :name="refused"
      @named="putAll" />
  </section>
</template>

<style scoped>
.strip { display: flex; height: 28px; margin-bottom: 2px; }
.asks { display: flex; flex-wrap: wrap; gap: 4px 12px; font-size: 13px; margin: 0 0 4px; }
.act { color: var(--link); font-weight: 650; }
.about {
  flex: none; display: flex; align-items: baseline; gap: 6px; padding: 3px 8px 0 10px; font-size: 12px;
  white-space: nowrap; overflow: hidden;
}
.title { font-size: 15px; border-bottom: 2px dotted var(--quiet); line-height: 1.15; }
.blocks { position: relative; overflow: hidden; }
.block {
  position: absolute; top: 0; bottom: 2px; display: flex; align-items: baseline; gap: 6px; padding: 1px 8px 0 9px;
  background: var(--card); border: 1px solid var(--rule); border-radius: 6px; overflow: hidden;
}
.block.again { background: var(--paper); }
.word {
  font-family: 'Fraunces Variable', serif; font-size: 15px; font-weight: 650; line-height: 1.2;
  border-bottom: 2px dotted var(--quiet); white-space: nowrap;
}
.name { font-size: 12px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; min-width: 0; }
.end {
  position: absolute; right: 0; top: 3px; bottom: 3px; width: 9px; border-right: 3px solid var(--ink);
  cursor: ew-resize; touch-action: none;
}
@media (pointer: coarse) {
  .strip { height: 54px; }
  .end { width: 30px; }
  .title, .word { border-bottom: 0; text-decoration: underline dotted 2px; text-underline-offset: 3px; }
}
</style>
