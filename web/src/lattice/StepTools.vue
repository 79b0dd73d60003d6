<script setup lang="ts">
/** What can be done with the chosen steps of a lane, all at once. */
import { computed } from 'vue'
import type { Edit } from '@/api/client'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import { cellLength, visibleCells } from '@/pattern/cells'
import { useClipboardSteps } from './useClipboardSteps'
import { usePattern } from '@/pattern/pattern'

const props = defineProps<{ lane: string }>()
const pattern = usePattern()
const { copy, paste } = useClipboardSteps()
const steps = computed(() => [...pattern.steps].sort((a, b) => a - b))
/** How many are chosen, and which. */
const words = computed(() => {
  const numbers = steps.value.map((step) => step + 1)
  const [first = 0, last = first] = [numbers[0], numbers.at(-1)]
  const run = numbers.length > 1 && last - first === numbers.length - 1
  const which = run ? `${first}–${last}` : numbers.join(' ')
  return numbers.length > 1 ? `${numbers.length} steps, ${which}` : `step ${which}`
})
const lanes = computed(() => [props.lane, ...pattern.also])
const each = (make: (lane: string) => Edit) => void pattern.commit(lanes.value.map(make))
const put = (on: boolean) => each((lane) => ({ do: 'put', lane, steps: steps.value, on }))
const link = (mode: 'together' | 'one' | null) => each((lane) => ({ do: 'link', lane, steps: steps.value, mode }))
const turns = (turn: [number, number] | null) =>
  each((lane) => ({ do: 'turns', lane, steps: steps.value, turns: turn }))
function roll(strokes: number): void {
  each((lane) => ({ do: 'roll', lane, steps: steps.value, strokes }))
}
/** The first stretch of beats on the screen that the chosen steps lie in without a gap. */
const stretch = computed(() => {
  const drawn = pattern.lane?.drawn
  if (!drawn) return null
  const cells = visibleCells(drawn, pattern.start, pattern.span)
  const isChosen = (cell: number | undefined) => cell !== undefined && steps.value.includes(drawn.steps[cell] ?? -1)
  const from = cells.findIndex(isChosen)
  if (from < 0) return null
  let to = from
  while (isChosen(cells[to + 1])) to += 1
  const [first = 0, last = 0] = [cells[from], cells[to]]
  return { at: drawn.cells[first] ?? 0, until: (drawn.cells[last] ?? 0) + cellLength(drawn, last) / 2 }
})
function rollOver(strokes: number): void {
  const over = stretch.value
  if (over) each((lane) => ({ do: 'roll_cells', lane, ...over, strokes }))
}
const LIFTS = [12, 7, 5, 4, 3, 2, 1, -1, -2, -3, -4, -5, -7, -12]
const TURNS: [number, number][] = [[1, 2], [2, 2], [1, 3], [1, 4], [4, 4], [8, 8]]
const turnEntries: Entry[] = [
  ...TURNS.map(([k, n]) => ({ title: `turn ${k} of ${n} passes`, run: () => turns([k, n]) })),
  { title: 'in every pass', run: () => turns(null) },
]
const rollEntries: Entry[] = [
  ...[2, 3, 4, 6, 8].map((strokes) => ({ title: `${strokes} strokes each`, run: () => roll(strokes) })),
  { title: 'no roll', run: () => roll(1) },
  ...[3, 4, 5, 6, 8, 12].map((strokes, i) => ({
    title: `one roll of ${strokes} over them`, apart: i === 0, run: () => rollOver(strokes),
  })),
]
const liftEntries: Entry[] = LIFTS.map((lift) => ({
  title: `${lift > 0 ? '+' : '−'}${Math.abs(lift)} semitones`, run: () => paste(lift),
}))
</script>

<template>
  <section v-one-stop class="steps" aria-label="Chosen steps">
    <span class="quiet" role="status">{{ words }} chosen:</span>
    <button type="button" class="plain tool" @click="put(true)">play</button>
    <button type="button" class="plain tool" @click="put(false)">rest</button>
    <button type="button" class="plain tool" @click="link('together')">sound together</button>
    <button type="button" class="plain tool" @click="link('one')">only one sounds</button>
    <button type="button" class="plain tool" @click="link(null)">part</button>
    <PickMenu label="Turns" :entries="turnEntries"><template #opener="{ menu }"><button v-bind="menu" type="button"
      class="plain tool">turns …</button></template></PickMenu>
    <PickMenu label="Rolls" :entries="rollEntries"><template #opener="{ menu }"><button v-bind="menu" type="button"
      class="plain tool">roll …</button></template></PickMenu>
    <button type="button" class="plain tool" @click="copy">copy</button>
    <button v-if="pattern.copied" type="button" class="plain tool" @click="paste(0)">paste here</button>
    <PickMenu v-if="pattern.copied" label="Paste, rolls lifted" :entries="liftEntries"><template
      #opener="{ menu }"><button v-bind="menu" type="button"
      class="plain tool">paste, rolls lifted …</button></template></PickMenu>
    <button type="button" class="plain tool" @click="pattern.steps = []">done</button>
  </section>
</template>

<style scoped>
.steps { display: flex; flex-wrap: wrap; gap: 3px 4px; align-items: center; font-size: 12.5px; margin-top: auto; }
.tool { font-size: 12px; line-height: 19px; border: 1px solid var(--rule); border-radius: 10px; padding: 0 7px; }
.tool:hover { border-color: var(--ink); }
</style>
