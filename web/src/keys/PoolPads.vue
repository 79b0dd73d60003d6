<script setup lang="ts">
/**
 * Pads in place of the keys, for a drum lane: each drum that its walk goes over, by name and with a picture of where
 * it plays in what is in sight, to be tapped or exchanged for another; and, while notes are held, further drums.
 */
import { mdiSwapHorizontal } from '@mdi/js'
import { computed, ref } from 'vue'
import RhythmThumb from '@/app/RhythmThumb.vue'
import DrumMenu from '@/drum/DrumMenu.vue'
import { usePattern } from '@/pattern/pattern'
import { toldOf } from '@/pattern/toldOf'
import { useSession } from '@/session/session'
import { usePlayer } from '@/sound/player'
import { LETTERS } from './keyMap'
import { useKeys } from './useKeys'

const props = defineProps<{ pads: number[]; held: number[] }>()
const emit = defineEmits<{ tap: [event: PointerEvent, pitch: number]; press: [pitch: number] }>()
const pattern = usePattern()
const session = useSession()
const player = usePlayer()
const keys = useKeys()

const pads = computed(() => {
  const row = toldOf(pattern.view, pattern.chosen)?.pool?.row ?? []
  return props.pads.map((pitch, place) => {
    const heard = keys.heardAs(pitch)
    return {
      pitch, heard, letter: LETTERS[place]?.toUpperCase() ?? '', name: session.drums[heard] ?? `note ${heard}`,
      held: props.held.includes(pitch), place: row.indexOf(pitch) + 1,
    }
  })
})
/** Where a drum plays in what is in sight. */
function thumb(pitch: number) {
  const [from, beats] = [pattern.start, pattern.span]
  const notes = (pattern.lane?.drawn.notes ?? [])
    .filter(([start, , own]) => own === pitch && start >= from && start < from + beats)
    .map(([start, , , velocity]) => [(start - from) / beats, velocity] as [number, number])
  return { bars: pattern.viewBars, notes: notes.length, lanes: [{ id: pattern.chosen ?? '', name: '', notes }] }
}
const lanes = computed(() => pattern.view?.lanes.map(({ id }) => id) ?? [])
const choosing = ref(false)
const leaving = ref(0)
function exchange(pitch: number): void {
  leaving.value = pitch
  choosing.value = true
}
function chosen(instead: number): void {
  if (pattern.chosen) void pattern.commit([{ do: 'exchange', lane: pattern.chosen, note: leaving.value, instead }])
}
</script>

<template>
  <div v-one-stop class="pads" role="group" aria-label="Drums of the walk">
    <span v-for="pad in pads" :key="pad.pitch" class="pad" :class="{ held: pad.held }">
      <button
        type="button" class="plain tap" :data-pitch="pad.pitch" :title="pad.name" :aria-pressed="pad.held || undefined"
        @pointerdown="(event) => emit('tap', event, pad.pitch)" @keydown.enter.prevent="emit('press', pad.pitch)"
      >
        <span class="name"><i v-if="pad.place">{{ pad.place }}</i> {{ pad.name }} <i class="letter">{{ pad.letter }}</i></span>
        <RhythmThumb class="picture" :thumb="thumb(pad.heard)" :lanes="lanes" />
      </button>
      <button
        v-if="pad.place" type="button" class="plain swap" :aria-label="`Exchange ${pad.name}`"
        :title="`Exchange ${pad.name} for another drum`" @click="exchange(pad.pitch)"
      ><svg viewBox="0 0 24 24" aria-hidden="true"><path :d="mdiSwapHorizontal" /></svg></button>
    </span>
    <DrumMenu v-model="choosing" :note="leaving" @chosen="chosen" @hear="(note) => player.audition(note)" />
  </div>
</template>

<style scoped>
.pads { display: flex; gap: 4px; height: 50px; overflow: auto hidden; touch-action: none; user-select: none; }
.pad {
  position: relative; display: flex; flex: 1 0 88px; max-width: 150px; background: #fffdf6; border: 1px solid #b9ad92;
  border-radius: 6px; color: #2c2340;
}
.pad.held { background: color-mix(in srgb, var(--lane, #64489a) 35%, #fffdf6); box-shadow: inset 0 -4px var(--lane, #64489a); }
.tap { flex: 1; min-width: 0; display: flex; flex-direction: column; padding: 3px 6px; text-align: left; }
.name { display: block; padding-right: 20px; font-size: 12px; line-height: 15px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.name i { font-style: normal; color: #6d6480; font-size: 11px; }
.picture { flex: 1; min-height: 0; }
.swap { position: absolute; top: 0; right: 0; width: 24px; height: 24px; line-height: 0; padding: 4px; }
.swap svg { width: 16px; height: 16px; fill: #6d6480; }
.swap:hover svg { fill: #2c2340; }
</style>
