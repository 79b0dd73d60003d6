<script setup lang="ts">
/** The chosen block as a sentence, and what can be done with it. */
import { computed, nextTick, useTemplateRef } from 'vue'
import type { OrderEdit } from '@/api/client'
import SaidClause from '@/sentence/SaidClause.vue'
import { isHeldByKeys } from '@/app/keyboard'
import { useOrder } from './order'

const emit = defineEmits<{ edit: [pattern: number] }>()
const order = useOrder()
const box = useTemplateRef<HTMLElement>('box')
const place = computed(() => order.view?.chosen ?? null)
const block = computed(() => (place.value === null ? null : (order.view?.blocks[place.value] ?? null)))
const sentence = computed(() => order.view?.sentence ?? null)
const NUMBERS = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth', 'ninth', 'tenth']
const numbered = computed(() => (place.value === null ? '' : (NUMBERS[place.value] ?? `number ${place.value + 1}`)))
const isIn = computed(() => {
  const between = order.view?.between
  return !!between && place.value !== null && place.value >= between[0] && place.value <= between[1]
})
const said = (slot: string, value: unknown): OrderEdit => ({ do: 'say_block', block: place.value ?? 0, slot, value })
async function add(clause: string): Promise<void> {
  const byKeys = isHeldByKeys(document.activeElement)
  if (place.value === null || !(await order.commit([{ do: 'add_to_block', block: place.value, clause }])) || !byKeys) {
    return
  }
  await nextTick()
  box.value?.querySelector<HTMLElement>(`[data-clause="${clause}"] .word`)?.focus()
}
function brackets(): void {
  if (place.value === null) return
  void order.commit([{ do: 'between', blocks: isIn.value ? null : [place.value, place.value] }])
}
</script>

<template>
  <section ref="box" class="said pane" aria-label="The chosen block" data-region :inert="place !== order.chosen">
    <template v-if="block && sentence && place !== null">
      <h3>{{ block.name }}, {{ numbered }} in the order</h3>
      <p :key="place" v-one-stop class="sentence">
        <template v-for="clause in sentence.clauses" :key="clause.id">
          <SaidClause
            :clause="clause" @preview="(slot: string, value: unknown) => order.preview([said(slot, value)])"
            @settle="(slot: string, value: unknown) => order.commit([said(slot, value)])" @forget="order.preview([])"
            @remove="order.commit([{ do: 'take_from_block', block: place, clause: clause.id }])"
          />{{ ' ' }}
        </template>
      </p>
      <p v-if="block.problem" class="problem">{{ block.problem }}</p>
      <div v-one-stop class="offers">
        <button v-for="offer in sentence.offers" :key="offer.id" type="button" class="plain offer" :title="offer.about"
          @click="add(offer.id)">+ {{ offer.label }}</button>
        <span class="apart" />
        <button v-if="!block.problem" type="button" class="plain act"
          @click="emit('edit', block.pattern)">edit {{ block.name }} while the order waits here</button>
        <button type="button" class="plain act"
          @click="order.commit([{ do: 'duplicate_block', block: place }], place + 1)">duplicate</button>
        <button type="button" class="plain act" @click="brackets">{{ isIn ? 'no brackets' : 'go round in it' }}</button>
        <button type="button" class="plain act"
          @click="order.commit([{ do: 'remove_block', block: place }])">take out</button>
      </div>
    </template>
    <p v-else
      class="sentence quiet">Here the chosen block says which pattern plays, for how long and how; every underlined word can be turned.</p>
  </section>
</template>

<style scoped>
.said {
  --lane: var(--link); background: var(--card); border: 1px solid var(--rule); border-radius: 12px; padding: 9px 18px;
  display: flex; flex-direction: column; gap: 2px; overflow-y: auto;
}
h3 { font-size: 16px; line-height: 1.25; color: var(--link); }
.sentence { font-size: 18px; line-height: 1.45; flex: 1; }
.problem { color: var(--alarm, #8a2415); font-size: 13.5px; }
.offers { display: flex; flex-wrap: wrap; gap: 5px; align-items: center; padding-top: 2px; }
.offer {
  font-size: 12px; line-height: 20px; border: 1px dashed var(--quiet); border-radius: 11px; padding: 0 8px;
  white-space: nowrap; color: var(--quiet);
}
.offer:hover { color: var(--ink); border-style: solid; }
.apart { width: 14px; }
.act {
  font-size: 12px; line-height: 20px; border: 1px solid var(--rule); border-radius: 11px; padding: 0 9px;
  white-space: nowrap;
}
.act:hover { border-color: var(--ink); }
</style>
