<script setup lang="ts">
/**
 * Say it shorter: sentences that play exactly the same notes, the shortest first; one takes the place of the lane's.
 */
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useNotices } from '@/app/notices'
import { useReturnFocus } from '@/app/useReturnFocus'
import { usePattern } from '@/pattern/pattern'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{ lane: string; name: string }>()
const pattern = usePattern()
const notices = useNotices()
const ways = ref<Schemas['SaidOut'][] | null>(null)
useReturnFocus(open)
watch(open, async (now) => {
  if (!now) return
  ways.value = null
  const found = await notices.attempt(async () => {
    ways.value = await ask(
      api.POST('/api/patterns/{pattern_id}/say', {
        params: { path: { pattern_id: pattern.id } }, body: { revision: pattern.revision, lane: props.lane },
      }),
    )
  })
  if (!found) open.value = false
})
const plain = computed(() => ways.value?.find((way) => way.plain)?.words ?? 0)
/** What is shorter, what it says now, and what is no shorter, each under its own heading. */
const groups = computed(() => {
  const all = ways.value ?? []
  return [
    { title: '', ways: all.filter((way) => way.words < plain.value) },
    { title: 'As it stands', ways: all.filter((way) => way.plain) },
    { title: 'Other ways, no shorter', ways: all.filter((way) => !way.plain && way.words >= plain.value) },
  ].filter((group) => group.ways.length)
})
const told = computed(
  () => groups.value[0]?.title === ''
    ? 'Each of these plays exactly the same notes.'
    : `Nothing shorter was found.${(ways.value?.length ?? 0) > 1 ? ' Each of these plays exactly the same notes.' : ''}`,
)
function take(way: Schemas['SaidOut']): void {
  open.value = false
  if (!way.plain) void pattern.commit([{ do: 'say', said: way.lane }])
}
</script>

<template>
  <v-dialog v-model="open" max-width="680" scrollable :aria-label="`Say ${name} shorter`">
    <v-card class="card">
      <h2>Say {{ name }} shorter</h2>
      <p v-if="!ways" role="status" class="quiet">Looking, and playing every way against the lane …</p>
      <template v-else>
        <p class="quiet">{{ told }}</p>
        <div class="groups">
          <section v-for="group in groups" :key="group.title">
            <h3 v-if="group.title" class="quiet">{{ group.title }}</h3>
            <ol>
              <li v-for="way in group.ways" :key="way.sentence">
                <button type="button" class="plain way" :class="{ plainly: way.plain }" @click="take(way)">
                  <span class="words"><b>{{ way.words }}</b> words<small
                    v-if="way.words < plain">{{ plain - way.words }} fewer</small></span>
                  <span class="sentence">{{ way.sentence }}</span>
                </button>
              </li>
            </ol>
          </section>
        </div>
      </template>
      <v-card-actions><v-spacer /><v-btn @click="open = false">Leave it</v-btn></v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.card { padding: 16px 20px 4px; }
h2 { font-size: 20px; }
.groups { overflow-y: auto; }
h3 { font: 600 13px 'Figtree Variable', sans-serif; margin-top: 12px; }
ol { list-style: none; margin-top: 6px; display: grid; gap: 6px; }
.way {
  display: flex; gap: 16px; width: 100%; text-align: left; padding: 8px 12px; border: 1px solid var(--rule);
  border-radius: 9px; background: var(--paper);
}
.way:hover, .way:focus-visible { border-color: var(--ink); }
.plainly { background: transparent; }
.words { width: 78px; flex: none; font-size: 13px; display: flex; flex-direction: column; color: var(--quiet); }
.words b { font: 600 19px 'Fraunces Variable', serif; color: var(--ink); }
.sentence { font-size: 15px; line-height: 1.4; max-height: 8.4em; overflow: hidden; }
</style>
