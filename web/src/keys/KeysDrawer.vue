<script setup lang="ts">
/** A drawer of keys: notes of the key are marked, the root in another colour; what keys do is chosen beside them. */
import { useEventListener } from '@vueuse/core'
import { computed, onBeforeUnmount, ref } from 'vue'
import { lettersPlay, useMusicKeys } from '@/app/keyboard'
import { many } from '@/app/many'
import { rove } from '@/app/rove'
import { noteName } from '@/melody/noteName'
import { usePattern } from '@/pattern/pattern'
import { toldOf } from '@/pattern/toldOf'
import { useSession } from '@/session/session'
import { click, countIn } from '@/sound/click'
import { isBlack, KEY_ROW, LETTERS } from './keyMap'
import OtherScale from './OtherScale.vue'
import PoolPads from './PoolPads.vue'
import { useKeys, type Mode } from './useKeys'

const emit = defineEmits<{ close: [] }>()
const pattern = usePattern()
const keys = useKeys()
const session = useSession()
const { stepping } = keys
const LOWEST = 36
const HIGHEST = 83
const VELOCITY = 96
const octave = ref(4)
const base = computed(() => 12 * (octave.value + 1))
const degree = (pitch: number) => pattern.lane?.scale?.degrees[pitch % 12] ?? null
const letters = computed(
  () => new Map(Object.entries(KEY_ROW).map(([letter, above]) => [base.value + above, letter.toUpperCase()])),
)
/** What the lane's arpeggio holds is marked while keys hold. */
const heldNotes = computed(() => (keys.mode === 'hold' ? keys.held.map(({ note }) => note) : []))
const heldWords = computed(() => `${many(heldNotes.value.length, 'note')} held`)
const all = computed(() => {
  const found = []
  let white = 0
  for (let pitch = LOWEST; pitch <= HIGHEST; pitch += 1) {
    const black = isBlack(pitch)
    found.push({
      pitch, black, left: black ? white - 0.32 : white, down: keys.pressed.includes(pitch),
      held: heldNotes.value.includes(pitch), letter: letters.value.get(pitch) ?? '',
      degree: degree(pitch), name: noteName(pattern.lane?.scale, pitch),
    })
    if (!black) white += 1
  }
  return { keys: found, white }
})
const MODES: [Mode, string, string][] = [
  ['play', 'listen', 'keys are only heard'],
  ['live', 'live', 'over the running lane: pitch, loudness and length land on its steps'],
  ['steps', 'step by step', 'each key fills the next step; 1 rests, 2 ties, ← → move on; several at once are a chord'],
  ['hold', 'hold', 'they feed the lane’s arpeggio; with “stays” a held key that is pressed again is let go'],
  ['order', 'its order', 'keys write the order in which the lane walks, one after another; 1 rests, 2 holds on'],
  ['degrees', 'degrees', 'while held, the lane is moved: C4 not at all, the keys beside it by degrees'],
  ['semitones', 'semitones', 'while held, the lane is moved by semitones'],
  ['scale', 'draw the scale', 'each key puts its note into the scale, or takes it out; the root stays'],
  ['call', 'call', 'each key calls up a saved arpeggio while held, from C upward'],
]
/** Of a drum lane that walks, the drums that it may reach; while they are held, all drums, so that none moves away. */
const pads = computed(() => {
  const [lane, pool] = [pattern.lane, toldOf(pattern.view, pattern.chosen)?.pool]
  if (lane?.kind !== 'drum' || (!pool && keys.mode !== 'hold')) return null
  const all = keys.mode === 'hold' ? session.offered.drums.map(({ note }) => note) : []
  return [...new Set([...all, ...(pool?.row ?? [])])]
})
/** What a letter strikes: a pad, in their order, or a key above the lowest. */
const struckBy = (letter: string): number | undefined => {
  const above = KEY_ROW[letter]
  return above === undefined ? undefined : pads.value ? pads.value[LETTERS.indexOf(letter)] : base.value + above
}
const walks = computed(() => pattern.view?.chosen?.arpeggio?.pool === 'scale' || pattern.lane?.kind === 'pitched')
const about = computed(() => MODES.find(([mode]) => mode === keys.mode)?.[2] ?? '')
async function save(): Promise<void> {
  const arpeggio = pattern.view?.chosen?.arpeggio
  if (arpeggio) keys.saved = [...keys.saved, arpeggio].slice(-12)
}

let sliding = false
function slideTo(event: PointerEvent): void {
  if (!sliding) return
  const pitch = Number(
    (document.elementFromPoint(event.clientX, event.clientY) as HTMLElement | null)?.dataset.pitch ?? NaN,
  )
  if (Number.isNaN(pitch) || keys.pressed.includes(pitch)) return
  keys.releaseAll()
  keys.press(pitch, VELOCITY, true)
}
function pressed(event: PointerEvent, pitch: number): void {
  if (event.button !== 0) return
  ;(event.target as HTMLElement).releasePointerCapture(event.pointerId)
  sliding = true
  keys.press(pitch, VELOCITY, true)
}
useEventListener(document, ['pointerup', 'pointercancel'], () => {
  if (sliding) keys.releaseAll()
  sliding = false
})
/** A pad that is pressed by a key of its own: struck, and let go. */
function tap(pitch: number): void {
  keys.press(pitch, VELOCITY, true)
  setTimeout(() => keys.release(pitch), 120)
}
/** While the drawer is open, letters are keys, and reach nothing else; with Alt they do what they do elsewhere. */
useMusicKeys(({ key, shift, alt, command, repeat, free, time }) => {
  if (command || alt) return null
  const struck = struckBy(key)
  if (struck !== undefined) return () => repeat || keys.press(struck, shift ? 120 : VELOCITY, false, time)
  if (key === 'z' || key === 'x') return () =>
    (octave.value = Math.min(8, Math.max(0, octave.value + (key === 'z' ? -1 : 1))))
  if (keys.mode === 'order' && (key === '1' || key === '2')) return () => void keys.writeOrder([], key === '2')
  if (keys.mode !== 'steps') return null
  if (key === '1' || key === '2') return () => void stepping.fill([], key === '2')
  if (free && (key === 'ArrowLeft' || key === 'ArrowRight')) return () => stepping.move(key === 'ArrowLeft' ? -1 : 1)
  return null
}, true)
useEventListener(document, 'keyup', (event: KeyboardEvent) => {
  const struck = struckBy(event.key.toLowerCase())
  if (struck !== undefined) keys.release(struck, event.timeStamp)
})
useEventListener(window, 'blur', keys.releaseAll)
lettersPlay.value = true
onBeforeUnmount(() => {
  keys.releaseAll()
  lettersPlay.value = false
})
</script>

<template>
  <section class="drawer pane" aria-label="Keys" data-region>
    <div class="about">
      <span class="head">Keys</span>
      <span class="quiet">A W S E D … play,<br />Z X move by octaves</span>
      <span class="quiet">with Alt: K keeps, R rerolls, S stays, G gusts</span>
    </div>
    <PoolPads v-if="pads" :pads="pads" :held="heldNotes" @tap="pressed" @press="tap" />
    <div v-else class="piano" @pointermove="slideTo">
      <button
        v-for="key in all.keys" :key="key.pitch" type="button" class="plain key"
        :class="{ black: key.black, down: key.down, held: key.held }" tabindex="-1"
        :style="{ left: `${(key.left / all.white) * 100}%`, width: `${((key.black ? 0.64 : 1) / all.white) * 100}%` }"
        :aria-label="key.name" :aria-pressed="key.held || undefined" :title="key.name" :data-pitch="key.pitch"
        @pointerdown="(event) => pressed(event, key.pitch)"
      >
        <i v-if="key.letter" class="letter">{{ key.letter }}</i>
        <i v-if="key.degree" class="mark" :class="{ root: key.degree === 'root' }" />
      </button>
    </div>
    <div class="does">
      <span role="radiogroup" aria-label="What keys do" class="modes" @keydown="rove">
        <button
          v-for="[mode, title, what] in MODES" :key="mode" type="button" class="plain tool" role="radio"
          :aria-checked="keys.mode === mode"
          :tabindex="keys.mode === mode ? 0 : -1" :title="what" @click="keys.setMode(mode)"
        >{{ title }}</button>
      </span>
    </div>
    <div class="does">
      <b v-if="keys.mode === 'steps'" class="next" role="status" aria-label="Next">{{ stepping.words }}</b>
      <span class="quiet what" :title="about"><b v-if="keys.mode === 'hold'">{{ heldWords }}</b> {{ about }}</span>
      <span class="switches">
        <template v-if="keys.mode === 'steps'">
          <template v-if="!stepping.row">
            <button type="button" class="plain tool" title="The step rests: 1" @click="stepping.fill([])">rest</button>
            <button type="button" class="plain tool" title="The note before goes on: 2"
              @click="stepping.fill([], true)">tie</button>
          </template>
          <button type="button" class="plain tool" @click="stepping.restart(false)">the first</button>
          <button type="button" class="plain tool" :aria-pressed="stepping.place.begin"
            title="The next key begins anew: all that is there goes"
            @click="stepping.restart(!stepping.place.begin)">from nothing</button>
          <label title="The row of pitches alone is written; the rhythm stays"><input v-model="stepping.row"
            type="checkbox" /> only pitches</label>
        </template>
        <template v-if="keys.mode === 'order'">
          <button type="button" class="plain tool" title="Nothing is played: 1" @click="keys.writeOrder([])">rest</button>
          <button type="button" class="plain tool" title="What was played goes on: 2"
            @click="keys.writeOrder([], true)">hold on</button>
          <button type="button" class="plain tool" :aria-pressed="keys.begins" title="The next key begins the order anew"
            @click="keys.beginOrder">from nothing</button>
        </template>
        <OtherScale v-if="walks && (keys.mode === 'play' || keys.mode === 'order')" />
        <template v-if="keys.mode === 'hold'">
          <label><input v-model="keys.latched" type="checkbox" /> stays</label>
          <label><input v-model="keys.adding" type="checkbox" /> adds</label>
          <label title="The sustain pedal holds notes too, unless it is let alone"><input v-model="keys.pedalAlone"
            type="checkbox" /> pedal alone</label>
        </template>
        <template v-if="keys.mode === 'call'">
          <button type="button" class="plain tool" :disabled="!pattern.view?.chosen?.arpeggio"
            @click="save">save this arpeggio ({{ keys.saved.length }})</button>
          <button v-if="keys.saved.length" type="button" class="plain tool" @click="keys.saved = []">forget all</button>
        </template>
        <template v-if="keys.mode !== 'steps' && keys.mode !== 'order'">
          <label><input v-model="click" type="checkbox" /> click</label>
          <label><input v-model="countIn" type="checkbox" /> count-in</label>
        </template>
        <button type="button" class="plain tool" aria-label="Close the keys" @click="emit('close')">×</button>
      </span>
    </div>
  </section>
</template>

<style scoped>
.drawer {
  display: grid; grid-template: auto / 126px minmax(0, 1fr); gap: 4px 12px; flex: none; background: var(--card);
  border: 1px solid var(--rule); border-radius: 12px; padding: 6px 12px;
}
.about { display: flex; flex-direction: column; gap: 2px; font-size: 12px; line-height: 1.25; grid-row: 1 / 4; }
.about .head { font-size: 16px; line-height: 1.2; }
.piano { position: relative; height: 50px; touch-action: none; user-select: none; }
.key {
  position: absolute; top: 0; bottom: 0; background: #fffdf6; border: 1px solid #b9ad92; border-radius: 0 0 4px 4px;
}
.key.black { height: 60%; bottom: auto; background: #55496e; border-color: #43365f; z-index: 1; }
.key.down { background: var(--lane, #64489a); }
.key.held {
  background: color-mix(in srgb, var(--lane, #64489a) 55%, #fffdf6); box-shadow: inset 0 -5px var(--lane, #64489a);
}
.key.black.held { background: color-mix(in srgb, var(--lane, #64489a) 60%, #55496e); }
.letter {
  position: absolute; left: 0; right: 0; top: 3px; text-align: center; font-size: 9.5px; font-style: normal;
  color: #6d6480; pointer-events: none;
}
.black .letter, .down .letter { color: #fff; }
.mark {
  position: absolute; left: 50%; bottom: 4px; width: 6px; height: 6px; margin-left: -3px; background: #a99c80;
  transform: rotate(45deg); pointer-events: none;
}
.black .mark { background: #f2e7cd; }
.mark.root { background: #b3452f; width: 8px; height: 8px; margin-left: -4px; }
.does {
  grid-column: 2; display: flex; justify-content: space-between; align-items: center; gap: 12px; font-size: 12.5px;
}
.modes { display: flex; gap: 3px; flex: none; }
.what { flex: 1; min-width: 0; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.next { flex: none; white-space: nowrap; }
.switches { display: flex; gap: 10px; align-items: center; flex: none; }
.does :deep(.tool) {
  font-size: 12px; line-height: 19px; border: 1px solid var(--rule); border-radius: 10px; padding: 0 7px;
}
.modes .tool { padding: 0 5px; }
.does :deep(.tool:is([aria-checked='true'], [aria-pressed='true'])) { background: var(--ink); color: var(--card); }
</style>
