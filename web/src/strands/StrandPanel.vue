<script setup lang="ts">
/** The strands of the chosen lane: tabs of kinds, values drawn with the pointer or set from the keyboard. */
import { StorageSerializers, useLocalStorage } from '@vueuse/core'
import { computed, ref, useTemplateRef, watch } from 'vue'
import type { Edit, Strand } from '@/api/client'
import { useNotices } from '@/app/notices'
import { rove } from '@/app/rove'
import { useReturnFocus } from '@/app/useReturnFocus'
import { usePattern } from '@/pattern/pattern'
import { toldOf } from '@/pattern/toldOf'
import RideCurve from '@/ride/RideCurve.vue'
import RidePad from '@/ride/RidePad.vue'
import SentenceWord from '@/sentence/SentenceWord.vue'
import ScatterMenu from './ScatterMenu.vue'
import StrandBars from './StrandBars.vue'
import StrandSheet from './StrandSheet.vue'
import StrandText from './StrandText.vue'
import { useStrandEdits } from './useStrandEdits'

const props = defineProps<{ strands: Strand[]; lane: string }>()
const pattern = usePattern()
const notices = useNotices()
const picked = ref(props.strands[0]?.kind ?? '')
/** The kind that was picked, unless the lane has no such strand. */
const kind = computed({
  get: () => (
    picked.value === 'ride' || props.strands.some((each) => each.kind === picked.value)
      ? picked.value
      : (props.strands[0]?.kind ?? '')
  ),
  set: (to) => (picked.value = to),
})
const strand = computed(() => props.strands.find((each) => each.kind === kind.value) ?? props.strands[0])
const {
  lanes, steps, words, shaped, drawn, readBy, worded: reading,
} = useStrandEdits(() => props.lane, () => strand.value)
const typing = ref(false)
const sheet = ref(false)
watch([kind, () => props.lane], () => (typing.value = false))
/** How many notes the lane's scale has, to draw degrees on their lines. */
const size = computed(() => pattern.view?.lanes.find((each) => each.id === props.lane)?.scale?.notes.length ?? 7)
const commit = (edits: Edit[]) => pattern.commit(edits)
const preview = (edits: Edit[]) => void pattern.preview(edits)

const first = computed(() => strand.value?.window?.[0] ?? 0)
const last = computed(() => strand.value?.window?.[1] ?? (strand.value?.values.length ?? 1) - 1)
/** Read from one value (from 1) to another; what is no such number goes back to what it was. */
function readFrom(field: HTMLInputElement, which: 0 | 1): void {
  const length = strand.value?.values.length ?? 1
  const window: [number, number] = [first.value, last.value]
  window[which] = field.valueAsNumber - 1
  const [a, b] = window
  if (Number.isInteger(a) && Number.isInteger(b) && a >= 0 && a <= b && b < length) {
    void commit(readBy({ window: a === 0 && b === length - 1 ? null : [a, b] }))
  } else {
    field.value = String((which ? last.value : first.value) + 1)
    notices.say(`The values that are read go from one to another of 1 to ${length}.`)
  }
}

const more = ref(false)
const values = useTemplateRef<{ $el: HTMLElement }>('values')
useReturnFocus(more)
const low = ref<number | null>(null)
const high = ref<number | null>(null)
const share = ref(100)
/** An emptied field has no number. */
const isNumber = (value: unknown): value is number => typeof value === 'number' && Number.isFinite(value)
function randomise(): void {
  const [from, to] = [
    isNumber(low.value) ? low.value : strand.value?.low, isNumber(high.value) ? high.value : strand.value?.high,
  ]
  if (isNumber(share.value)) void commit(shaped('randomise', { low: from, high: to, share: share.value }))
  else notices.say('Say how many of the values are thrown, from 0 to 100 percent.')
}
const amount = computed(() => strand.value?.raised ?? 1)
const everything = ref('')
function setAll(): void {
  if (String(everything.value).trim() !== '') void commit(shaped('set', { amount: Number(everything.value) }))
}
/** The strand that was copied last, for any lane of any pattern. */
const copied = useLocalStorage<Pick<Strand, 'values' | 'kind' | 'word'> & {
  by: string; direction: string; window: Strand['window'],
} | null>('jolly-copied-strand', null, { serializer: StorageSerializers.object })
function copy(): void {
  const { values: all, kind: of, word, by, direction, window } = strand.value as Strand
  copied.value = { values: all, kind: of, word, by: String(by.value), direction: String(direction.value), window }
}
/** The whole strand as it was copied; or its values laid over those that are there, from a place (from 1) on. */
function paste(): void {
  if (!copied.value) return
  const { values: all, by, direction, window } = copied.value
  void commit(
    lanes.value.map((lane) => ({
      do: 'strand', lane, kind: kind.value, strand: { values: all, by, direction, window },
    })),
  )
}
const place = ref(1)
function pasteAt(): void {
  if (!copied.value || !strand.value) return
  if (!Number.isInteger(place.value) || place.value < 1 || place.value > 256) {
    return notices.say('Say from which value on, from 1 to 256.')
  }
  const old = strand.value.values
  const end = Math.max(old.length, place.value - 1 + copied.value.values.length)
  const laid = Array.from(
    { length: end }, (_, i) => copied.value?.values[i - place.value + 1] ?? old[i % old.length] ?? 0,
  )
  void commit(drawn(laid))
}
watch(more, () => (place.value = (pattern.steps.length ? Math.min(...pattern.steps) : 0) + 1))
/** Whether a ride lies in the lane: its steps are others for some beats. */
const laidIn = computed(() =>
  toldOf(pattern.view, props.lane)?.sentence.clauses.some(({ id }) => id.startsWith('rate-path')) ?? false)
const sources = computed(() => pattern.view?.lanes.filter((each) => each.id !== props.lane) ?? [])
</script>

<template>
  <section v-if="strand" class="strands" aria-label="Strands">
    <div role="tablist" aria-label="Kinds of strand" class="kinds" @keydown="rove">
      <button
        v-for="each in [...strands, { kind: 'ride', word: 'ride', used: laidIn }]"
        :key="each.kind" type="button" role="tab" class="plain kind" :aria-selected="each.kind === kind"
        :tabindex="each.kind === kind ? 0 : -1" :class="{ used: each.used }" @click="kind = each.kind"
      >{{ each.word }}<span v-if="each.used" class="unseen">, in use</span></button>
    </div>
    <template v-if="kind === 'ride'">
      <RideCurve v-if="laidIn" :lane="lane" />
      <RidePad :key="`${pattern.id}/${lane}`" :lane="lane" :low="laidIn" />
    </template>
    <template v-else>
    <StrandBars
      :strand="strand" :marked="steps" :size="kind === 'degree' ? size : null" :chord="pattern.view?.chosen?.chord"
      @preview="(values) => preview(drawn(values))"
      @settle="(values) => commit(drawn(values))" @length="(amount) => preview(shaped('length', { amount }))"
      @lengthen="(amount) => commit(shaped('length', { amount }))" @forget="preview([])"
    />
    <StrandText v-if="typing" v-model="typing" :strand="strand" @settle="(values) => commit(drawn(values))" />
    <p v-else class="sentence reading">
      <SentenceWord
        v-for="each in words" :key="`${kind}${each.slot}`" :slotted="each"
        @preview="(value) => preview(reading(each.slot, value))" @settle="(value) => commit(reading(each.slot, value))"
        @forget="preview([])"
      />
      <span class="quiet">{{ strand.values.length === 1 ? 'value' : 'values' }}<template
        v-if="!strand.used">, all alike so far</template></span>
      <span v-one-stop class="ways">
        <button type="button" class="plain tool" @click="typing = true">type</button>
        <button type="button" class="plain tool" aria-haspopup="dialog" @click="sheet = true">all strands …</button>
      </span>
    </p>
    <div v-one-stop class="tools">
      <button type="button" class="plain tool" @click="commit(shaped('raise', { amount }))">raise</button>
      <button type="button" class="plain tool" @click="commit(shaped('raise', { amount: -amount }))">lower</button>
      <button type="button" class="plain tool" @click="commit(shaped('rotate', { amount: 1 }))">rotate</button>
      <button type="button" class="plain tool" @click="commit(shaped('reverse'))">reverse</button>
      <ScatterMenu v-if="kind === 'degree'" :lanes="lanes" :steps="steps" />
      <v-menu v-model="more" :close-on-content-click="false" @after-enter="values?.$el.querySelector('input')?.focus()">
        <template #activator="{ props: menu }">
          <button v-bind="menu" type="button" class="plain tool" aria-haspopup="dialog">more …</button>
        </template>
        <v-card ref="values" class="more" role="dialog" :aria-label="`All values of ${strand.word}`">
          <form @submit.prevent="setAll">
            <label>set {{ steps ? 'chosen' : 'all' }} to <input v-model="everything" type="number" :min="strand.low"
              :max="strand.high" step="any" /></label>
            <button type="submit" class="plain tool">set</button>
          </form>
          <form @submit.prevent="randomise">
            <label>from <input v-model.number="low" type="number" :placeholder="String(strand.low)" :min="strand.low"
              :max="strand.high" /></label>
            <label>to <input v-model.number="high" type="number" :placeholder="String(strand.high)" :min="strand.low"
              :max="strand.high" /></label>
            <label>share <input v-model.number="share" type="number" min="0" max="100" /> %</label>
            <button type="submit" class="plain tool">randomise</button>
          </form>
          <div class="copies">
            <label>read from value <input
              type="number" min="1" :max="last + 1" :value="first + 1" aria-label="First value read"
              @change="readFrom($event.target as HTMLInputElement, 0)"
            /></label>
            <label>to <input
              type="number" :min="first + 1" :max="strand.values.length" :value="last + 1" aria-label="Last value read"
              @change="readFrom($event.target as HTMLInputElement, 1)"
            /></label>
          </div>
          <div class="copies">
            <button type="button" class="plain tool" @click="copy">copy</button>
            <template v-if="copied">
              <button type="button" class="plain tool"
                @click="paste">paste {{ copied.word }} of {{ copied.values.length }}</button>
              <label>or over value <input v-model.number="place" type="number" min="1" max="256"
                aria-label="Paste from value" /></label>
              <button type="button" class="plain tool" @click="pasteAt">on</button>
            </template>
          </div>
          <div v-if="sources.length" class="copies">
            copy from
            <button
              v-for="each in sources" :key="each.id" type="button" class="plain tool"
              @click="commit(lanes.map((to) => ({ do: 'copy_strand', lane: to, kind, source: each.id })))"
            >{{ each.name }}</button>
          </div>
        </v-card>
      </v-menu>
      <button
        v-if="strand.used" type="button" class="plain tool"
        @click="commit(lanes.map((each) => ({ do: 'strand', lane: each, kind, strand: null })))"
      >take away</button>
    </div>
    </template>
    <StrandSheet v-model="sheet" :strands="strands" :lane="lane" :name="pattern.lane?.name ?? ''" :size="size" />
  </section>
</template>

<style scoped>
.strands { display: flex; flex-direction: column; gap: 4px; flex: none; }
.kinds { display: flex; flex-wrap: wrap; gap: 2px 8px; font-size: 12.5px; }
.kind { color: var(--quiet); padding: 0 1px; border-bottom: 2px solid transparent; }
.kind::first-letter { text-transform: uppercase; }
.kind.used { color: var(--ink); font-weight: 650; }
.kind[aria-selected='true'] { color: var(--ink); border-color: var(--lane); }
.reading :deep(.word) { line-height: 24px; }
.ways { margin-left: auto; display: flex; gap: 4px; font-family: 'Figtree Variable', sans-serif; font-weight: 400; }
.reading { margin-top: 3px; font-size: 14.5px; display: flex; flex-wrap: wrap; align-items: baseline; gap: 2px 7px; }
input {
  width: 44px; font: inherit; color: var(--ink); background: var(--paper); border: 1px solid var(--rule);
  border-radius: 5px; padding: 0 3px;
}
.tools { display: flex; flex-wrap: wrap; gap: 4px; }
.tool {
  font-size: 12px; line-height: 19px; border: 1px solid var(--rule); border-radius: 10px; padding: 0 8px;
  color: var(--ink);
}
.tool:hover { border-color: var(--ink); }
.more { padding: 12px; display: grid; gap: 10px; font-size: 13px; }
.more form, .copies { display: flex; flex-wrap: wrap; align-items: center; gap: 6px; max-width: 380px; }
.more input { width: 58px; }
</style>
