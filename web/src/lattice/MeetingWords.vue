<script setup lang="ts">
/** The meeting point in words; pressed, why it lies there, and what can be done about it. */
import { computed, ref, shallowRef } from 'vue'
import { api, ask, type Edit, type Schemas } from '@/api/client'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import { useNotices } from '@/app/notices'
import { STATED } from '@/generated/stated'
import { usePattern } from '@/pattern/pattern'
import { useShelf } from '@/shelf/shelf'

const { met } = defineProps<{ met: Schemas['ShownMeeting'] }>()
const pattern = usePattern()
const shelf = useShelf()
const notices = useNotices()

const open = ref(false)
const known = shallowRef<Schemas['Period'] | null>(null)
const opener = ref<HTMLElement | null>(null)
async function tell(): Promise<void> {
  await notices.attempt(async () => {
    known.value = await ask(
      api.GET('/api/patterns/{pattern_id}/period', { params: { path: { pattern_id: pattern.id } } }),
    )
    open.value = true
  })
}
const counted = (bars: number | null | undefined) =>
  (bars == null ? 'more than 9,999 passes' : `${bars.toLocaleString('en')} ${bars === 1 ? 'bar' : 'bars'}`)
const entries = computed<Entry[]>(() => {
  const { bars } = met
  const tooLong = bars === null || bars > STATED.clipBars
  return [
    {
      title: 'Keep this period', group: known.value?.words,
      about: tooLong ? `a clip has up to ${STATED.clipBars} bars` : `bars 1 to ${bars}, as a clip`, disabled: tooLong,
      run: () => void shelf.keep({ bars: bars ?? 1, start: 0 }),
    },
    ...(known.value?.leaving ?? []).map((each) => ({
      title: each.title, about: `then ${counted(each.bars)}: counted afresh in each cycle`,
      run: () => void pattern.commit([each.edit as unknown as Edit]),
    })),
    { title: 'See the whole weave', about: 'all bars up to the meeting point', run: () => void pattern.seeWeave() },
  ]
})
</script>

<template>
  <button ref="opener" type="button" class="plain met" aria-haspopup="menu" title="Why there, and what to do about it"
    @click="tell">{{ met.words }}</button>
  <PickMenu v-model="open" :target="opener" label="The meeting point" :entries="entries" />
</template>

<style scoped>
.met { color: inherit; min-height: 24px; text-decoration: underline dotted; text-underline-offset: 3px; }
.met:hover { color: var(--ink); }
</style>
