<script setup lang="ts">
/** The lattice: all lanes over some bars or the whole weave, in true time, with a playhead over them. */
import { mdiChevronLeft, mdiChevronRight } from '@mdi/js'
import { useElementSize } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import type { Edit, View } from '@/api/client'
import { announce } from '@/app/announce'
import { isHeldByKeys } from '@/app/keyboard'
import { byTouch } from '@/app/longPress'
import { rove } from '@/app/rove'
import { useTwoFingers } from '@/app/useTwoFingers'
import { cellLength, visibleCells } from '@/pattern/cells'
import { usePattern } from '@/pattern/pattern'
import { usePiece } from '@/pieces/piece'
import { useSession } from '@/session/session'
import LaneHead from './LaneHead.vue'
import LaneRow from './LaneRow.vue'
import MeetingWords from './MeetingWords.vue'
import PlayHead from './PlayHead.vue'
import ChordStrip from '@/chords/ChordStrip.vue'
import LibraryDrawer from '@/library/LibraryDrawer.vue'
import { lookAtText } from '@/writing/pasted'
import { useCopiedLanes } from './useCopiedLanes'
import { useRows } from './useRows'
import TimeRuler from './TimeRuler.vue'

const props = defineProps<{ view: View }>()
/** byKeys: whether a key asked for another lane. */
const emit = defineEmits<{ add: [byKeys: boolean] }>()
const pattern = usePattern()
const piece = usePiece()
const session = useSession()
const box = useTemplateRef<HTMLElement>('box')
const { width, height } = useElementSize(box)
const library = ref(false)

const HEAD = 214
/** How high, in pixels: ruler, chords, and below the lanes the buttons for others and what is shown. */
const high = computed(() => (
  byTouch.value ? { ruler: 44, chords: 56, below: 94 } : { ruler: 22, chords: 30, below: 66 }
))
const drawnWidth = computed(() => Math.max(100, Math.floor(width.value - HEAD - 8)))
const { heights } = useRows(
  () => props.view.lanes,
  () => height.value - high.value.ruler - high.value.below - (props.view.chords.length ? high.value.chords : 0),
)
/** What is drawn: the bars that are heard, or everything up to the meeting point. */
const shown = computed(() => pattern.weave ?? props.view)
const start = computed(() => (pattern.weave ? 0 : pattern.start))
const span = computed(() => (pattern.weave ? pattern.weave.end : pattern.span))
const BARS = [1, 2, 4, 8]
useTwoFingers(box, {
  zoom(by) {
    const next = BARS[BARS.findLastIndex((bars) => bars <= pattern.viewBars) - by]
    if (next) pattern.setBars(next)
  },
  turn: (by) => pattern.weaving || pattern.turnTo(pattern.start + by * pattern.span),
})
const weaveTitle = computed(() => {
  const bars = props.view.meeting.bars
  if (bars === null) return `The first ${pattern.weaveBars} bars`
  return bars > pattern.weaveBars
    ? `The first ${pattern.weaveBars} of ${bars} bars`
    : `All ${bars} bars up to the meeting point`
})
const firstBar = computed(() => Math.round(pattern.start / pattern.bar) + 1)
const showing = computed(() => {
  if (pattern.weave) return weaveTitle.value
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
// Walking over the lanes brings the chosen one into sight, and there it stays where a drawer takes room.
watch(
  [() => pattern.chosen, height],
  () => void nextTick(() => box.value?.querySelector('.lane.chosen')?.scrollIntoView({ block: 'nearest' })),
)
/** Walk from a lane's head to the same control of the one above or below. */
function goBeside(index: number, by: number): void {
  const heads = [
    ...(box.value?.querySelectorAll('.lane-head') ?? []),
  ].map((head) => [...head.querySelectorAll('button')])
  const control = heads[index]?.findIndex((each) => each === document.activeElement) ?? -1
  const lane = shown.value.lanes[index + by]
  if (!lane) return
  pattern.choose(lane.id)
  heads[index + by]?.[control]?.focus()
}
/** The pattern before this one in the piece, to begin with a copy of it. */
const before = computed(() => {
  const at = piece.patterns.findIndex((each) => each.id === pattern.id)
  return piece.patterns[at > 0 ? at - 1 : 1] ?? null
})
watch(showing, (words) => announce(words))
const { copiedLanes, copiedText, pasteLanes } = useCopiedLanes()
const KINDS = ['melody', 'controller'] as const
</script>

<template>
  <section ref="box" class="lattice pane" aria-label="Lattice" data-region>
    <div class="scroll">
      <div class="stays" :style="{ paddingLeft: `${HEAD}px` }">
        <TimeRuler :start="start" :span="span" :style="{ width: `${drawnWidth}px`, height: `${high.ruler}px` }" />
        <ChordStrip v-if="view.progression" :progression="view.progression" :chords="view.chords"
          :offered="view.chords_offered" :in-use="view.progressions_offered" :start="start" :span="span" :head="HEAD"
          :width="drawnWidth" />
      </div>
      <div class="rows" role="group" aria-roledescription="lattice" :aria-label="cursorWords || 'No lanes yet'"
        tabindex="0" data-home>
        <div
          v-for="(lane, index) in shown.lanes" :key="lane.id" class="lane pane"
          :class="{ chosen: lane.id === pattern.chosen, picked: pattern.picked.includes(lane.id) }"
          :style="{ height: `${heights[index]}px` }"
        >
          <div class="left" :style="{ width: `${HEAD}px` }">
            <LaneHead :lane="lane" :index="index" :count="shown.lanes.length" @beside="(by) => goBeside(index, by)" />
          </div>
          <LaneRow
            :lane="lane" :index="index" :beat="pattern.beat" :bar="pattern.bar" :width="drawnWidth"
            :height="(heights[index] ?? 40) - 2"
            :chords="view.chords"
            :start="start" :span="span" :coarse="span > 16 * pattern.bar"
            :cursor="lane.id === pattern.chosen && !pattern.weave ? pattern.step : -1"
          />
        </div>
        <PlayHead :left="HEAD" :width="drawnWidth" :start="start" :span="span" />
      </div>
      <p v-if="view.lanes.length === 0" class="sentence empty">
        This pattern has no lanes yet. Add one, then turn the words of its sentence; or begin with something.
      </p>
      <div :class="{ adding: view.lanes.length }">
      <v-btn
        class="add" :size="view.lanes.length ? 'small' : 'default'" :variant="view.lanes.length ? 'text' : 'flat'"
        :color="view.lanes.length ? undefined : 'primary'"
        @click="(event: MouseEvent) => emit('add', isHeldByKeys(event.currentTarget as HTMLElement))"
      >+ lane</v-btn>
      <v-btn
        v-for="kind in KINDS" :key="kind" class="add" :size="view.lanes.length ? 'small' : 'default'"
        :variant="view.lanes.length ? 'text' : 'outlined'" @click="pattern.commit([{ do: 'add_lane', begin: kind }])"
      >+ {{ kind }}</v-btn>
      <v-btn class="add" :size="view.lanes.length ? 'small' : 'default'"
        :variant="view.lanes.length ? 'text' : 'outlined'" @click="library = true">starting recipes …</v-btn>
      <v-btn v-if="copiedLanes.length" class="add" :size="view.lanes.length ? 'small' : 'default'"
        :variant="view.lanes.length ? 'text' : 'outlined'" @click="pasteLanes(null)">paste {{ copiedText }}</v-btn>
      <span v-if="view.lanes.length === 0" class="starts">
        <v-btn
          v-for="(title, name) in session.offered.starts" :key="name" variant="outlined"
          @click="pattern.commit([{ do: 'start', start: name } as Edit])"
        >{{ title }}</v-btn>
        <v-btn variant="outlined" @click="lookAtText('')">Write or paste a text …</v-btn>
        <v-btn v-if="before" variant="outlined"
          @click="pattern.fillFrom(before.id)">A copy of “{{ before.name }}”</v-btn>
      </span>
      </div>
      <LibraryDrawer v-model="library" />
    </div>
    <div class="line">
      <span class="turner">
        <v-btn
          :icon="mdiChevronLeft" size="x-small" aria-label="Earlier bars" :aria-disabled="pattern.start <= 0"
          :class="{ spent: pattern.start <= 0 }"
          @click="pattern.turnTo(pattern.start - pattern.span)"
        />
        <span>{{ showing }}<template v-if="view.lanes.length"> · </template></span><MeetingWords
          v-if="view.lanes.length" :met="view.meeting" />
        <v-btn
          :icon="mdiChevronRight" size="x-small" aria-label="Later bars"
          @click="pattern.turnTo(pattern.start + pattern.span)"
        />
      </span>
      <span role="radiogroup" aria-label="Bars shown" class="bars" @keydown="rove">
        <button
          v-for="bars in BARS" :key="bars" type="button" class="plain" role="radio"
          :aria-checked="!pattern.weaving && pattern.viewBars === bars"
          :tabindex="!pattern.weaving && pattern.viewBars === bars ? 0 : -1"
          @click="pattern.setBars(bars)"
        >{{ bars }} {{ bars === 1 ? 'bar' : 'bars' }}</button>
        <button
          type="button" class="plain" role="radio" :aria-checked="pattern.weaving" :tabindex="pattern.weaving ? 0 : -1"
          title="All bars up to the meeting point, at most 256"
          @click="pattern.seeWeave"
        >whole weave</button>
      </span>
    </div>
    <span class="unseen" aria-live="polite">{{ cursorWords }}</span>
  </section>
</template>

<style scoped>
.lattice { display: flex; flex-direction: column; min-height: 0; min-width: 0; }
.scroll { flex: 1; min-height: 0; overflow-y: auto; overflow-x: hidden; padding: 2px; scroll-padding: 60px 0 34px; }
.stays { position: sticky; top: -2px; z-index: 3; margin: -2px -2px 0; padding-top: 2px; background: var(--paper); }
.rows { position: relative; padding-top: 2px; }
.rows:focus-visible { outline-offset: -1px; border-radius: 10px; }
.spent { opacity: 0.4; cursor: default; }
/* What is out of sight costs no frame: its height is known. */
.lane {
  content-visibility: auto; display: flex; margin-bottom: 4px; border: 1px solid var(--rule); border-radius: 9px;
  overflow: hidden; background: var(--card);
}
.lane.chosen { border-color: var(--ink); box-shadow: 0 0 0 1px var(--ink); }
.lane.picked { outline: 2px dashed var(--ink); outline-offset: -3px; }
.left { flex: none; container: row / size; }
.line {
  display: flex; justify-content: space-between; align-items: center; font-size: 13px; color: var(--quiet);
  height: 30px;
}
.turner { display: flex; align-items: center; gap: 4px; }
.bars { display: flex; gap: 12px; }
.bars [aria-checked='true'] {
  font-weight: 700; color: var(--ink); text-decoration: underline; text-underline-offset: 3px;
}
.empty { font-size: 19px; padding: 24px 8px 16px; }
.starts { display: inline-flex; flex-wrap: wrap; gap: 8px; margin-left: 8px; vertical-align: middle; }
/* Where the lanes take all the room, what adds one stays in sight. */
.adding { position: sticky; bottom: -2px; z-index: 2; margin: 0 -2px -2px; padding: 0 2px; background: var(--paper); }
.add { margin-top: 2px; }
.empty + div .add { margin: 0 0 0 8px; vertical-align: middle; }
@media (pointer: coarse) {
  .line { height: 44px; }
}
</style>
