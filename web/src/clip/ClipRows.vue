<script setup lang="ts">
/** The rows of a clip, drawn on one canvas, with their heads and a ruler; only what is in sight is drawn. */
import { useDevicePixelRatio, useElementSize, useRafFn } from '@vueuse/core'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import CalledTag from '@/app/CalledTag.vue'
import { goHome } from '@/app/keyboard'
import { groundOf, jewel } from '@/app/colours'
import { byTouch } from '@/app/longPress'
import { useThemeName } from '@/app/theme'
import { useTwoFingers, ZOOMS } from '@/app/useTwoFingers'
import { noteName } from '@/melody/noteName'
import { labelledBars } from '@/pattern/cells'
import { useSession } from '@/session/session'
import { drawClip } from './draw'
import { useClip } from './clip'
import { useRound } from './round'
import { notesCalled } from './told'
import { heightOf, rowsOf, xOf, yOf, type Frame } from './rows'
import { useClipPointer } from './useClipPointer'

const props = defineProps<{ start: number; span: number }>()
const emit = defineEmits<{ look: [start: number, span: number]; zoom: [times: number, about?: number] }>()
const clip = useClip()
const round = useRound()
const session = useSession()
const { name: theme } = useThemeName()
const { pixelRatio } = useDevicePixelRatio()
const HEAD = 132
const RULER = computed(() => (byTouch.value ? 44 : 20))
const scroll = useTemplateRef<HTMLElement>('scroll')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const { width, height } = useElementSize(scroll)
const above = ref(0)

const rows = computed(() => (clip.view ? rowsOf(clip.state?.view ?? clip.view, height.value) : []))
const tall = computed(() => heightOf(rows.value))
const frame = computed<Frame>(() => ({
  width: Math.max(50, width.value - HEAD), height: height.value, start: props.start, span: props.span,
}))
const { press, move, release, abandon, leave, twice, cursor, pointed, lasso } = useClipPointer(() => ({
  rows: rows.value, frame: frame.value, above: above.value, canvas: canvas.value,
}))

const chosen = computed(() => new Set(clip.marked))
/** Of what is stored, the notes that a tool or a hand has taken elsewhere. */
const before = computed(() => {
  const stored = clip.state?.view
  if (!stored || !clip.view || !(clip.hand || clip.trying)) return null
  const now = new Set(clip.view.notes.map(String))
  return { ...stored, notes: stored.notes.filter((note) => !now.has(String(note))) }
})
function paint(): void {
  const context = canvas.value?.getContext('2d')
  if (!context || !canvas.value || !clip.view) return
  const ratio = pixelRatio.value
  const [wide, high] = [Math.round(frame.value.width * ratio), Math.round(frame.value.height * ratio)]
  if (canvas.value.width !== wide) canvas.value.width = wide
  if (canvas.value.height !== high) canvas.value.height = high
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  context.clearRect(0, 0, frame.value.width, frame.value.height)
  drawClip(context, {
    view: clip.view, rows: rows.value, frame: frame.value, ground: groundOf(theme.value), theme: theme.value,
    chosen: chosen.value,
    before: before.value, step: clip.step, round: clip.round, above: above.value, loose: clip.hand !== null,
  })
}
onMounted(() => {
  paint()
  goHome()
})
watch(
  () => [
    clip.view, rows.value, frame.value, chosen.value, before.value, clip.step, clip.round, above.value, theme.value,
    pixelRatio.value,
  ],
  paint, { flush: 'post' },
)

/** Names of pitches at the left of pitched rows: the roots, and more where there is room. */
const names = computed(() => rows.value.filter(({ rungs, line }) => rungs && !line).flatMap((row) => {
  const { rungs } = row
  if (!rungs || !clip.view) return []
  const apart = (yOf(rungs.low, row) - yOf(rungs.high, row)) / (rungs.high - rungs.low)
  const found = []
  for (let pitch = rungs.low; pitch <= rungs.high; pitch += 1) {
    const degree = rungs.notes.indexOf((pitch - rungs.root + 120) % 12)
    if (degree === 0 || (degree % 2 === 0 && apart > 7)) {
      found.push({
        key: `${row.lane}/${pitch}`, top: yOf(pitch, row), name: noteName(clip.view.scale, pitch).split(',')[0],
        root: degree === 0,
      })
    }
  }
  return found
}))
const called = computed(() => {
  const { view } = clip
  const note = pointed.value && view?.notes[pointed.value.place]
  if (!note || !pointed.value || !view) return null
  const { x, y } = pointed.value
  return { x, y, words: `${notesCalled(view, note[4], [note[2]], session.drums)} · velocity ${note[3]}` }
})
const toldWords = computed(() => {
  const { view } = clip
  const place = clip.marked.at(-1)
  const note = place === undefined ? undefined : view?.notes[place]
  const lane = note && view?.lanes[note[4]]
  if (!view || !note || !lane) return `Clip of ${view?.notes.length ?? 0} notes; arrow keys walk over them`
  return `${lane.name}, ${notesCalled(view, note[4], [note[2]], session.drums)}, beat ${Number((note[0] + 1).toFixed(3))}, velocity ${note[3]}`
})

// The ruler: a drag sets brackets between which the clip goes round.
const ruler = useTemplateRef<HTMLElement>('ruler')
const labels = computed(() => {
  const { view } = clip
  if (!view) return []
  return view.sections.flatMap(({ start, end, bar, bar_beats: barBeats }) => {
    const every = labelledBars(props.span / barBeats) * (props.span / barBeats > 24 ? 2 : 1)
    const last = Math.min(end, props.start + props.span) - 1e-6
    const found = []
    const first = Math.max(0, Math.ceil((props.start - start) / barBeats / every - 1e-6)) * every
    for (let i = first; start + i * barBeats < last; i += every) {
      found.push({ text: String(bar + i), left: xOf(start + i * barBeats, frame.value) })
    }
    return found
  })
})
/** Markers, and what tempo and metre become, at their places. */
const marks = computed(() => (clip.view?.marks ?? []).filter(
  ({ time }) => time >= props.start - 1e-6 && time < props.start + props.span,
).map((mark) => ({
  left: xOf(mark.time, frame.value),
  text: [
    mark.name, mark.tempo == null ? '' : `${Number(mark.tempo.toFixed(2))} bpm`, mark.meter?.join('/'),
  ].filter(Boolean).join(' · '),
})).filter(({ text }) => text))
let from: number | null = null
function beatUnder(event: PointerEvent | WheelEvent): number {
  const box = ruler.value?.getBoundingClientRect()
  return props.start + ((event.clientX - (box?.left ?? 0)) / frame.value.width) * props.span
}
const onGrid = (beat: number) =>
  Math.min(clip.view?.beats ?? beat, Math.max(0, Math.round(beat / clip.step) * clip.step))
function beginBracket(event: PointerEvent): void {
  if (event.button !== 0) return
  ruler.value?.setPointerCapture(event.pointerId)
  from = onGrid(beatUnder(event))
}
function pullBracket(event: PointerEvent): void {
  if (from === null) return
  const to = onGrid(beatUnder(event))
  clip.round = Math.abs(to - from) < clip.step / 2 ? null : [Math.min(from, to), Math.max(from, to)]
}
const bracket = computed(() => clip.round && {
  left: `${xOf(clip.round[0], frame.value)}px`,
  width: `${xOf(clip.round[1], frame.value) - xOf(clip.round[0], frame.value)}px`,
})

function wheel(event: WheelEvent): void {
  if (event.ctrlKey || event.metaKey) {
    event.preventDefault()
    emit('zoom', 1.2 ** (event.deltaY / 50), beatUnder(event))
    return
  }
  const sideways = event.deltaX || (event.shiftKey ? event.deltaY : 0)
  if (!sideways && tall.value > height.value + 2) return // the rows scroll
  event.preventDefault()
  emit('look', props.start + ((sideways || event.deltaY) / frame.value.width) * props.span, props.span)
}
useTwoFingers(useTemplateRef<HTMLElement>('box'), {
  zoom: (by) => emit('zoom', ZOOMS ** -by),
  turn: (by) => emit('look', props.start + (by * props.span) / 4, props.span),
})

const head = useTemplateRef<HTMLElement>('head')
useRafFn(() => {
  if (!head.value) return
  const x = xOf(round.playing ? round.beatNow() : -1e9, frame.value)
  head.value.style.transform = `translateX(${x < 0 || x > frame.value.width ? -99 : x + HEAD}px)`
})
</script>

<template>
  <div ref="box" class="box pane" data-region :style="{ '--ruler': `${RULER}px` }" @wheel="wheel">
    <div
      ref="ruler" class="ruler" :style="{ marginLeft: `${HEAD}px`, width: `${frame.width}px` }"
      title="Drag over a stretch: the clip goes round there"
      @pointerdown="beginBracket" @pointermove="pullBracket" @pointerup="from = null" @pointercancel="from = null"
    >
      <span v-if="bracket" class="bracket" :style="bracket" />
      <b v-for="label in labels" :key="label.text" :style="{ left: `${label.left}px` }">{{ label.text }}</b>
      <i v-for="(mark, place) in marks" :key="place" class="marker" :style="{ left: `${mark.left + 24}px` }"
        :title="mark.text">{{ mark.text }}</i>
    </div>
    <div ref="scroll" class="scroll clip-rows" tabindex="0" data-home role="group" aria-roledescription="clip"
      :aria-label="toldWords" @scroll="above = scroll?.scrollTop ?? 0">
      <div class="all" :style="{ height: `${tall}px` }">
        <div v-for="row in rows" :key="row.lane" class="head"
          :style="{ top: `${row.top}px`, height: `${row.height}px`, width: `${HEAD - 4}px` }">
          <svg class="mark" viewBox="0 0 16 16" aria-hidden="true"><path d="M8 0L16 8L8 16L0 8Z"
            :fill="jewel(row.lane, theme)" /></svg>
          <span class="name" :title="clip.view?.lanes[row.lane]?.name">{{ clip.view?.lanes[row.lane]?.name }}</span>
        </div>
        <i v-for="each in names" :key="each.key" class="pitch" :class="{ root: each.root }"
          :style="{ top: `${each.top - 7}px`, width: `${HEAD - 10}px` }">{{ each.name }}</i>
        <canvas
          ref="canvas" class="stage"
          :style="{ marginLeft: `${HEAD}px`, width: `${frame.width}px`, height: `${frame.height}px`, cursor }"
          aria-hidden="true" data-press="shift alt" data-press-words="chooses more|off the grid"
          @pointerdown="press" @pointermove="move" @pointerup="release" @pointercancel="abandon" @pointerleave="leave"
          @dblclick="twice"
        />
      </div>
    </div>
    <div v-if="lasso" class="lasso"
      :style="{ left: `${lasso.left + HEAD}px`, top: `${lasso.top + RULER}px`, width: `${lasso.width}px`, height: `${lasso.height}px` }" />
    <div v-show="round.playing" ref="head" class="playhead" />
    <CalledTag v-if="called" v-bind="called" :width="frame.width" :height="height" :left="HEAD" />
    <span class="unseen" aria-live="polite">{{ clip.chosen.length ? toldWords : '' }}</span>
  </div>
</template>

<style scoped>
.box { position: relative; display: flex; flex-direction: column; min-height: 0; }
.ruler {
  position: relative; height: var(--ruler); flex: none; font-size: 12px; cursor: col-resize; touch-action: none;
  user-select: none;
}
.ruler b { position: absolute; padding-left: 2px; font-variant-numeric: tabular-nums; }
@media (pointer: coarse) { .ruler b { bottom: 2px; } }
.marker {
  position: absolute; top: 2px; font: 500 11px 'Figtree Variable', sans-serif; color: var(--quiet); white-space: nowrap;
  max-width: 180px; overflow: hidden; text-overflow: ellipsis; pointer-events: none;
}
.bracket {
  position: absolute; top: 0; bottom: 1px; background: color-mix(in srgb, var(--lamp) 60%, transparent);
  border-left: 2px solid var(--ink); border-right: 2px solid var(--ink); border-radius: 3px;
}
.scroll { flex: 1; min-height: 0; overflow-y: auto; overflow-x: hidden; scrollbar-width: thin; }
.all { position: relative; min-height: 100%; }
.stage { position: sticky; top: 0; display: block; touch-action: none; }
.head {
  position: absolute; left: 0; display: flex; align-items: flex-start; gap: 8px; padding: 6px 8px;
  background: var(--card); border: 1px solid var(--rule); border-radius: 9px;
}
.mark { width: 12px; flex: none; margin-top: 3px; }
.name {
  font-family: 'Fraunces Variable', serif; font-weight: 600; font-size: 14px; white-space: nowrap; overflow: hidden;
  text-overflow: ellipsis;
}
.pitch {
  position: absolute; left: 0; text-align: right; font-style: normal; font-size: 10.5px; line-height: 14px;
  color: var(--quiet); pointer-events: none;
}
.root { font-weight: 700; color: var(--ink); }
.lasso {
  position: absolute; border: 1.5px dashed var(--ink); background: color-mix(in srgb, var(--ink) 7%, transparent);
  pointer-events: none;
}
.playhead {
  position: absolute; top: var(--ruler); bottom: 0; left: 0; width: 2px; background: var(--ink); pointer-events: none;
}
</style>
