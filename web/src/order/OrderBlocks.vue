<script setup lang="ts">
/**
 * The blocks of the order, each as wide as it lasts: chosen, moved by dragging, longer or shorter by the bracket at
 * their end; under them the brackets between which the order goes round; a pattern's card can be dropped among them.
 */
import { useElementSize, usePreferredReducedMotion, useRafFn } from '@vueuse/core'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { goHome } from '@/app/keyboard'
import RhythmThumb from '@/app/RhythmThumb.vue'
import { useEscape } from '@/app/useEscape'
import { usePiece } from '@/pieces/piece'
import { useOrder } from './order'
import { usePlaying } from './playing'

const order = useOrder()
const player = usePlaying()
const piece = usePiece()
const box = useTemplateRef<HTMLElement>('box')
const rail = useTemplateRef<HTMLElement>('rail')
const { width } = useElementSize(box)
const GAP = 5
/** The shortest block is so wide, where the order has room to scroll. */
const NARROWEST = 46
const WIDEST = 16_000

const blocks = computed(() => order.view?.blocks ?? [])
const seconds = computed(() => blocks.value.map((block) => (block.beats * 60) / block.tempo))
/** Pixels a second: all of it in sight, or more where the shortest block would be too narrow. */
const scale = computed(() => {
  const all = seconds.value.reduce((sum, each) => sum + each, 0)
  if (!all) return 1
  const fits = (width.value - 24) / all
  return Math.min(Math.max(fits, NARROWEST / Math.min(...seconds.value)), Math.max(fits, WIDEST / all))
})
const lefts = computed(() => {
  let left = 0
  return seconds.value.map((each) => {
    left += each * scale.value
    return left - each * scale.value
  })
})
const whole = computed(() => seconds.value.reduce((sum, each) => sum + each, 0) * scale.value)
const wide = (place: number) => Math.max(14, (seconds.value[place] ?? 0) * scale.value - GAP)
/** Where the passes after the first begin in a block, as shares of it; none where they would be too close. */
function passes(place: number): number[] {
  const block = blocks.value[place]
  if (!block || block.problem) return []
  const count = (block.end - block.start) / block.frame_beats
  const some = Array.from({ length: Math.max(0, Math.ceil(count - 1e-6) - 1) }, (_, i) => (i + 1) / count)
  return some.length && wide(place) / count > 8 ? some : []
}
const barText = (bar: number) =>
  (Math.abs(bar - Math.round(bar)) < 1e-6 ? String(Math.round(bar)) : `${Math.floor(bar)} +`)

// Where the sound is.
const motion = usePreferredReducedMotion()
const head = ref<number | null>(null)
useRafFn(() => {
  const beat = player.playing && player.place ? (motion.value === 'reduce' ? player.place.at : player.beatNow()) : null
  const at = beat === null ? -1 : blocks.value.findIndex((block) => beat < block.at + block.beats)
  const block = blocks.value[at]
  head.value = block && beat !== null
    ? (lefts.value[at] ?? 0) + ((beat - block.at) / block.beats) * (seconds.value[at] ?? 0) * scale.value
    : null
})

// Dragging a block to another place, its end, or an end of the brackets.
type Held = {
  what: 'block' | 'end'; place: number; from: number; to: number,
} | { what: 'first' | 'last'; from: number; to: number }
const held = ref<Held | null>(null)
let travelled = 0
const under = (event: { clientX: number }) => event.clientX - (rail.value?.getBoundingClientRect().left ?? 0)
/** The gap between blocks that is nearest to a place on the rail, from 0 to their number. */
function gapAt(x: number): number {
  const middles = blocks.value.map((_, place) => (lefts.value[place] ?? 0) + wide(place) / 2)
  const found = middles.findIndex((middle) => x < middle)
  return found < 0 ? blocks.value.length : found
}
const blockAt = (x: number) => Math.max(0, blocks.value.findLastIndex((_, place) => x >= (lefts.value[place] ?? 0)))
function press(event: PointerEvent, what: Held['what'], place = 0): void {
  if (event.button !== 0) return
  travelled = 0
  held.value = {
    what, place, from: event.clientX,
    to: what === 'block' ? place : what === 'end' ? (blocks.value[place]?.count ?? 1) : (
      order.view?.between?.[what === 'first' ? 0 : 1] ?? 0
    ),
  }
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  event.stopPropagation()
}
function drag(event: PointerEvent): void {
  const now = held.value
  if (!now) return
  travelled = Math.max(travelled, Math.abs(event.clientX - now.from))
  if (travelled < 5) return
  if (now.what === 'block') held.value = { ...now, to: gapAt(under(event)) }
  else if (now.what === 'end') {
    const block = blocks.value[now.place]
    if (!block) return
    const each = ((block.each * 60) / block.tempo) * scale.value
    const to = Math.min(512, Math.max(1, Math.round((under(event) - (lefts.value[now.place] ?? 0)) / each)))
    if (to === now.to) return
    held.value = { ...now, to }
    void order.preview([{ do: 'set_length', block: now.place, count: to }])
  } else {
    held.value = { ...now, to: blockAt(under(event)) }
  }
}
function release(): void {
  const now = held.value
  held.value = null
  if (!now) return
  if (now.what === 'block') {
    if (travelled < 5) return order.choose(now.place)
    const to = now.to > now.place ? now.to - 1 : now.to
    if (to !== now.place) void order.commit([{ do: 'move_block', block: now.place, to }], to)
  } else if (now.what === 'end') {
    if (travelled >= 5) void order.commit([{ do: 'set_length', block: now.place, count: now.to }], now.place)
  } else if (shown.value && travelled >= 5) void order.commit([{ do: 'between', blocks: shown.value }])
}
function abandon(): void {
  held.value = null
  void order.preview([])
}
useEscape(() => held.value !== null, abandon)
/** The brackets, as a hand holds them. */
const shown = computed<[number, number] | null>(() => {
  const between = order.view?.between
  const now = held.value
  if (!between) return null
  if (now?.what === 'first') return [Math.min(now.to, between[1]), between[1]]
  if (now?.what === 'last') return [between[0], Math.max(now.to, between[0])]
  return [between[0], between[1]]
})
const bracket = computed(() => {
  if (!shown.value) return null
  const [first, last] = shown.value
  const left = lefts.value[first] ?? 0
  return { left: `${left}px`, width: `${(lefts.value[last] ?? 0) + wide(last) - left}px` }
})
function moveBracket(end: 0 | 1, event: KeyboardEvent): void {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
  const between = order.view?.between
  if (!by || !between) return
  event.preventDefault()
  event.stopPropagation()
  const next: [number, number] = [between[0], between[1]]
  next[end] = Math.min(Math.max(next[end] + by, end === 0 ? 0 : next[0]), end === 0 ? next[1] : blocks.value.length - 1)
  void order.commit([{ do: 'between', blocks: next }])
}

// A pattern's card is dropped among the blocks.
const PATTERN = 'application/x-jolly-pattern'
const drop = ref<number | null>(null)
function over(event: DragEvent): void {
  if (!event.dataTransfer?.types.includes(PATTERN)) return
  event.preventDefault()
  drop.value = gapAt(under(event))
}
function dropped(event: DragEvent): void {
  const pattern = Number(event.dataTransfer?.getData(PATTERN))
  const at = drop.value
  drop.value = null
  if (!pattern || at === null) return
  event.preventDefault()
  void order.commit([{ do: 'add_block', pattern, at: Math.min(at, 255) }], at)
}
/** The gap that is marked while something is being dragged. */
const gap = computed(() => drop.value ?? (held.value?.what === 'block' && travelled >= 5 ? held.value.to : null))
const gapLeft = computed(() => (
  gap.value === null ? 0 : gap.value < blocks.value.length ? (lefts.value[gap.value] ?? 0) - 4 : whole.value - 3
))
const label = (place: number) => {
  const block = blocks.value[place]
  return block
    ? `${place + 1}. ${block.name}, ${block.summary}, from bar ${barText(block.bar)}${block.problem ? `; ${block.problem}` : ''}` : ''
}
/** The block that the keyboard is on. */
const current = computed(() => Math.min(order.chosen ?? 0, Math.max(0, blocks.value.length - 1)))
watch([current, () => blocks.value.length], () => document.activeElement?.closest('[role=option]') && goHome(), {
  flush: 'post',
})
/** All patterns, each once, as they stand in the piece. */
const addAll = () => void order.commit(piece.patterns.map(({ id }) => ({ do: 'add_block', pattern: id })), 0)
</script>

<template>
  <div ref="box" class="box" data-region @dragover="over" @dragleave="drop = null" @drop="dropped">
    <div ref="rail" class="rail" :style="{ width: `${whole + 10}px` }">
      <ol role="listbox" aria-label="The order" aria-orientation="horizontal">
        <li
          v-for="(block, place) in blocks" :key="place" role="option" class="block"
          :tabindex="place === current ? 0 : -1" :data-home="place === current ? '' : undefined"
          :aria-selected="place === order.chosen"
          :class="{ now: player.playing && player.place?.block === place, moving: held?.what === 'block' && held.place === place && gap !== null }"
          :style="{ left: `${lefts[place]}px`, width: `${wide(place)}px` }" :title="label(place)"
          @pointerdown="press($event, 'block', place)" @pointermove="drag" @pointerup="release" @pointercancel="abandon"
          @focus="order.choose(place)"
        >
          <span class="bar" aria-hidden="true">{{ barText(block.bar) }}</span>
          <span class="card">
            <span class="words"><span
              class="unseen">{{ place + 1 }}. </span><b>{{ block.name }}</b> {{ block.summary }}<span
              class="unseen"> from bar {{ barText(block.bar) }}</span></span>
            <span v-if="block.problem" class="problem">{{ block.problem }}</span>
            <span v-else class="picture">
              <span v-if="block.thumb" :style="{ width: `${block.pictured * 100}%` }"><RhythmThumb
                :thumb="block.thumb" /></span>
              <i v-for="share in passes(place)" :key="share" :style="{ left: `${share * 100}%` }" />
            </span>
          </span>
          <span
            class="end" title="Drag: longer or shorter" aria-hidden="true" @pointerdown="press($event, 'end', place)"
            @pointermove.stop="drag" @pointerup.stop="release"
            @pointercancel="abandon"
          />
        </li>
      </ol>
      <span v-if="head !== null" class="head-line" :style="{ transform: `translateX(${head}px)` }" />
      <span v-if="gap !== null" class="gap" :style="{ left: `${gapLeft}px` }" />
      <div v-if="bracket" class="round" :style="bracket">
        <span
          v-for="(end, i) in (['first', 'last'] as const)" :key="end" class="grip" :class="end" role="slider"
          tabindex="0" :aria-label="`The ${end} block that goes round`"
          :aria-valuenow="(shown?.[i] ?? 0) + 1" aria-valuemin="1" :aria-valuemax="blocks.length"
          @keydown="moveBracket(i as 0 | 1, $event)"
          @pointerdown="press($event, end)" @pointermove="drag" @pointerup="release" @pointercancel="abandon"
        />
        <span class="told">goes round between these brackets</span>
      </div>
    </div>
    <p v-if="!blocks.length" class="empty sentence">
      Nothing plays in order yet. Drag a pattern’s card up here, or add
      <template v-for="(each, i) in piece.patterns.slice(0, 4)" :key="each.id"><template v-if="i">, </template><button
        type="button" class="plain link"
        @click="order.commit([{ do: 'add_block', pattern: each.id }], 0)">{{ each.name }}</button></template>
      <template v-if="piece.patterns.length > 1">, or <button type="button" class="plain link"
        @click="addAll">all of them</button></template>.
    </p>
  </div>
</template>

<style scoped>
.box { position: relative; overflow-x: auto; overflow-y: hidden; scrollbar-width: thin; height: 100%; padding: 0 2px; }
.rail { position: relative; height: 100%; min-height: 210px; }
ol { list-style: none; }
.block {
  position: absolute; top: 0; bottom: 42px; display: flex; flex-direction: column; cursor: grab; touch-action: none;
  user-select: none;
}
.block:focus { outline: none; }
.block:focus .card { outline: 2px solid var(--link); outline-offset: -5px; }
.moving { opacity: 0.55; }
.bar { font-size: 13px; color: var(--quiet); line-height: 22px; padding-left: 1px; font-variant-numeric: tabular-nums; }
.card {
  flex: 1; min-height: 0; display: flex; flex-direction: column; gap: 4px; background: var(--card);
  border: 1px solid var(--rule); border-radius: 12px; padding: 6px 7px 9px; overflow: hidden;
}
.block[aria-selected='true'] .card { border: 2px solid var(--ink); padding: 5px 6px 8px; }
.now .card { background: color-mix(in srgb, var(--lamp) 26%, var(--card)); }
.words {
  font-size: 12.5px; line-height: 1.3; color: var(--quiet); flex: none; overflow: hidden; max-height: 50px;
  padding: 0 2px;
}
.words b { font-family: 'Fraunces Variable', serif; font-weight: 600; font-size: 15px; color: var(--ink); }
.problem { font-size: 12.5px; color: var(--alarm, #8a2415); }
.picture {
  position: relative; flex: 1; min-height: 0; display: block;
  background: color-mix(in srgb, var(--card) 40%, var(--paper)); border-radius: 6px;
}
.picture > span { display: block; height: 100%; padding: 3px 0; }
.picture i { position: absolute; top: 2px; bottom: 2px; border-left: 1px dashed var(--quiet); }
.end {
  position: absolute; right: -7px; top: 40px; bottom: 14px; width: 14px; cursor: ew-resize; touch-action: none;
  z-index: 1;
}
.end::after {
  content: ''; position: absolute; top: 20%; bottom: 20%; left: 3px; width: 5px; border: 2px solid var(--quiet);
  border-left: 0; border-radius: 0 3px 3px 0; opacity: 0;
}
.block:hover .end::after, .block[aria-selected='true'] .end::after { opacity: 1; }
@media (hover: none) { .end::after { opacity: 1; } }
@media (pointer: coarse) { .end { width: 44px; right: -22px; } .end::after { left: 18px; } }
.head-line {
  position: absolute; top: 16px; bottom: 38px; left: 0; width: 2px; background: var(--ink); pointer-events: none;
  z-index: 2;
}
.gap {
  position: absolute; top: 22px; bottom: 42px; width: 4px; border-radius: 2px; background: var(--link);
  pointer-events: none; z-index: 2;
}
.round {
  position: absolute; border: solid var(--ink); border-width: 0 3px 3px; height: 12px; bottom: 22px;
  pointer-events: none;
}
.grip {
  position: absolute; top: -6px; bottom: -10px; width: 18px; cursor: ew-resize; touch-action: none;
  pointer-events: auto;
}
.first { left: -11px; }
.last { right: -11px; }
@media (pointer: coarse) { .grip { width: 44px; top: -26px; bottom: -14px; } }
.told {
  position: absolute; top: 11px; left: 2px; font-size: 12px; line-height: 18px; color: var(--quiet);
  white-space: nowrap;
}
.empty {
  position: absolute; inset: 26px 4px 42px; display: grid; place-content: center; text-align: center; font-size: 17px;
  border: 1px dashed var(--quiet); border-radius: 12px; color: var(--quiet); padding: 12px;
}
.link { color: var(--link); font-weight: 650; }
.link:hover { text-decoration: underline; text-underline-offset: 3px; }
</style>
