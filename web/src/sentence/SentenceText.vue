<script setup lang="ts">
/** A sentence: clauses with words that can be changed, and small offers of clauses to add. */
import { useElementSize, useResizeObserver } from '@vueuse/core'
import { computed, nextTick, provide, ref, shallowRef, useTemplateRef, watch } from 'vue'
import type { Edit, Sentence, Shape } from '@/api/client'
import { goHome, isHeldByKeys } from '@/app/keyboard'
import { byTouch } from '@/app/longPress'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import { usePlayer } from '@/sound/player'
import { usePattern } from '@/pattern/pattern'
import { slotsOf } from '@/pattern/slots'
import { lastValues, rememberValue } from './lastValues'
import { laneToSay, OPENING } from './opening'
import SaidClause from './SaidClause.vue'

const props = defineProps<{ sentence: Sentence; lane: string | null }>()
const pattern = usePattern()
const player = usePlayer()

/** The other lanes that are changed together with this one. */
const also = () => (props.lane === null ? [] : pattern.also)
const change = (slot: string, value: unknown): Edit[] => [{ do: 'set', lane: props.lane, slot, value, also: also() }]
const box = useTemplateRef<HTMLElement>('box')
/** Whether a long sentence goes on below what is seen of it. */
const told = useTemplateRef<HTMLElement>('told')
const goesOn = ref(false)
function look(): void {
  const { scrollHeight = 0, scrollTop = 0, clientHeight = 0 } = told.value ?? {}
  goesOn.value = scrollHeight - scrollTop - clientHeight > 4
}
useResizeObserver(told, look)
watch(() => props.sentence, look, { flush: 'post' })
/** What can be added stands in as many whole lines as there is room for; the rest is under "all clauses". */
const room = useTemplateRef<HTMLElement>('room')
const { height } = useElementSize(room)
const GAP = 5
const line = computed(() => (byTouch.value ? 44 : 22) + GAP)
const lines = computed(() => Math.max(1, Math.floor((height.value + GAP) / line.value)))
/** Add a clause; where it was added by keys, the focus goes on to its first word. */
async function add(clause: string): Promise<void> {
  const byKeys = isHeldByKeys(document.activeElement)
  const before = new Set(props.sentence.clauses.map((each) => each.id))
  if (!(await pattern.commit([{ do: 'add', lane: props.lane, clause, also: also(), values: lastValues(clause) }]))) {
    return
  }
  if (!byKeys) return
  await nextTick()
  const made = props.sentence.clauses.find((each) => !before.has(each.id))
  const place = box.value?.querySelector(`[data-clause="${made?.id}"]`)
  place?.querySelector<HTMLElement>('.word, .remove')?.focus()
}
/**
 * The word that a hand is turning: its clause stays as it is until it lets go, even where it comes to say what another
 * says.
 */
const turning = ref<string | null>(null)
const hasWord = (of: Sentence, name: string) => slotsOf(of.clauses).some(({ slot }) => slot === name)
const shown = shallowRef(props.sentence)
watch(() => [props.sentence, turning.value] as const, ([now, held]) => {
  if (held === null || hasWord(now, held)) shown.value = now
})
/** The key of the pattern stands in the bar over the page. */
const clauses = computed(() => shown.value.clauses.filter((clause) => props.lane !== null || clause.id !== 'key'))
const words = () => slotsOf(clauses.value)
const opened = ref<string | null>(null)
function goOn(from: string, by: 1 | -1): void {
  const all = words()
  opened.value = all[all.findIndex(({ slot }) => slot === from) + by]?.slot ?? null
  if (opened.value === null) goHome()
}
provide(OPENING, { opened, goOn })
// What was just begun by keys is said by keys: its first number is open.
watch(laneToSay, (wanted) => {
  if (wanted?.pattern !== pattern.id || wanted.lane !== props.lane) return
  laneToSay.value = null
  opened.value = words().find(({ kind }) => kind !== 'choice')?.slot ?? null
}, { immediate: true })
/** All that could be added, group by group. */
const entries = computed<Entry[]>(() => {
  const groups = [...new Set(props.sentence.offers.map((offer) => offer.group))]
  return groups.flatMap((group) => props.sentence.offers.filter((offer) => offer.group === group).map((offer, i) => ({
    title: offer.label, about: offer.about, group: i === 0 ? group : undefined, run: () => void add(offer.id),
  })))
})
function preview(slot: string, value: unknown): void {
  turning.value = slot
  void pattern.preview(change(slot, value))
}
function forget(): void {
  turning.value = null
  void pattern.preview([])
}
async function settle(slot: string, value: unknown): Promise<boolean> {
  turning.value = null
  const said = props.sentence
  const outcome = await pattern.store(change(slot, value))
  if (outcome === 'taken') {
    rememberValue(said, slot, value)
    player.hearChange()
  }
  return outcome !== 'refused'
}
/** A word follows a path, or stands still again. */
async function follow(word: string, shape: Shape | null, points: number[] | null, store: boolean): Promise<void> {
  const edits: Edit[] = [{ do: 'path', lane: props.lane, word, shape, points, also: also() }]
  if (!store) pattern.preview(edits)
  else if (await pattern.commit(edits)) player.hearChange()
}
</script>

<template>
  <div ref="box" class="sentence">
    <div ref="told" v-one-stop class="clauses" :style="{ '--more': goesOn ? '22px' : '0px' }" @scroll.passive="look">
    <template v-for="clause in clauses" :key="clause.id">
    <SaidClause
      :clause="clause" @preview="preview" @settle="settle" @forget="forget" @path="follow"
      @remove="pattern.commit([{ do: 'remove', lane, clause: clause.id, also: also() }])"
    />{{ ' ' }}
    </template>
    </div>
    <div ref="room" class="offers">
      <div v-one-stop class="chips" :style="{ maxHeight: `${lines * line - GAP}px` }">
      <button
        v-for="offer in sentence.offers" :key="offer.id" type="button" class="plain offer" :title="offer.about"
        @click="add(offer.id)"
      >+ {{ offer.label }}</button>
      </div>
      <PickMenu v-if="sentence.offers.length > 3" label="Clauses to add" find="Find a clause" :entries="entries">
        <template #opener="{ menu }"><button v-bind="menu" type="button"
          class="plain offer all">all clauses …</button></template>
      </PickMenu>
    </div>
  </div>
</template>

<style scoped>
.sentence { font-size: 16.5px; line-height: 1.5; }
/* What goes on below says so. */
.clauses {
  scrollbar-width: thin; mask-image: linear-gradient(to bottom, black calc(100% - var(--more, 0px)), transparent);
}
.offers { display: flex; gap: 5px; margin-top: 5px; font-family: 'Figtree Variable', sans-serif; }
.chips {
  display: flex; flex-wrap: wrap; align-content: flex-start; align-items: flex-start; gap: 5px; min-width: 0;
  overflow: hidden;
}
.all { flex: none; align-self: flex-start; }
.offer {
  font-size: 12px; line-height: 20px; border: 1px dashed var(--quiet); border-radius: 11px; padding: 0 8px;
  white-space: nowrap; color: var(--quiet);
}
.offer:hover { color: var(--ink); border-style: solid; }
@media (pointer: coarse) { .clauses { padding: 0 8px; margin: 0 -8px; } }
</style>
