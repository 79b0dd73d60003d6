<script setup lang="ts">
/**
 * The path that a word follows, as a small curve beside it: a level for each bar, the one that sounds now
 * marked. Pressed, it opens as a picture in which the levels are drawn across, or set key by key.
 */
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import type { Slot } from '@/api/client'
import { useReturnFocus } from '@/app/useReturnFocus'
import { hold } from '@/app/hand'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'

const props = defineProps<{ slotted: Slot }>()
const emit = defineEmits<{
  /** Try points out, one a bar. */
  preview: [points: number[]]
  /** Store them. */
  settle: [points: number[]]
}>()
const WIDTH = 34
const HEIGHT = 14
const MOST_BARS = 64

const pattern = usePattern()
const player = usePlayer()
const open = ref(false)
useReturnFocus(open)
/** The picture lies outside of the lane's words, and takes their colour along. */
const colour = ref('')
const takeColour = (event: Event) =>
  (colour.value = getComputedStyle(event.currentTarget as HTMLElement).getPropertyValue('--lane'))
const box = useTemplateRef<HTMLElement>('box')
/** The points as they were drawn; shown until the server has the very same. */
const drawn = ref<number[] | null>(null)
let held = false
watch(() => props.slotted, ({ path }) => {
  if (!held && path?.values?.join() === drawn.value?.join()) drawn.value = null
})
const values = computed(() => drawn.value ?? [...(props.slotted.path?.values ?? [])])
const low = computed(() => Number(props.slotted.low))
const high = computed(() => Number(props.slotted.high))
const share = (value: number) => (high.value > low.value ? (value - low.value) / (high.value - low.value) : 0)
/** Small, it fills its height with what it goes through; drawn large, with all that the word takes. */
const curve = computed(() => {
  const [least, most] = [Math.min(...values.value), Math.max(...values.value)]
  const y = (value: number) => (HEIGHT - 2) * (1 - (most > least ? (value - least) / (most - least) : 0.5)) + 1
  return values.value.map(
    (value, i) =>
      `${i ? 'L' : 'M'}${(i * WIDTH) / values.value.length} ${y(value)}H${((i + 1) * WIDTH) / values.value.length}`,
  ).join('')
})
const now = computed(() => {
  if (!player.playing || !pattern.view) return null
  return Math.floor((player.beat + 1e-6) / pattern.view.bar_beats) % values.value.length
})
const told = (value: number) => `${value}${props.slotted.text.endsWith('%') ? ' %' : ''}`

const rounded = (value: number) => {
  const { step } = props.slotted
  return Math.min(high.value, Math.max(low.value, Number((Math.round(value / step) * step).toFixed(4))))
}
function set(bar: number, value: number): void {
  const points = [...values.value]
  points[bar] = rounded(value)
  if (points[bar] === values.value[bar]) return
  drawn.value = points
  held = true
  emit('preview', points)
}
function store(): void {
  if (held && drawn.value) emit('settle', drawn.value)
  held = false
}

watch(open, () => {
  store()
  drawn.value = null
})

let drawing = false
function draw(event: PointerEvent): void {
  const area = box.value?.getBoundingClientRect()
  if (!area) return
  if (event.type === 'pointerdown') {
    drawing = true
    box.value?.setPointerCapture(event.pointerId)
  }
  if (!drawing) return
  const bar = Math.floor(((event.clientX - area.left) / area.width) * values.value.length)
  const level = 1 - Math.min(1, Math.max(0, (event.clientY - area.top) / area.height))
  set(Math.min(values.value.length - 1, Math.max(0, bar)), low.value + level * (high.value - low.value))
}
function endDrawing(): void {
  drawing = false
  store()
}
const at = ref(0)
async function key(event: KeyboardEvent): Promise<void> {
  const { step } = props.slotted
  const last = values.value.length - 1
  const by = { ArrowUp: step, ArrowDown: -step, PageUp: 10 * step, PageDown: -10 * step }[event.key]
  const to = {
    ArrowLeft: Math.max(0, at.value - 1), ArrowRight: Math.min(last, at.value + 1), Home: 0, End: last,
  }[event.key]
  if (by !== undefined) {
    set(at.value, (values.value[at.value] ?? 0) + by)
    hold(event.target as HTMLElement, store)
  } else if (to !== undefined) {
    at.value = to
    await nextTick()
    box.value?.querySelectorAll<HTMLElement>('[role=slider]')[to]?.focus()
  } else {
    return
  }
  event.preventDefault()
  event.stopPropagation()
}
/** Another number of bars: the last is repeated, or left out. */
function resize(by: number): void {
  const count = values.value.length + by
  if (count < 1 || count > MOST_BARS) return
  at.value = Math.min(at.value, count - 1)
  drawn.value = Array.from({ length: count }, (_, i) => values.value[i] ?? values.value.at(-1) ?? low.value)
  emit('settle', drawn.value)
}
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false" location="top"
    @after-enter="box?.querySelector<HTMLElement>('[tabindex=&quot;0&quot;]')?.focus()">
    <template #activator="{ props: menu }">
      <button v-bind="menu" @click="takeColour" type="button" class="plain curve" aria-haspopup="dialog"
        :aria-label="`Path of the ${slotted.label}, bar by bar`" title="Draw the path, bar by bar">
        <svg :width="WIDTH" :height="HEIGHT" aria-hidden="true">
          <rect v-if="now !== null" class="now" :x="(now * WIDTH) / values.length" y="0" :width="WIDTH / values.length"
            :height="HEIGHT" />
          <path :d="curve" />
        </svg>
      </button>
    </template>
    <v-card class="picture" :style="{ '--lane': colour }" role="dialog" :aria-label="`Path of the ${slotted.label}`">
      <p class="head"><b>{{ slotted.label }}</b>, bar by bar</p>
      <div ref="box" class="bars" @pointerdown="draw" @pointermove="draw" @pointerup="endDrawing"
        @pointercancel="endDrawing">
        <span
          v-for="(value, bar) in values" :key="bar" class="bar" :class="{ now: bar === now }" role="slider"
          :tabindex="bar === at ? 0 : -1"
          :aria-label="`Bar ${bar + 1}`" aria-orientation="vertical" :aria-valuenow="value" :aria-valuemin="low"
          :aria-valuemax="high"
          :aria-valuetext="told(value)" @focus="at = bar" @keydown="key"
        ><span class="level" :style="{ height: `calc(2px + ${100 * share(value)}%)` }" /></span>
      </div>
      <p class="foot">
        <span>Bar {{ Math.min(at, values.length - 1) + 1 }}: <b>{{ told(values[at] ?? low) }}</b></span>
        <span class="count">
          <button type="button" class="plain" aria-label="A bar less" :disabled="values.length === 1"
            @click="resize(-1)">−</button>
          {{ values.length }} {{ values.length === 1 ? 'bar' : 'bars' }}
          <button type="button" class="plain" aria-label="A bar more" :disabled="values.length === MOST_BARS"
            @click="resize(1)">+</button>
        </span>
      </p>
    </v-card>
  </v-menu>
</template>

<style scoped>
.curve {
  display: inline-block; line-height: 0; padding: 2px 3px; margin: 0 2px 0 3px; vertical-align: -2px;
  border-radius: 4px;
}
.curve:hover { background: color-mix(in srgb, var(--lane) 16%, transparent); }
.curve path { fill: none; stroke: var(--lane); stroke-width: 2; stroke-linejoin: round; }
rect.now { fill: color-mix(in srgb, var(--lane) 30%, transparent); }
.picture { padding: 10px 14px; width: 340px; font-size: 13.5px; }
.head { margin: 0 0 6px; }
.head b { font-family: 'Fraunces Variable', serif; font-weight: 600; }
.bars {
  display: flex; height: 120px; border: 1px solid var(--rule); border-radius: 6px; overflow: hidden; touch-action: none;
  cursor: crosshair; background: var(--paper);
}
.bar { flex: 1; position: relative; min-width: 0; border-right: 1px solid var(--rule); }
.bar:last-child { border-right: 0; }
.bar.now { background: color-mix(in srgb, var(--ink) 8%, transparent); }
.bar:focus-visible { outline: 2px solid var(--ink); outline-offset: -2px; }
.level {
  position: absolute; inset: auto 0 0; background: color-mix(in srgb, var(--lane) 55%, transparent);
  border-top: 2px solid var(--lane);
}
.foot { display: flex; justify-content: space-between; margin: 6px 0 0; color: var(--quiet); }
.foot b { color: var(--ink); }
.count button { width: 22px; height: 22px; border: 1px solid var(--rule); border-radius: 11px; color: var(--ink); }
.count button:disabled { opacity: 0.4; }
</style>
