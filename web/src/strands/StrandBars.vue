<script setup lang="ts">
/**
 * The values of a strand as bars, degrees as small wedges on their lines: dragging across draws them,
 * with Shift it makes ranges, with Alt chord steps; the bracket at the end sets the length. Every value
 * is a slider for the keyboard. Values that come round again are shown pale.
 */
import { useElementSize } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import type { Strand } from '@/api/client'
import { useEscape } from '@/app/useEscape'
import { allOf, ends, written, type Value } from './written'

/**
 * most: how wide a value is at most, in pixels. onSettle: stores values; what it promises is false where they are
 * refused.
 */
const props = defineProps<{
  strand: Strand; marked: number[] | null; size: number | null; most?: number
  /** The degrees of the first chord: where a step that sounds every tone of the chord stands. */
  chord?: readonly number[]
  onSettle: (values: Value[]) => Promise<boolean>
}>()
const emit = defineEmits<{
  preview: [values: Value[]]
  length: [count: number]
  lengthen: [count: number]
  forget: []
}>()

const HEIGHT = 54
const LEAST_BARS = 8
/** No value is narrower than can be hit: what has no room is scrolled to. */
const LEAST_WIDE = 12
const frame = useTemplateRef<HTMLElement>('frame')
const box = useTemplateRef<HTMLElement>('box')
const { width } = useElementSize(frame)
const drawn = ref<Value[] | null>(null)
const values = computed(() => drawn.value ?? props.strand.values)
watch(() => props.strand, () => {
  if (!dragging) drawn.value = null
})

/** So many places are shown: the strand, and room after it in which it comes round again. */
const shown = computed(() => Math.max(LEAST_BARS, values.value.length + 2))
const step = computed(() => Math.max(LEAST_WIDE, Math.min(props.most ?? 30, (width.value - 4) / shown.value)))
const wide = computed(() => Math.max(width.value, shown.value * step.value + 4))
/** Degrees stand on lines, of which only those around what is there are shown. */
const wedges = computed(() => props.size !== null)
const numbers = (value: Value) => allOf(value, props.chord)
const axis = computed<[number, number]>(() => {
  if (!wedges.value) return [props.strand.low, props.strand.top]
  const all = props.strand.values.flatMap(numbers)
  return [Math.min(-1, ...all) - 1, Math.max(7, ...all) + 1.6]
})
const lines = computed(() => {
  const [low, high] = axis.value
  return wedges.value ? Array.from({ length: Math.floor(high - low) }, (_, i) => Math.ceil(low) + i)
    .map((degree) => ({ degree, top: y(degree), root: degree % (props.size ?? 7) === 0 })) : []
})
const zero = computed(() => Math.max(props.strand.low, Math.min(0, props.strand.high)))
const y = (value: number) => {
  const [low, high] = axis.value
  return HEIGHT - ((Math.min(value, high) - low) / (high - low)) * HEIGHT
}
const bars = computed(() => Array.from({ length: shown.value }, (_, place) => {
  const value = values.value[place % values.value.length] ?? 0
  const [low, high] = ends(value, props.chord)
  const base = y(zero.value)
  const peak = Math.min(y(high), base - 2)
  const foot = Array.isArray(value) ? y(low) : Math.max(base, y(low))
  return {
    place, again: place >= values.value.length, ranged: Array.isArray(value),
    left: place * step.value, top: Math.min(peak, foot - 2), height: Math.max(2, Math.abs(foot - peak)), base,
    text: written(value), stands: wedges.value && !Array.isArray(value) ? numbers(value).map(y) : null,
    unread: props.strand.window !== null && (place < props.strand.window[0] || place > props.strand.window[1]),
  }
}))

let dragging = false
let ranging = false
let adding = false
/** A step with one more degree, or one less. */
function together(value: Value, degree: number): Value {
  const all = Array.isArray(value) ? [value[0]] : numbers(value)
  const next = all.includes(degree) ? [...all] : [...all, degree].slice(-8)
  return next.length > 1 ? { all: next.sort((a, b) => a - b) } : (next[0] ?? degree)
}
function valueAt(event: PointerEvent): [number, number] | null {
  const area = box.value?.getBoundingClientRect()
  if (!area) return null
  const place = Math.floor((event.clientX - area.left) / step.value)
  const share = 1 - (event.clientY - area.top) / HEIGHT
  const raw = axis.value[0] + share * (axis.value[1] - axis.value[0])
  const bounded = Math.min(props.strand.high, Math.max(props.strand.low, raw))
  return [place, props.strand.whole ? Math.round(bounded) : Math.round(bounded * 10) / 10]
}
function draw(event: PointerEvent): void {
  const at = valueAt(event)
  if (!at || at[0] < 0 || at[0] >= values.value.length) return
  const next = [...values.value]
  const [place, value] = at
  const [low, high] = ends(next[place] ?? value, props.chord)
  next[place] = adding ? together(
    next[place] ?? value, value,
  ) : !ranging ? value : value > low ? [low, value] : [value, high]
  drawn.value = next
  emit('preview', next)
}
function press(event: PointerEvent): void {
  if (event.button !== 0) return
  dragging = true
  ranging = event.shiftKey
  adding = event.altKey && props.strand.several
  box.value?.setPointerCapture(event.pointerId)
  draw(event)
}
function release(): void {
  if (!dragging) return
  dragging = false
  if (drawn.value) void store(drawn.value)
}
/** What is refused is not shown any longer. */
async function store(next: Value[]): Promise<void> {
  if (!(await props.onSettle(next)) && !dragging) drawn.value = null
}

const stretched = ref<number | null>(null)
const bracket = computed(() => (stretched.value ?? values.value.length) * step.value)
function pull(event: PointerEvent): void {
  const area = box.value?.getBoundingClientRect()
  if (stretched.value === null || !area) return
  const count = Math.max(
    1, Math.min(Number(props.strand.length.high), Math.round((event.clientX - area.left) / step.value)),
  )
  if (count !== stretched.value) {
    stretched.value = count
    emit('length', count)
  }
}
function take(event: PointerEvent): void {
  ;(event.target as HTMLElement).setPointerCapture(event.pointerId)
  stretched.value = values.value.length
}
function letGo(): void {
  if (stretched.value !== null) emit('lengthen', stretched.value)
  stretched.value = null
}

useEscape(() => dragging || stretched.value !== null, () => {
  dragging = false
  drawn.value = stretched.value = null
  emit('forget')
})

/** A value with each of its numbers moved. */
function shifted(value: Value, move: (each: number) => number): Value {
  if (typeof value === 'number') return move(value)
  if (Array.isArray(value)) return [move(value[0]), move(value[1])]
  return value.all === 'chord' ? value : { all: value.all.map(move) }
}
const focused = ref(0)
function key(event: KeyboardEvent, place: number): void {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
    focused.value = Math.min(values.value.length - 1, Math.max(0, place + (event.key === 'ArrowLeft' ? -1 : 1)))
    void nextTick(() => box.value?.querySelectorAll<HTMLElement>('[role=slider]')[focused.value]?.focus())
  } else if (
    event.key === 'ArrowUp' || event.key === 'ArrowDown' || event.key === 'PageUp' || event.key === 'PageDown'
  ) {
    const by = (event.key.endsWith('Up') ? 1 : -1) * (event.key.startsWith('Page') ? props.strand.raised : 1)
    const bounded = (value: number) => Math.min(props.strand.high, Math.max(props.strand.low, value))
    const next = [...values.value]
    const [low, high] = ends(next[place] ?? 0, props.chord)
    if (event.shiftKey) next[place] = bounded(high + by) <= low ? low : [low, bounded(high + by)]
    else next[place] = shifted(next[place] ?? 0, (each) => bounded(each + by))
    drawn.value = next
    void store(next)
  } else {
    return
  }
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div ref="frame" class="frame">
  <div
    ref="box" class="box" :data-press="strand.several ? 'shift alt' : 'shift'"
    data-press-words="makes a range|adds a degree" :style="{ height: `${HEIGHT + 16}px`, width: `${wide}px` }"
    @pointerdown="press" @pointermove="(event) => dragging && draw(event)" @pointerup="release" @pointercancel="release"
  >
    <div v-for="each in lines" :key="each.degree" class="rung" :class="{ root: each.root }"
      :style="{ top: `${each.top}px` }" />
    <template v-for="bar in bars" :key="bar.place">
      <template v-if="bar.stands">
        <div
          v-for="(top, i) in bar.stands" :key="i" class="wedge"
          :class="{ again: bar.again, unread: bar.unread, marked: marked?.includes(bar.place) }"
          :style="{ left: `${bar.left}px`, top: `${top - 9}px`, width: `${Math.max(4, step - 3)}px` }"
        />
      </template>
      <div
        v-else class="bar"
        :class="{ again: bar.again, ranged: bar.ranged, unread: bar.unread, marked: marked?.includes(bar.place) }"
        :style="{ left: `${bar.left}px`, top: `${bar.top}px`, width: `${Math.max(2, step - 4)}px`, height: `${bar.height}px` }"
      />
      <span
        v-if="!bar.again" role="slider" class="value" :tabindex="bar.place === focused ? 0 : -1"
        :aria-label="`${strand.word} value ${bar.place + 1}`" :aria-valuenow="ends(values[bar.place] ?? 0, chord)[0]"
        :aria-valuetext="bar.text" :aria-valuemin="strand.low" :aria-valuemax="strand.high"
        :style="{ left: `${bar.left}px`, width: `${step - 2}px` }" @keydown="key($event, bar.place)"
        @focus="focused = bar.place" @pointerdown.stop
      >{{ step > 19 ? bar.text : '·' }}</span>
    </template>
    <div
      class="bracket" :style="{ left: `${bracket}px`, height: `${HEIGHT}px` }" title="Drag to set the length"
      @pointerdown.stop="take" @pointermove="pull" @pointerup="letGo" @pointercancel="letGo"
    />
  </div>
  </div>
</template>

<style scoped>
.frame { overflow-x: auto; overflow-y: hidden; scrollbar-width: thin; flex: none; }
.box { position: relative; touch-action: none; cursor: crosshair; user-select: none; flex: none; }
.bar { position: absolute; background: var(--lane); border-radius: 2px 2px 0 0; pointer-events: none; }
.rung {
  position: absolute; left: 0; right: 0; height: 1px; background: var(--rule); opacity: 0.55; pointer-events: none;
}
.rung.root { background: var(--quiet); opacity: 0.8; }
.wedge {
  position: absolute; height: 10px; background: var(--lane);
  clip-path: polygon(0 0, 8% 40%, 22% 68%, 45% 86%, 100% 100%, 0 100%); pointer-events: none;
}
.wedge.again { opacity: 0.3; }
.wedge.unread { opacity: 0.15; }
.wedge.marked { background: var(--ink); }
.bar.again { opacity: 0.3; }
.bar.unread { opacity: 0.15; }
.bar.ranged {
  background: repeating-linear-gradient(45deg, var(--lane) 0 3px, transparent 3px 6px); border: 1px solid var(--lane);
}
.bar.marked { outline: 2px solid var(--ink); }
.value {
  position: absolute; bottom: 0; font-size: 10.5px; line-height: 14px; text-align: center; color: var(--quiet);
  overflow: hidden; white-space: nowrap; cursor: default;
}
.bracket {
  position: absolute; top: 0; width: 9px; margin-left: -6px; border: 2px solid var(--ink); border-left: 0;
  border-radius: 0 4px 4px 0; cursor: ew-resize; opacity: 0.75;
}
.bracket:hover { opacity: 1; }
</style>
