<script setup lang="ts">
/** A lane among the cuttings: what it is now, its strip, and its picture. */
import { computed, ref } from 'vue'
import type { Lane } from '@/api/client'
import AskName from '@/app/AskName.vue'
import { jewel } from '@/app/colours'
import { many } from '@/app/many'
import { useNotices } from '@/app/notices'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import { useThemeName } from '@/app/theme'
import { saveStart } from '@/library/saveStart'
import { useCuttings } from './cuttings'
import LanePicture from './LanePicture.vue'
import MarkStrip from './MarkStrip.vue'
import { stepsApart, type Mark } from './strip'

const props = defineProps<{ lane: Lane; index: number }>()
const cuttings = useCuttings()
const notices = useNotices()
const { name: theme } = useThemeName()
const strip = computed(() => cuttings.strips[props.lane.id])
const mark = computed(() => cuttings.markOf(props.lane.id))
const stays = computed(() => !!cuttings.staying[props.lane.id])
const moved = computed(() => mark.value !== undefined)
/** The mark that is pointed at, and heard in place of what the hand is on. */
const pointed = computed(() => (
  cuttings.pointed?.lane === props.lane.id ? strip.value?.marks[cuttings.pointed.mark] : undefined
))
/** A mark in a few words. */
function inWords(of: Mark | undefined): string {
  if (!of) return 'as it was'
  if (of.amount !== null) return of.words
  const hits = many(of.hits.length, 'hit')
  const away = stepsApart(strip.value?.hits ?? [], of.hits)
  // What a strip is laid out by may be one of the two.
  return [
    ...new Set([hits, of.words, away === 0 ? 'as it was' : `${many(away, 'step')} away`]),
  ].join(', ')
}
const fitting = computed(() => {
  const found = strip.value
  if (!found) return ''
  const count = (n: number) => n.toLocaleString('en')
  const laid = found.marks.length < found.fitting
    ? `; ${count(found.marks.length)} of them are on the strip, evenly`
    : ''
  if (found.looked_at !== null) return `${count(found.fitting)} of ${count(found.looked_at)} fit${laid}`
  return many(found.marks.length, 'relative')
})
const naming = ref(false)
const more: Entry[] = [
  {
    title: 'Save as a starting recipe …', about: 'what is heard of this lane now, for other patterns and pieces',
    run: () => (naming.value = true),
  },
]
const save = (name: string) => notices.attempt(async () => {
  await saveStart(props.lane.id, name)
  notices.say(`Saved as “${name}” among your starting recipes.`)
})
</script>

<template>
  <li class="lane" :style="{ '--lane': jewel(index, theme) }">
    <div class="who">
      <span class="jewel" aria-hidden="true" />
      <h3>
        <span>{{ lane.name }}</span>
        <PickMenu :label="`More for ${lane.name}`" :entries="more">
          <template #opener="{ menu }"><button v-bind="menu" type="button" class="plain more"
            :aria-label="`More for ${lane.name}`">…</button></template>
        </PickMenu>
      </h3>
      <p class="quiet told">{{ inWords(pointed ?? mark) }} · {{ fitting }}</p>
      <div class="acts">
        <button type="button" class="plain chip" :aria-pressed="stays" :aria-label="`stays: ${lane.name}`"
          @click="cuttings.toggleStay(lane.id)">stays</button>
        <button type="button" class="plain chip" :disabled="!moved" :aria-label="`as it was: ${lane.name}`"
          @click="cuttings.asWas(lane.id)">as it was</button>
        <button type="button" class="plain chip" :disabled="!moved" :aria-label="`plant: ${lane.name}`"
          @click="cuttings.plant(lane.id)">plant</button>
        <button
          type="button" class="plain chip" :aria-label="`+ answer: ${lane.name}`"
          title="A lane that plays in its gaps, with a strip of its own"
          @click="cuttings.addAnswering(lane.id)"
        >+ answer</button>
      </div>
    </div>
    <p v-if="strip?.refused" class="refused">{{ strip.refused }}</p>
    <MarkStrip v-else-if="strip" :strip="strip" :index="index" :name="lane.name" :told="inWords(mark)"
      :steps="lane.drawn.period" @walk="(by) => cuttings.walk(lane.id, by)" />
    <p v-else class="refused quiet">growing …</p>
    <LanePicture :lane="lane" :index="index" :width="186" :height="54" />
    <AskName v-model="naming" title="Save as a starting recipe" :name="lane.name" action="Save" @named="save" />
  </li>
</template>

<style scoped>
.lane {
  display: grid; grid-template-columns: 236px minmax(0, 1fr) 186px; gap: 10px; align-items: center;
  background: var(--paper); border: 1px solid var(--rule); border-radius: 10px; padding: 4px 8px 4px 10px;
}
.who { display: grid; grid-template-columns: 14px 1fr; column-gap: 8px; align-items: center; min-width: 0; }
.jewel { width: 10px; height: 10px; rotate: 45deg; background: var(--lane); margin-left: 2px; }
h3 { font-size: 15.5px; line-height: 1.2; display: flex; justify-content: space-between; gap: 6px; }
h3 span { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.more { flex: none; width: 24px; line-height: 18px; border-radius: 9px; }
.more:hover { background: color-mix(in srgb, var(--ink) 10%, transparent); }
.told {
  grid-column: 2; font-size: 12px; line-height: 1.35; white-space: nowrap; overflow: hidden; text-overflow: ellipsis;
}
.acts { grid-column: 2; display: flex; gap: 4px; margin-top: 2px; }
.chip {
  font-size: 11.5px; line-height: 18px; border: 1px solid var(--rule); border-radius: 10px; padding: 0 6px;
  white-space: nowrap;
}
.chip:hover:not(:disabled) { border-color: var(--ink); }
.chip:disabled { color: var(--quiet); opacity: 0.6; }
.chip[aria-pressed='true'] { background: var(--ink); color: var(--paper); border-color: var(--ink); }
.refused { font-size: 13px; line-height: 1.35; }
</style>
