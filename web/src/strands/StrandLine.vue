<script setup lang="ts">
/** One strand of the sheet: its name, its values over the whole width, and how it is read. */
import { mdiDiceMultipleOutline } from '@mdi/js'
import { ref } from 'vue'
import type { Strand } from '@/api/client'
import { usePattern } from '@/pattern/pattern'
import SentenceWord from '@/sentence/SentenceWord.vue'
import StrandBars from './StrandBars.vue'
import StrandText from './StrandText.vue'
import { useStrandEdits } from './useStrandEdits'

const props = defineProps<{ strand: Strand; lane: string; size: number | null }>()
const pattern = usePattern()
const { lanes, steps, words, shaped, drawn, worded } = useStrandEdits(() => props.lane, () => props.strand)
const typing = ref(false)
/** Drawn within the bounds that a throw of this kind has at first. */
const throwAll = () =>
  pattern.commit(shaped('randomise', { low: props.strand.thrown[0], high: props.strand.thrown[1] }))
</script>

<template>
  <section class="line" :class="{ used: strand.used }" :aria-label="strand.word">
    <header>
      <h3>{{ strand.word }}</h3>
      <span class="reading sentence">
        <SentenceWord
          v-for="each in words" :key="each.slot" :slotted="each"
          @preview="(value) => void pattern.preview(worded(each.slot, value))"
          @settle="(value) => pattern.commit(worded(each.slot, value))" @forget="void pattern.preview([])"
        />
      </span>
      <span class="acts">
      <v-btn :icon="mdiDiceMultipleOutline" size="x-small" :aria-label="`Throw ${strand.word}`"
        :title="`Values from ${strand.thrown[0]} to ${strand.thrown[1]} by chance`" @click="throwAll" />
      <button type="button" class="plain tool" @click="typing = !typing">type</button>
      <button v-if="strand.used" type="button" class="plain tool"
        @click="pattern.commit(lanes.map((each) => ({ do: 'strand', lane: each, kind: strand.kind, strand: null })))">take away</button>
      </span>
    </header>
    <div class="values">
    <StrandText v-if="typing" v-model="typing" :strand="strand" @settle="(values) => pattern.commit(drawn(values))" />
    <StrandBars
      :strand="strand" :marked="steps" :size="size" :chord="pattern.view?.chosen?.chord" :most="46"
      @preview="(values) => void pattern.preview(drawn(values))" @settle="(values) => pattern.commit(drawn(values))"
      @length="(amount) => void pattern.preview(shaped('length', { amount }))"
      @lengthen="(amount) => pattern.commit(shaped('length', { amount }))" @forget="void pattern.preview([])"
    />
    </div>
  </section>
</template>

<style scoped>
.line { display: grid; grid-template-columns: 262px minmax(0, 1fr); gap: 14px; align-items: center; }
header { display: grid; gap: 1px; }
h3 { font-size: 15px; line-height: 1.2; color: var(--quiet); }
h3::first-letter { text-transform: uppercase; }
.used h3 { color: var(--ink); font-weight: 700; }
.reading { font-size: 14px; display: flex; gap: 7px; }
.reading :deep(.word) { line-height: 24px; }
.acts { display: flex; gap: 6px; align-items: center; }
@media (max-width: 760px) { .line { grid-template-columns: minmax(0, 1fr); } }
.tool {
  font-size: 12px; line-height: 22px; border: 1px solid var(--rule); border-radius: 11px; padding: 0 9px;
  color: var(--ink);
}
</style>
