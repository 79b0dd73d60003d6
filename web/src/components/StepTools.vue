<script setup lang="ts">
/** What can be done with the chosen steps of a lane, all at once. */
import { computed } from 'vue'
import type { Edit } from '@/api/client'
import { cellLength, visibleCells } from '@/lattice/draw'
import { useClipboardSteps } from '@/lattice/useClipboardSteps'
import { usePattern } from '@/stores/pattern'

const props = defineProps<{ lane: string }>()
const pattern = usePattern()
const { copy, paste } = useClipboardSteps()
const steps = computed(() => [...pattern.steps].sort((a, b) => a - b))
const words = computed(() => {
  const numbers = steps.value.map((step) => step + 1)
  const [first = 0, last = first] = [numbers[0], numbers.at(-1)]
  const run = numbers.length > 1 && last - first === numbers.length - 1
  return run ? `steps ${first}–${last}` : `step${numbers.length > 1 ? 's' : ''} ${numbers.join(' ')}`
})
const lanes = computed(() => [props.lane, ...pattern.also])
const each = (make: (lane: string) => Edit) => void pattern.commit(lanes.value.map(make))
const put = (on: boolean) => each((lane) => ({ do: 'put', lane, steps: steps.value, on }))
const link = (mode: 'together' | 'one' | null) => each((lane) => ({ do: 'link', lane, steps: steps.value, mode }))
const turns = (turn: [number, number] | null) => each((lane) => ({ do: 'turns', lane, steps: steps.value, turns: turn }))
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
</script>

<template>
  <section class="steps" aria-label="Chosen steps">
    <span class="quiet">{{ words }}:</span>
    <button type="button" class="plain tool" @click="put(true)">play</button>
    <button type="button" class="plain tool" @click="put(false)">rest</button>
    <button type="button" class="plain tool" @click="link('together')">sound together</button>
    <button type="button" class="plain tool" @click="link('one')">only one sounds</button>
    <button type="button" class="plain tool" @click="link(null)">part</button>
    <v-menu>
      <template #activator="{ props: menu }"><button v-bind="menu" type="button" class="plain tool">turns …</button></template>
      <v-list>
        <v-list-item v-for="[k, n] in TURNS" :key="`${k}/${n}`" :title="`turn ${k} of ${n} passes`" @click="turns([k, n])" />
        <v-list-item title="in every pass" @click="turns(null)" />
      </v-list>
    </v-menu>
    <v-menu>
      <template #activator="{ props: menu }"><button v-bind="menu" type="button" class="plain tool">roll …</button></template>
      <v-list>
        <v-list-item v-for="strokes in [2, 3, 4, 6, 8]" :key="strokes" :title="`${strokes} strokes each`" @click="roll(strokes)" />
        <v-list-item title="no roll" @click="roll(1)" />
        <v-divider />
        <v-list-item v-for="strokes in [3, 4, 5, 6, 8, 12]" :key="strokes" :title="`one roll of ${strokes} over them`" @click="rollOver(strokes)" />
      </v-list>
    </v-menu>
    <button type="button" class="plain tool" @click="copy">copy</button>
    <button v-if="pattern.copied" type="button" class="plain tool" @click="paste(0)">paste here</button>
    <v-menu v-if="pattern.copied">
      <template #activator="{ props: menu }"><button v-bind="menu" type="button" class="plain tool">paste, rolls lifted …</button></template>
      <v-list max-height="420">
        <v-list-item v-for="lift in LIFTS" :key="lift" :title="`${lift > 0 ? '+' : '−'}${Math.abs(lift)} semitones`" @click="paste(lift)" />
      </v-list>
    </v-menu>
    <button type="button" class="plain tool" @click="pattern.steps = []">done</button>
  </section>
</template>

<style scoped>
.steps { display: flex; flex-wrap: wrap; gap: 3px 4px; align-items: center; font-size: 12.5px; margin-top: auto; }
.tool { font-size: 12px; line-height: 19px; border: 1px solid var(--rule); border-radius: 10px; padding: 0 7px; }
.tool:hover { border-color: var(--ink); }
</style>
