<script setup lang="ts">
/**
 * One word of a sentence that can be changed: dragged, wheeled, stepped with the arrow keys, typed
 * into, or picked from a list. It knows nothing of what the word means; its slot says it all.
 */
import { computed, inject, nextTick, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'
import type { Shape, Slot } from '@/api/client'
import { wasTried } from '@/app/firstMinute'
import { giveBack, isHeldByKeys } from '@/app/keyboard'
import { useNotices } from '@/app/notices'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import { useEscape } from '@/app/useEscape'
import { markWrong } from '@/app/wrongPart'
import { hold, letGo } from '@/app/hand'
import { OPENING } from './opening'
import WordCurve from './WordCurve.vue'
import WordWheel from './WordWheel.vue'

/** onSettle: stores a value; it, or what it promises, is false where that is refused. */
const props = defineProps<{ slotted: Slot; onSettle?: (value: unknown) => unknown }>()
const notices = useNotices()
const emit = defineEmits<{
  /** Try a value out. */
  preview: [value: unknown]
  /** Forget what was tried out. */
  forget: []
  /** Let the word follow a path in this shape, with `points` as drawn; without a shape it stands still. */
  path: [shape: Shape | null, points: number[] | null, store: boolean]
}>()

const PIXELS_A_STEP = 5
/** A finger is coarser, and sees what it turns on a wheel above it. */
const PIXELS_FOR_A_FINGER = 18
const typing = ref(false)
const picking = ref(false)
const typed = ref('')
const held = ref<unknown>(undefined)
const input = useTemplateRef<HTMLInputElement>('input')
const word = useTemplateRef<HTMLElement>('word')
const shapes = useTemplateRef<HTMLElement>('shapes')

const numeric = computed(() => props.slotted.kind === 'number' || props.slotted.kind === 'index')
const value = computed(() => (held.value === undefined ? props.slotted.value : held.value))
const text = computed(() => (held.value === undefined ? props.slotted.text : told(held.value)))
/** What another value is told as. */
function told(other: unknown): string {
  const option = props.slotted.options.find((each) => each.value === other)
  if (props.slotted.kind === 'choice') return option?.label ?? props.slotted.text
  if (names.value.length) return called(other)
  // What the server will say is the same text with another number in it.
  return props.slotted.text.replace(/[+-]?[\d.,/]+/, String(other))
}

const names = computed(() => props.slotted.names ?? [])
/** What a number is called, where numbers have names. */
const called = (number: unknown) => names.value[Number(number) - Number(props.slotted.low)] ?? String(number)
/** A value as it is typed. */
function written(value: unknown): string {
  const named = (each: unknown) => (names.value.length ? called(each) : String(each))
  const between = names.value.some((name) => name.includes(' ')) ? ', ' : ' '
  return Array.isArray(value) ? value.map(named).join(between) : named(value)
}

/** Where the word stands among what it can be: numbers by themselves, others by their place in the list. */
const spun = computed(() => {
  if (numeric.value) {
    return { now: Number(value.value), low: Number(props.slotted.low), high: Number(props.slotted.high) }
  }
  const { options } = props.slotted
  return {
    now: Math.max(0, options.findIndex((each) => each.value === value.value)) + 1, low: 1,
    high: Math.max(1, options.length),
  }
})

// What was held is shown until the server's own words arrive.
watch(() => props.slotted, () => {
  if (!dragging && !settling) held.value = undefined
})

function moved(by: number): unknown {
  const { kind, low, high, step, options } = props.slotted
  if (kind === 'index') {
    const to = BigInt(String(value.value)) + BigInt(Math.round(by))
    const least = BigInt(String(low))
    const most = BigInt(String(high))
    return String(to < least ? least : to > most ? most : to)
  }
  if (kind === 'number') {
    const to = Number(value.value) + by * step
    const rounded = Math.round(to / step) * step
    return Math.min(Number(high), Math.max(Number(low), Number(rounded.toFixed(4))))
  }
  if (options.length === 0) return value.value
  const at = options.findIndex((each) => each.value === value.value)
  const next = Math.min(options.length - 1, Math.max(0, (at < 0 ? 0 : at) - Math.round(by)))
  return options[next]?.value
}

function tryOut(next: unknown): void {
  if (next === value.value) return
  held.value = next
  emit('preview', next)
}

/** Store a value; what is refused is not shown any longer. Resolves to whether it was taken. */
async function store(next: unknown): Promise<boolean> {
  const taken = (await props.onSettle?.(next)) !== false
  if (!taken && !dragging && !settling) held.value = undefined
  return taken
}
let settling = false
function nudge(by: number): void {
  tryOut(moved(by))
  settling = true
  hold(word.value, () => {
    settling = false
    if (held.value !== undefined) void store(held.value)
  })
}
// A word that leaves the screen while it is being turned is stored first.
onBeforeUnmount(() => settling && letGo())

// Dragging: up is more. A press that does not move opens the word for typing or picking.
let dragging = false
let from = 0
let base: unknown
function press(event: PointerEvent): void {
  if (event.button !== 0 || typing.value) return
  dragging = true
  from = event.clientY
  base = value.value
  word.value?.setPointerCapture(event.pointerId)
}
/** Where a finger is that turns this word. */
const finger = ref<{ x: number; y: number } | null>(null)
const beside = (by: number) => {
  const next = moved(by)
  return next === value.value ? '' : told(next)
}
let travelled = 0
function drag(event: PointerEvent): void {
  if (!dragging) return
  const pixels = from - event.clientY
  travelled = Math.max(travelled, Math.abs(pixels))
  if (travelled < 4) return
  if (event.pointerType !== 'mouse') finger.value = { x: event.clientX, y: event.clientY }
  const now = held.value
  held.value = base
  const aStep = event.pointerType === 'mouse' ? PIXELS_A_STEP : PIXELS_FOR_A_FINGER
  const next = moved(Math.trunc((pixels / aStep) * (event.shiftKey ? 0.2 : 1)))
  held.value = now
  tryOut(next)
}
function release(): void {
  if (!dragging) return
  dragging = false
  finger.value = null
  if (travelled >= 4) wasTried('word')
  if (travelled < 4) openWord()
  else if (held.value !== undefined) void store(held.value)
  travelled = 0
}
function abandon(): void {
  if (!dragging) return
  dragging = false
  travelled = 0
  finger.value = null
  held.value = undefined
  emit('forget')
}
useEscape(() => dragging, abandon)

// An index may be one of very many: a track beside it leads through all of them.
const MILLION = 1_000_000n
const index = computed(() => {
  if (props.slotted.kind !== 'index') return null
  const low = BigInt(String(props.slotted.low))
  const high = BigInt(String(props.slotted.high)) - low
  // As wide as its widest number, so that the track stays where it is.
  const wide = `${Number(props.slotted.high).toLocaleString('en').length}ch`
  return {
    low, high, wide, share: high === 0n ? 0 : Number(((BigInt(String(value.value)) - low) * MILLION) / high) / 1e6,
  }
})
function scrub(event: PointerEvent): void {
  const track = event.currentTarget as HTMLElement
  if (event.type === 'pointerdown') {
    track.setPointerCapture(event.pointerId)
    dragging = true
  }
  if (!index.value || !dragging) return
  const area = track.getBoundingClientRect()
  const share = Math.min(1, Math.max(0, (event.clientX - area.left) / area.width))
  tryOut(String(index.value.low + (BigInt(Math.round(share * 1e6)) * index.value.high) / MILLION))
}
function endScrub(): void {
  if (!dragging) return
  dragging = false
  if (held.value !== undefined) void store(held.value)
}

function openWord(): void {
  if (props.slotted.options.length) picking.value = true
  else startTyping()
}
/** What stood there when it was opened: left as it is, nothing is stored, whatever has come meanwhile. */
let shown = ''
let byKeys = false
const wrong = ref(false)
function startTyping(): void {
  byKeys = isHeldByKeys(word.value)
  typing.value = true
  wrong.value = false
  typed.value = shown = written(value.value)
  void nextTick(() => {
    input.value?.select()
    shapes.value?.scrollIntoView({ block: 'nearest' })
  })
}
function parsed(text: string): unknown {
  const words = text.trim()
  if (names.value.length) return words // the core knows what they mean
  if (props.slotted.kind === 'list') return words.split(/[\s,]+/).filter(Boolean).map(Number)
  if (props.slotted.kind === 'number') {
    const number = Number(words.replace(/[%\s]/g, '').replace(',', '.'))
    return words === '' || Number.isNaN(number) ? words : number
  }
  if (props.slotted.kind === 'text') return words
  return words.replace(props.slotted.kind === 'index' ? /[,\s]/g : /\s/g, '')
}
function endTyping(keep: boolean, goesOn = false): void {
  if (!typing.value) return
  typing.value = false
  if (keep && typed.value !== shown) void take(typed.value)
  if (!goesOn) void nextTick(() => giveBack(word.value, byKeys))
}
/** Tab takes what stands there and opens the next word of the sentence, with Shift the one before. */
const opening = inject(OPENING, null)
const goOn = opening ? (by: 1 | -1) => opening.goOn(props.slotted.slot, by) : undefined
function tab(event: KeyboardEvent): void {
  if (!goOn) return
  event.preventDefault()
  endTyping(true, true)
  goOn(event.shiftKey ? -1 : 1)
}
watch(() => opening?.opened.value === props.slotted.slot, (isOpened) => {
  if (!isOpened || !opening) return
  opening.opened.value = null
  openWord()
}, { immediate: true, flush: 'post' })
/** Enter takes what stands there, also what was refused before. */
function enter(): void {
  if (wrong.value) shown = ''
  endTyping(true)
}
/**
 * Store what was typed, if it says something; where it is refused it stands in its field again, marked where it is
 * wrong.
 */
async function take(text: string): Promise<void> {
  const next = parsed(text)
  const isEmpty = numeric.value && text.trim() === ''
  if (isEmpty || JSON.stringify(next) === JSON.stringify(props.slotted.value) || (await store(next)) || !word.value) {
    return
  }
  typing.value = wrong.value = true
  typed.value = shown = text
  await nextTick()
  markWrong(input.value, notices.current?.text ?? '')
}
/** While it is typed into, a word that may follow a path offers the shapes. */
function follow(shape: Shape | null): void {
  endTyping(true) // what was typed is where the path begins
  emit('path', shape, null, true)
}
function leftTyping(event: FocusEvent): void {
  if (!(event.relatedTarget instanceof Element && event.relatedTarget.closest('.shapes'))) endTyping(true)
}
const entries = computed<Entry[]>(() => props.slotted.options.map((option) => ({
  title: option.label, about: option.about, chosen: option.value === value.value,
  run: () => option.value !== props.slotted.value && void store(option.value),
})))
/** A fraction may be another than those that are listed. */
const isOpen = computed(() => props.slotted.kind === 'fraction')

function key(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const jumps: Record<string, number> = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }
  const by = jumps[event.key]
  if (by !== undefined) nudge(by)
  else if (event.key === 'Home' && numeric.value) nudge(-1e15)
  else if (event.key === 'End' && numeric.value) nudge(1e15)
  else if (event.key === 'Enter') openWord()
  else return
  event.preventDefault()
  event.stopPropagation()
}
/** The wheel turns a word that has the focus, or on which the pointer has come to rest; else it scrolls. */
const REST_MS = 400
let resting = 0
let turned = 0
function wheel(event: WheelEvent): void {
  if (document.activeElement !== word.value && event.timeStamp - resting < REST_MS) {
    resting = event.timeStamp
    return
  }
  event.preventDefault()
  turned += event.deltaY
  if (Math.abs(turned) < 30) return
  nudge(turned < 0 ? 1 : -1)
  turned = 0
}
</script>

<template>
  <span v-if="typing" class="typed" @focusout="leftTyping" @keydown.esc.prevent="endTyping(false)" @keydown.stop>
  <input
    ref="input" v-model="typed" class="typing" :aria-label="slotted.label" :aria-invalid="wrong || undefined"
    :size="Math.max(3, typed.length)" @keydown.enter.prevent="enter" @keydown.tab="tab"
  />
  <span v-if="slotted.path" ref="shapes" class="shapes" role="group" :aria-label="`Let the ${slotted.label} move`">
    <span class="lead">let it move over bars:</span>
    <button v-for="shape in slotted.path.shapes" :key="shape" type="button" class="plain" @pointerdown.prevent
      @click="follow(shape)">{{ shape }}</button>
    <button v-if="slotted.path.clause" type="button" class="plain" @pointerdown.prevent
      @click="follow(null)">stand still</button>
  </span>
  </span>
  <span
    v-else ref="word" class="word" tabindex="0" :data-slot="slotted.slot" data-press="shift"
    data-press-words="small steps"
    role="spinbutton" :aria-label="slotted.label" :aria-valuenow="spun.now" :aria-valuetext="text"
    :aria-valuemin="spun.low" :aria-valuemax="spun.high"
    @pointerdown="press" @pointermove="drag" @pointerup="release" @pointercancel="abandon"
    :style="index ? { minWidth: index.wide } : undefined" @keydown="key" @wheel="wheel"
    @pointerenter="resting = $event.timeStamp"
  >{{ text }}</span>
  <WordWheel v-if="finger" v-bind="finger" :more="beside(1)" :now="text" :less="beside(-1)" />
  <WordCurve
    v-if="slotted.path?.clause && !typing" :slotted="slotted"
    @preview="(points) => emit('path', 'drawn', points, false)"
    @settle="(points) => emit('path', 'drawn', points, true)"
  />
  <span
    v-if="index" class="track" aria-hidden="true" title="Drag through all of them"
    @pointerdown="scrub" @pointermove="scrub" @pointerup="endScrub" @pointercancel="endScrub"
  ><span class="spot" :style="{ left: `${index.share * 100}%` }" /></span>
  <PickMenu
    v-if="slotted.options.length" v-model="picking" :target="word" :label="slotted.label" :entries="entries"
    :free="isOpen"
    :find="isOpen ? `Another ${slotted.label}` : undefined" @typed="take" @onward="goOn"
  />
</template>

<style scoped>
.word {
  display: inline-block; line-height: 1.2; text-align: right; font-weight: 650; border-bottom: 2px dotted var(--lane);
  cursor: ns-resize; touch-action: none; user-select: none; padding: 0 1px; white-space: nowrap;
}
.word:hover { background: color-mix(in srgb, var(--lane) 16%, transparent); border-radius: 4px 4px 0 0; }
/* A word answers over more than it covers; its line leaves room for that. */
@media (pointer: coarse) {
  .word { position: relative; min-width: 40px; text-align: center; }
  .word::before { content: ''; position: absolute; inset: -13px calc(50% - max(50%, 24px)); }
}
.track {
  display: inline-block; position: relative; width: 150px; height: 14px; margin: 0 6px; vertical-align: -1px;
  cursor: ew-resize; touch-action: none; border-bottom: 2px solid var(--lane);
}
.track .spot {
  position: absolute; bottom: -6px; width: 10px; height: 10px; margin-left: -5px; background: var(--lane);
  transform: rotate(45deg);
}
.typed { position: relative; }
.shapes {
  position: absolute; left: 0; top: calc(100% + 4px); z-index: 3; display: flex; gap: 4px; align-items: baseline;
  padding: 4px 8px; white-space: nowrap; background: var(--card); border: 1px solid var(--rule); border-radius: 8px;
  box-shadow: 0 3px 10px rgb(0 0 0 / 18%); font: 12.5px/20px 'Figtree Variable', sans-serif;
}
.shapes .lead { color: var(--quiet); padding-right: 2px; }
.shapes button { border: 1px solid var(--rule); border-radius: 10px; padding: 0 8px; color: var(--ink); }
.shapes button:hover, .shapes button:focus-visible { border-color: var(--ink); }
.typing {
  font: inherit; font-weight: 650; color: inherit; background: var(--card); border: 1px solid var(--lane);
  border-radius: 4px; padding: 0 4px; field-sizing: content; min-width: 2.5em;
}
.typing[aria-invalid] { border: 2px solid rgb(var(--v-theme-error)); outline: none; }
</style>
