<script setup lang="ts">
/** The lattice: all lanes over 1, 2 or 4 bars, in true time, with a playhead over them. */
import { mdiChevronLeft, mdiChevronRight } from '@mdi/js'
import { useElementSize } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'
import type { View } from '@/api/client'
import { cellLength, visibleCells } from '@/lattice/draw'
import { usePlayer } from '@/sound/player'
import { usePattern } from '@/stores/pattern'
import DrumMenu from './DrumMenu.vue'
import LaneHead from './LaneHead.vue'
import LaneRow from './LaneRow.vue'
import PlayHead from './PlayHead.vue'

const props = defineProps<{ view: View }>()
const pattern = usePattern()
const player = usePlayer()
const box = useTemplateRef<HTMLElement>('box')
const { width, height } = useElementSize(box)
const adding = ref(false)

const HEAD = 214
const RULER = 22
const GAP = 4
const drawnWidth = computed(() => Math.max(100, Math.floor(width.value - HEAD - 8)))
const rowHeight = computed(() => {
  const count = Math.max(props.view.lanes.length, 1)
  const room = (height.value - RULER - 34) / count - GAP
  return Math.round(Math.min(74, Math.max(36, room)))
})
const beatLabels = computed(() => {
  const beat = 4 / props.view.meter[1]
  const labels = []
  const dense = pattern.span / beat > 16
  for (let i = 0; i * beat < pattern.span - 1e-6; i += 1) {
    const at = pattern.start + i * beat
    const bar = Math.floor(at / props.view.bar_beats + 1e-6)
    const inBar = Math.round((at - bar * props.view.bar_beats) / beat)
    if (dense && inBar !== 0) continue
    labels.push({ text: `${bar + 1}.${inBar + 1}`, left: ((at - pattern.start) / pattern.span) * 100, strong: inBar === 0 })
  }
  return labels
})
const firstBar = computed(() => Math.round(pattern.start / props.view.bar_beats) + 1)
const showing = computed(() => {
  const last = firstBar.value + pattern.viewBars - 1
  return pattern.viewBars === 1 ? `Bar ${firstBar.value}` : `Bars ${firstBar.value}–${last}`
})
const cursorWords = computed(() => {
  const lane = pattern.lane
  if (!lane) return ''
  const cells = visibleCells(lane.drawn, pattern.start, pattern.span)
  const cell = cells[pattern.step]
  if (cell === undefined) return lane.name
  const at = lane.drawn.cells[cell] ?? 0
  const hit = lane.drawn.hits.find(
    ([place]) => place >= at - 1e-6 && place < at + cellLength(lane.drawn, cell) - 1e-6,
  )
  const state = hit ? `hit, velocity ${hit[3][0]?.[2]}, chance ${Math.round(hit[1])} %` : 'rest'
  return `${lane.name}, step ${(lane.drawn.steps[cell] ?? 0) + 1} of ${lane.drawn.period}: ${state}`
})
function addLane(note: number): void {
  void pattern.commit([{ do: 'add_lane', note }])
}
</script>

<template>
  <section ref="box" class="lattice" aria-label="Lattice">
    <div class="scroll">
      <div class="ruler" :style="{ marginLeft: `${HEAD}px`, width: `${drawnWidth}px`, height: `${RULER}px` }">
        <span
          v-for="label in beatLabels" :key="label.text" :class="{ strong: label.strong }"
          :style="{ left: `${label.left}%` }"
        >{{ label.text }}</span>
      </div>
      <div class="rows" role="group" aria-roledescription="lattice" :aria-label="cursorWords">
        <div
          v-for="(lane, index) in view.lanes" :key="lane.id" class="lane"
          :class="{ chosen: lane.id === pattern.chosen }" :style="{ height: `${rowHeight}px` }"
        >
          <div class="left" :style="{ width: `${HEAD}px` }">
            <LaneHead :lane="lane" :index="index" :count="view.lanes.length" />
          </div>
          <LaneRow
            :lane="lane" :index="index" :view="view" :width="drawnWidth" :height="rowHeight - 2"
            :cursor="lane.id === pattern.chosen ? pattern.step : -1"
          />
        </div>
        <PlayHead :left="HEAD" :width="drawnWidth" />
      </div>
      <p v-if="view.lanes.length === 0" class="sentence empty">
        This pattern has no lanes yet. Add one, then turn the words of its sentence.
      </p>
      <v-btn class="add" size="small" @click="adding = true">+ lane</v-btn>
      <DrumMenu v-model="adding" :note="36" @hear="player.audition" @chosen="addLane" />
    </div>
    <div class="line">
      <span class="turner">
        <v-btn
          :icon="mdiChevronLeft" size="x-small" aria-label="Earlier bars" :disabled="pattern.start <= 0"
          @click="pattern.turnTo(pattern.start - pattern.span)"
        />
        <span>{{ showing }} · {{ view.meeting.words }}</span>
        <v-btn
          :icon="mdiChevronRight" size="x-small" aria-label="Later bars"
          @click="pattern.turnTo(pattern.start + pattern.span)"
        />
      </span>
      <span role="radiogroup" aria-label="Bars shown" class="bars">
        <button
          v-for="bars in [1, 2, 4]" :key="bars" type="button" class="plain" role="radio"
          :aria-checked="pattern.viewBars === bars" @click="pattern.setBars(bars)"
        >{{ bars }} {{ bars === 1 ? 'bar' : 'bars' }}</button>
      </span>
    </div>
    <span class="unseen" aria-live="polite">{{ cursorWords }}</span>
  </section>
</template>

<style scoped>
.lattice { display: flex; flex-direction: column; min-height: 0; min-width: 0; }
.scroll { flex: 1; min-height: 0; overflow-y: auto; overflow-x: hidden; padding: 2px; }
.ruler { position: relative; font-size: 12px; color: var(--quiet); }
.ruler span { position: absolute; transform: translateX(-50%); font-variant-numeric: tabular-nums; }
.ruler span:first-child { transform: none; }
.ruler .strong { font-weight: 700; color: var(--ink); }
.rows { position: relative; }
.lane { display: flex; margin-bottom: 4px; border: 1px solid var(--rule); border-radius: 9px; overflow: hidden; background: var(--card); }
.lane.chosen { border-color: var(--ink); box-shadow: 0 0 0 1px var(--ink); }
.left { flex: none; }
.line { display: flex; justify-content: space-between; align-items: center; font-size: 13px; color: var(--quiet); height: 30px; }
.turner { display: flex; align-items: center; gap: 4px; }
.bars { display: flex; gap: 12px; }
.bars [aria-checked='true'] { font-weight: 700; color: var(--ink); text-decoration: underline; text-underline-offset: 3px; }
.empty { font-size: 19px; padding: 24px 8px; }
.add { margin-top: 2px; }
</style>
