<script setup lang="ts">
/** What hands can do while it plays: a card a pattern to go to, and cards for what lasts while a key is held. */
import { computed } from 'vue'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import RhythmThumb from '@/app/RhythmThumb.vue'
import { noteName } from '@/melody/noteName'
import { usePiece } from '@/pieces/piece'
import { FIRST_NOTE, HELD_KEYS, PATTERN_KEYS } from './handKeys'
import { useOrder } from './order'
import { usePlaying, type When } from './playing'

const piece = usePiece()
const order = useOrder()
const player = usePlaying()
const WHEN: Record<When, string> = {
  step: 'at the next step', beat: 'at the next beat', bar: 'at the next bar', pass: 'at the next pass',
}
const cards = computed(
  () => piece.patterns.map((pattern, i) => ({
    ...pattern, key: PATTERN_KEYS[i] ?? '', note: noteName(null, FIRST_NOTE + i),
  })),
)
const lanes = computed(() => [
  ...new Set(piece.patterns.flatMap((pattern) => pattern.thumb.lanes.map(({ name }) => name))),
])
const left = computed(() => player.left.filter((name) => lanes.value.includes(name)))
const leftText = computed(() => (left.value.length ? `all but ${left.value.join(', ')}` : 'all lanes'))
const laneEntries = computed<Entry[]>(() => lanes.value.map((name) => ({
  title: name, chosen: left.value.includes(name),
  run: () =>
    (player.left = left.value.includes(name) ? left.value.filter((each) => each !== name) : [...left.value, name]),
})))
function drag(event: DragEvent, pattern: number): void {
  event.dataTransfer?.setData('application/x-jolly-pattern', String(pattern))
}
/** A pointer holds a card as a key does. */
function down(event: PointerEvent, pattern: number): void {
  if (event.button !== 0 || !(player.whileHeld !== event.shiftKey)) return
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  player.goTo(pattern, player.playing)
}
function click(event: MouseEvent, pattern: number): void {
  if (!(player.whileHeld !== event.shiftKey)) player.goTo(pattern, false)
}
const tell = (pattern: number) => player.going === pattern ? 'coming' : player.sounding === pattern ? 'sounds now' : ''
</script>

<template>
  <section class="hand" aria-label="By hand" data-region>
    <header>
      <h2>By hand</h2>
      <span class="quiet">
        press a key to go there
        <select v-model="player.when" class="pick" aria-label="When the pattern changes"><option
          v-for="(text, each) in WHEN" :key="each" :value="each">{{ text }}</option></select>,
        <select v-model="player.whileHeld" class="pick" aria-label="How long it stays"><option
          :value="false">to stay</option><option :value="true">only while held</option></select>;
        {{ player.whileHeld ? 'with Shift to stay' : 'with Shift to come back on release' }}
      </span>
      <button v-if="player.waiting !== null" type="button" class="plain back"
        @click="player.backToOrder">back to the order <kbd>A</kbd></button>
    </header>
    <ol class="cards">
      <li v-for="card in cards" :key="card.id">
        <button
          type="button" class="plain card"
          :class="{ now: player.sounding === card.id, going: player.going === card.id }" draggable="true"
          :title="`${card.name}: ${card.key ? `key ${card.key}, ` : ''}note ${card.note} of a MIDI keyboard; drag it into the order`"
          @dragstart="drag($event, card.id)" @pointerdown="down($event, card.id)" @pointerup="player.comeBack(card.id)"
          @pointercancel="player.comeBack(card.id)" @click="click($event, card.id)"
        >
          <span class="top"><b><span class="unseen">Go to </span>{{ card.name }}</b><kbd
            v-if="card.key">{{ card.key }}</kbd></span>
          <span class="picture"><RhythmThumb :thumb="card.thumb" /></span>
          <span class="state">{{ tell(card.id) || card.note }}</span>
        </button>
        <button type="button" class="plain add" :aria-label="`Add ${card.name} to the order`" title="Add to the order"
          @click="order.commit([{ do: 'add_block', pattern: card.id }], order.view?.blocks.length ?? 0)">+</button>
      </li>
    </ol>
    <header><h2>While held</h2></header>
    <div class="cards held">
      <div class="card" :class="{ now: player.held.repeat }">
        <span class="top"><b>repeat the last</b><kbd>{{ HELD_KEYS.repeat }}</kbd></span>
        <select v-model="player.hands.repeat" class="pick" aria-label="How much is repeated"><option
          v-for="each in ['1/4', '1/8', '1/16', '1/32']" :key="each">{{ each }}</option></select>
      </div>
      <div v-for="way in (['higher', 'lower'] as const)" :key="way" class="card" :class="{ now: player.held[way] }">
        <span class="top"><b>{{ way }}</b><kbd>{{ HELD_KEYS[way] }}</kbd></span>
        <span>
          <select v-model.number="player.hands.by" class="pick" :aria-label="`How far ${way}`"><option v-for="n in 12"
            :key="n" :value="n">{{ n }}</option></select>
          <select v-model="player.hands.unit" class="pick" :aria-label="`${way}, counted in`">
            <option value="degrees">{{ player.hands.by === 1 ? 'degree' : 'degrees' }}</option><option
              value="semitones">{{ player.hands.by === 1 ? 'semitone' : 'semitones' }}</option>
          </select>
        </span>
      </div>
      <div class="card" :class="{ now: player.held.silence }">
        <span class="top"><b>silence</b><kbd>{{ HELD_KEYS.silence }}</kbd></span>
        <PickMenu label="Lanes that go on" :entries="laneEntries">
          <template #opener="{ menu }"><button v-bind="menu" type="button" class="plain pick lanes"
            :title="leftText">{{ leftText }}</button></template>
        </PickMenu>
      </div>
    </div>
  </section>
</template>

<style scoped>
.hand { display: flex; flex-direction: column; gap: 5px; min-width: 0; }
header { display: flex; align-items: baseline; gap: 16px; font-size: 13px; }
h2 { font-size: 17px; line-height: 1.3; }
.pick {
  font: inherit; font-weight: 650; color: var(--ink); background: transparent; border: 0;
  border-bottom: 2px dotted var(--link); max-width: 100%;
}
.back { margin-left: auto; color: var(--link); font-weight: 650; }
kbd {
  font: 500 12px 'Figtree Variable', sans-serif; color: var(--quiet); border: 1px solid var(--rule); border-radius: 4px;
  padding: 0 5px; line-height: 16px; background: color-mix(in srgb, var(--card) 60%, transparent);
}
.cards { list-style: none; display: flex; gap: 8px; overflow-x: auto; scrollbar-width: thin; padding: 2px; }
.cards li { position: relative; flex: none; }
.card {
  display: flex; flex-direction: column; gap: 3px; width: 134px; background: var(--card); border: 1px solid var(--rule);
  border-radius: 12px; padding: 6px 10px; font-size: 13px; text-align: left; flex: none;
}
.cards .card:is(button) { height: 84px; }
button.card:hover { border-color: var(--ink); }
.now {
  border-color: var(--ink); box-shadow: 0 0 0 1px var(--ink);
  background: color-mix(in srgb, var(--lamp) 26%, var(--card));
}
.going { border-style: dashed; border-color: var(--ink); }
.top { display: flex; justify-content: space-between; gap: 6px; align-items: baseline; }
.top b {
  font-family: 'Fraunces Variable', serif; font-weight: 600; font-size: 14.5px; white-space: nowrap; overflow: hidden;
  text-overflow: ellipsis;
}
.held .top b { font: 650 13.5px 'Figtree Variable', sans-serif; }
.picture { display: block; flex: 1; min-height: 0; }
.state { font-size: 11.5px; line-height: 14px; color: var(--quiet); }
.add {
  position: absolute; right: 5px; bottom: 5px; width: 24px; height: 24px; line-height: 22px; border-radius: 7px;
  border: 1px solid var(--rule); background: var(--card); text-align: center; color: var(--link); font-weight: 700;
}
.add:hover { border-color: var(--ink); }
.held .card { width: 138px; }
.lanes { white-space: nowrap; overflow: hidden; text-overflow: ellipsis; text-align: left; }
</style>
