<script setup lang="ts">
/**
 * Cuttings, in place of the lattice: a sentence that grows relatives, a strip of them for each lane, and what is done
 * with them.
 */
import { computed, onMounted, ref, watch } from 'vue'
import { goHome, useMusicKeys } from '@/app/keyboard'
import { many } from '@/app/many'
import { usePattern } from '@/pattern/pattern'
import SaidWords from '@/sentence/SaidWords.vue'
import { useShelf } from '@/shelf/shelf'
import { useCuttings, type Side } from './cuttings'
import { useGusts } from './gusts'
import LaneCuttings from './LaneCuttings.vue'

const emit = defineEmits<{ close: [] }>()
const cuttings = useCuttings()
const gusts = useGusts()
const pattern = usePattern()
const shelf = useShelf()
const parts = computed(() => cuttings.grown?.sentence.flatMap((clause) => clause.parts) ?? [])
const gustParts = computed(() => cuttings.grown?.gusts_sentence.flatMap((clause) => clause.parts) ?? [])
const percent = (share: number) => `${Math.round(100 * share)} %`
const whole = computed(() => (
  cuttings.grown
    ? `All lanes: ${percent(cuttings.grown.density)} of the steps are hits, ${percent(cuttings.grown.agreement)} of the hits fall together.` : ''
))
const share = ref(50)
const moving = computed(() => pattern.view?.lanes.filter((lane) => cuttings.moves(lane.id)).length ?? 0)
const resting = computed(
  () => pattern.view?.lanes.filter((lane) => cuttings.staying[lane.id]).map((lane) => lane.name) ?? [],
)
const moved = computed(() => (
  resting.value.length
    ? `every strip but ${resting.value.join(', ')}`
    : `${many(moving.value, 'strip')} at once`
))
// What was stored elsewhere, or just planted, has other relatives.
watch(() => pattern.revision, () => void cuttings.grow())

onMounted(goHome)
const SIDES: Side[] = ['A', 'B']
/** Wherever the focus is. */
const anywhere: Record<string, () => void> = {
  Escape: () => (cuttings.trying ? cuttings.asWas() : emit('close')),
  n: () => cuttings.throwAgain(1),
  p: () => cuttings.throwAgain(-1),
  a: () => cuttings.mark('A'),
  b: () => cuttings.mark('B'),
  m: () => cuttings.moreLikeThis(),
}
useMusicKeys(({ key, alt, command }) => (
  command || alt ? null : key === 'Enter' ? () => void cuttings.plant() : anywhere[key]
))
</script>

<template>
  <section class="cuttings" aria-label="Cuttings" tabindex="-1" data-home>
    <section class="wish pane" aria-label="What is grown" data-region>
      <header>
        <h2>Cuttings of {{ pattern.name }}</h2>
        <span class="quiet">{{ cuttings.growing ? 'growing …' : whole }}</span>
        <button type="button" class="plain close" @click="emit('close')">back to the lattice</button>
      </header>
      <p class="sentence">
        <SaidWords :parts="parts" @preview="cuttings.grow" @settle="cuttings.grow" />
      </p>
    </section>
    <ul v-if="pattern.view?.lanes.length" class="lanes" data-region>
      <LaneCuttings v-for="(lane, index) in pattern.view.lanes" :key="lane.id" :lane="lane" :index="index" />
    </ul>
    <p v-else class="sentence quiet empty">There are no lanes to grow from yet; begin with one in the lattice.</p>
    <div class="all">
      <label for="all-strips">All that may move</label>
      <input
        id="all-strips" v-model.number="share" type="range" min="0" max="100" :disabled="!moving"
        :aria-valuetext="`${share} % of the way`"
        @input="cuttings.moveAll(share / 100)"
      />
      <span class="quiet">drag: {{ moved }}</span>
    </div>
    <p class="gusts">
      <span class="sentence">
        <SaidWords :parts="gustParts" @preview="cuttings.turnGusts" @settle="cuttings.turnGusts" />
      </span>
      <button
        type="button" class="plain hold" :aria-pressed="gusts.holding" @pointerdown="gusts.hold"
        @pointerup="gusts.release" @pointercancel="gusts.release" @pointerleave="gusts.release"
        @keydown.enter.space.prevent="gusts.hold" @keyup.enter.space="gusts.release" @blur="gusts.release"
      >hold for a gust</button>
      <button type="button" class="plain act" :disabled="!gusts.known"
        @click="gusts.plantLast">plant the last gust</button>
      <button type="button" class="plain act" :disabled="!gusts.known"
        title="As a clause of the pattern: the same gust in the 8th of every 8 passes"
        @click="gusts.letCome(true)">let it come back</button>
      <button type="button" class="plain act"
        title="As a clause of the pattern: another gust in the 8th of every 8 passes"
        @click="gusts.letCome(false)">let gusts come by themselves</button>
    </p>
    <footer>
      <v-btn size="small" color="primary" variant="flat" :disabled="!cuttings.trying"
        @click="cuttings.plant()">plant this</v-btn>
      <button type="button" class="plain act" title="K" @click="shelf.keepHeard">keep as a clip</button>
      <button type="button" class="plain act" @click="cuttings.throwAgain(1)">another throw</button>
      <button type="button" class="plain act" @click="cuttings.throwAgain(-1)">the one before</button>
      <button type="button" class="plain act" :disabled="!cuttings.trying"
        @click="cuttings.moreLikeThis">more like this</button>
      <button type="button" class="plain act" :disabled="!cuttings.trying"
        @click="cuttings.asWas()">all as it was</button>
      <span class="sides" role="group" aria-label="Two to compare">
        <button
          v-for="side in SIDES" :key="side" type="button" class="plain side" :class="{ known: cuttings.marked[side] }"
          :aria-label="cuttings.marked[side] ? `${side}: hear it` : `${side}: mark what is heard`"
          :title="cuttings.marked[side] ? 'Hear it' : 'Mark what is heard, to compare it'" @click="cuttings.mark(side)"
        >{{ side }}</button>
        <button v-if="cuttings.marked.A || cuttings.marked.B" type="button" class="plain act"
          @click="cuttings.unmark">forget A and B</button>
      </span>
      <span
        class="quiet hint">{{ cuttings.trying ? 'heard now, not yet stored · Enter plants, Escape is back' : 'point at a mark, drag a strip, or walk with the arrows' }}</span>
    </footer>
  </section>
</template>

<style scoped>
.cuttings:focus { outline: none; }
.cuttings { display: flex; flex-direction: column; gap: 7px; flex: 1; min-height: 0; min-width: 0; }
.wish {
  --lane: var(--link); background: var(--card); border: 1px solid var(--rule); border-radius: 12px;
  padding: 8px 18px 9px; flex: none;
}
header { display: flex; align-items: baseline; gap: 14px; }
h2 { font-size: 18px; line-height: 1.3; color: var(--link); white-space: nowrap; }
header .quiet { font-size: 13px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.close { margin-left: auto; flex: none; min-height: 24px; font-size: 13px; font-weight: 600; color: var(--link); }
.close:hover, .act:hover:not(:disabled) { text-decoration: underline; text-underline-offset: 3px; }
.sentence { font-size: 18px; line-height: 1.45; }
.lanes {
  list-style: none; display: flex; flex-direction: column; gap: 5px; overflow-y: auto; min-height: 120px;
  flex: 0 1 auto;
}
.empty { flex: 1; padding: 20px; }
.all {
  display: grid; grid-template-columns: 234px minmax(0, 1fr) 186px; gap: 10px; align-items: center;
  background: var(--ground, var(--paper)); border: 1px solid var(--rule); border-radius: 10px;
  padding: 7px 8px 7px 12px; flex: none;
}
.all label { font: 600 15px 'Fraunces Variable', serif; }
.all input {
  appearance: none; width: calc(100% - 8px); margin: 0 4px; height: 18px;
  background: linear-gradient(var(--link), var(--link)) center / 100% 2px no-repeat; cursor: ew-resize;
}
.all input::-webkit-slider-thumb {
  appearance: none; width: 13px; height: 13px; rotate: 45deg; background: var(--link); border: 2px solid var(--ink);
}
.all input::-moz-range-thumb {
  width: 10px; height: 10px; rotate: 45deg; border-radius: 0; background: var(--link); border: 2px solid var(--ink);
}
.all input:disabled { opacity: 0.4; cursor: default; }
.all .quiet { font-size: 12.5px; line-height: 1.3; }
.gusts { --lane: var(--link); display: flex; align-items: baseline; gap: 14px; font-size: 13px; flex: none; }
.gusts .sentence { font-size: 16px; line-height: 1.3; }
.hold {
  border: 1px solid var(--rule); border-radius: 11px; padding: 0 10px; line-height: 22px; margin-left: auto;
  white-space: nowrap; user-select: none; touch-action: none;
}
.hold:hover { border-color: var(--ink); }
.hold[aria-pressed='true'] { background: var(--lamp); color: #2b2240; border-color: #2b2240; }
footer { display: flex; align-items: center; gap: 15px; font-size: 13px; flex: none; flex-wrap: wrap; row-gap: 4px; }
.act { font-weight: 650; color: var(--link); white-space: nowrap; min-height: 24px; }
.act:disabled { color: var(--quiet); font-weight: 500; }
.sides { display: flex; gap: 6px; align-items: center; }
.side {
  width: 24px; line-height: 22px; border: 1px dashed var(--quiet); border-radius: 12px; text-align: center;
  font-weight: 650;
}
.side.known {
  border-style: solid; border-color: var(--ink); background: color-mix(in srgb, var(--lamp) 40%, var(--card));
  color: var(--ink);
}
.hint { font-size: 12.5px; margin-left: auto; }
</style>
