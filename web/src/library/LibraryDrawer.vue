<script setup lang="ts">
/**
 * Starting recipes: searched, heard in the running pattern before they are taken, into a new lane or
 * over the chosen one; the musician's own are saved here, and go out and come in as JSON.
 */
import { computed, ref, useTemplateRef, watch } from 'vue'
import { api, ask, type Edit, type Schemas } from '@/api/client'
import AskName from '@/app/AskName.vue'
import { saveJson } from '@/app/saveFile'
import { useNotices } from '@/app/notices'
import { useReturnFocus } from '@/app/useReturnFocus'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'
import { saveStart } from './saveStart'
import StartPicture from './StartPicture.vue'

type Start = Schemas['ShownStart']
const open = defineModel<boolean>({ required: true })
const pattern = usePattern()
const player = usePlayer()
const notices = useNotices()
useReturnFocus(open)

const starts = ref<Start[]>([])
const sought = ref('')
const tried = ref<Start | null>(null)
const naming = ref(false)
const file = useTemplateRef<HTMLInputElement>('file')
const found = computed(() => {
  const words = sought.value.toLowerCase().split(/\s+/).filter(Boolean)
  return starts.value.filter((each) => {
    const text = `${each.name} ${each.group} ${each.about} ${each.source}`.toLowerCase()
    return words.every((word) => text.includes(word))
  })
})
const groups = computed(() => [...new Set(found.value.map(({ group }) => group))].map((group) => ({
  group, starts: found.value.filter((each) => each.group === group),
})))
const take = (start: Start, lane: string | null): Edit[] => [{ do: 'take', start: start.document, lane }]

/** What it changes of the pattern, or lacks there. */
function needs(start: Start): string {
  const view = pattern.view
  const longer = view && start.bars > view.bars ? `needs ${start.bars} bars, and brings them` : ''
  const lacks = view && start.follows_chords && !view.progression ? 'plays over chords; there are none yet' : ''
  return longer || lacks
}
function show(call: Promise<Schemas['LibraryOut']>): Promise<boolean> {
  return notices.attempt(async () => {
    starts.value = (await call).starts
  })
}
watch(open, (now) => {
  if (now && !starts.value.length) void show(ask(api.GET('/api/library')))
  if (now) sought.value = ''
  else forget()
})
/** Hear it: with the pattern while that plays, else once by itself. */
async function hear(start: Start): Promise<void> {
  tried.value = start
  await pattern.preview(take(start, null))
  const made = pattern.view?.lanes.at(-1)
  if (!player.playing && made) void player.hearLane(made.id)
}
function forget(): void {
  if (tried.value) void pattern.preview([])
  tried.value = null
}
async function takeIt(start: Start, lane: string | null): Promise<void> {
  tried.value = null
  if (!(await pattern.commit(take(start, lane)))) return
  open.value = false
  const made = pattern.view?.lanes.at(-1)
  if (lane === null && start.document.lane && made) pattern.choose(made.id)
}
function save(name: string): Promise<boolean> | undefined {
  if (!pattern.chosen) return
  sought.value = '' // what is saved is seen
  return show(saveStart(pattern.chosen, name))
}
const remove = (start: Start) =>
  void show(ask(api.DELETE('/api/library/{start_id}', { params: { path: { start_id: start.id ?? 0 } } })))
const own = computed(() => starts.value.filter(({ id }) => id !== null))
const takeOut = () => saveJson({ starts: own.value.map(({ document }) => document) }, 'starting-recipes.json')
const LARGEST = 2_000_000
async function takeIn(): Promise<void> {
  const chosen = file.value?.files?.[0]
  if (!chosen) return
  try {
    const read: unknown = chosen.size > LARGEST ? null : JSON.parse(await chosen.text())
    const list = (read as { starts?: unknown } | null)?.starts
    if (!Array.isArray(list)) throw new Error()
    await show(ask(api.POST('/api/library/import', { body: { starts: list } })))
  } catch {
    notices.say('That file has no starting recipes; choose one that was taken out here.')
  }
  if (file.value) file.value.value = ''
}
</script>

<template>
  <v-dialog v-model="open" max-width="860" scrollable aria-label="Starting recipes">
    <v-card>
      <div class="top">
        <h2>Starting recipes</h2>
        <input v-model="sought" class="find" type="search" aria-label="Find a starting recipe"
          placeholder="Find: clave, bass, smooth …" autofocus />
        <button type="button" class="plain tool" :disabled="!pattern.chosen"
          @click="naming = true">save “{{ pattern.lane?.name ?? 'the lane' }}”</button>
        <button v-if="own.length" type="button" class="plain tool" @click="takeOut">out as JSON</button>
        <button type="button" class="plain tool" @click="file?.click()">in from JSON …</button>
        <input ref="file" type="file" accept="application/json,.json" hidden @change="takeIn" />
      </div>
      <v-card-text class="list">
        <section v-for="{ group, starts: these } in groups" :key="group" :aria-label="group">
          <h3>{{ group }}</h3>
          <ul>
            <li v-for="start in these" :key="`${start.id}${start.name}`" class="start"
              :class="{ tried: tried === start }" @pointerleave="tried === start && forget()">
              <button type="button" class="plain hear" :aria-label="`Hear ${start.name}`"
                :title="start.source || undefined" @click="hear(start)">
                <StartPicture :start="start" />
              </button>
              <div class="words">
                <p class="name"><b>{{ start.name }}</b> <span class="quiet">{{ start.about }}</span></p>
                <p v-if="needs(start)" class="needs">{{ needs(start) }}</p>
                <p class="sentence said">{{ start.sentence }}</p>
                <p v-if="start.source" class="quiet source">{{ start.source }}</p>
              </div>
              <div class="takes">
                <button type="button" class="plain tool" :aria-label="`Take ${start.name} into a new lane`"
                  @click="takeIt(start, null)">new lane</button>
                <button v-if="pattern.chosen" type="button" class="plain tool"
                  :aria-label="`Take ${start.name} over ${pattern.lane?.name}`"
                  @click="takeIt(start, pattern.chosen)">over {{ pattern.lane?.name }}</button>
                <button v-if="start.id !== null" type="button" class="plain tool"
                  :aria-label="`Take away ${start.name}`" @click="remove(start)">take away</button>
              </div>
            </li>
          </ul>
        </section>
        <p v-if="starts.length && !found.length" class="quiet">Nothing is called so.</p>
      </v-card-text>
      <v-card-actions><span
        class="quiet foot">Click a picture to hear it{{ player.playing ? ' with the pattern' : '' }}.</span><v-btn
        @click="open = false">Close</v-btn></v-card-actions>
    </v-card>
    <AskName v-model="naming" title="Save the lane as a starting recipe" action="Save" :name="pattern.lane?.name ?? ''"
      @named="save" />
  </v-dialog>
</template>

<style scoped>
.top { display: flex; align-items: center; gap: 10px; padding: 14px 20px 6px; }
.top h2 { font-size: 20px; white-space: nowrap; }
.find {
  flex: 1; min-width: 120px; font: inherit; color: var(--ink); background: var(--paper); border: 1px solid var(--rule);
  border-radius: 8px; padding: 4px 10px;
}
.tool {
  font-size: 12.5px; line-height: 21px; border: 1px solid var(--rule); border-radius: 11px; padding: 0 9px;
  white-space: nowrap;
}
.tool:hover { border-color: var(--ink); }
.list.v-card-text { padding: 0 20px 8px; height: 62vh; }
h3 {
  position: sticky; top: 0; z-index: 1; background: rgb(var(--v-theme-surface));
  font-family: 'Fraunces Variable', serif; font-size: 16px; padding: 8px 0 4px;
}
ul { list-style: none; display: grid; grid-template-columns: minmax(0, 1fr); gap: 5px; }
.start {
  display: flex; align-items: center; gap: 14px; padding: 5px 8px; border: 1px solid var(--rule); border-radius: 10px;
}
.start.tried { border-color: var(--ink); }
.hear { flex: none; line-height: 0; border-radius: 6px; }
.words { flex: 1; min-width: 0; }
.name { font-size: 14.5px; }
.said { font-size: 13.5px; line-height: 1.3; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.source, .needs { font-size: 11.5px; }
.needs { color: var(--link); }
.takes { flex: none; display: flex; flex-direction: column; gap: 3px; align-items: stretch; max-width: 150px; }
.takes .tool { overflow: hidden; text-overflow: ellipsis; }
.foot { font-size: 12.5px; margin-right: auto; padding-left: 12px; }
</style>
