<script setup lang="ts">
/**
 * The Shelf: kept clips, found by words, tags and stars, in an order of one's own; each leaves as a MIDI file, or
 * several at once.
 */
import { mdiStar, mdiStarOutline } from '@mdi/js'
import { computed, ref } from 'vue'
import type { Clip } from '@/api/client'
import AskName from '@/app/AskName.vue'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import { lettersPlay } from '@/app/keyboard'
import { sendClip, sendClips } from '@/leaving/leaving'
import { usePattern } from '@/pattern/pattern'
import { useFolder } from './folder'
import { ORDERS, useShelf, type Order } from './shelf'
import ShelfCard from './ShelfCard.vue'
import ShelfFolder from './ShelfFolder.vue'

/** `acts`: what can be made of a clip, or heard, besides what the Shelf does itself. */
const props = defineProps<{ acts: (clip: Clip) => Entry[] }>()
const shelf = useShelf()
const pattern = usePattern()
const folder = useFolder()
const asked = ref<Clip | null>(null)
const naming = ref(false)
const tagging = ref(false)
const lanes = computed(() => pattern.view?.lanes.map((lane) => lane.id))
const orders = computed(
  () => (Object.keys(ORDERS) as Order[]).map((order) => ({
    title: ORDERS[order], chosen: shelf.order === order, run: () => (shelf.order = order),
  })),
)
const questions = { rename: naming, tag: tagging }
function ask(clip: Clip, what: keyof typeof questions): void {
  asked.value = clip
  questions[what].value = true
}
const setTags = (text: string) => asked.value && shelf.change(asked.value, {
  tags: text.split(',').map((tag) => tag.trim().slice(0, 24)).filter(Boolean).slice(0, 12),
})
function send(clips: number[]): void {
  const [only] = clips.length === 1 ? shelf.clips.filter(({ id }) => id === clips[0]) : []
  if (only) sendClip(only)
  else sendClips(shelf.piece, clips, clips.length || shelf.clips.length)
}
const isOurs = (event: DragEvent) => event.dataTransfer?.types.includes('application/x-jolly-clip') === true
const under = ref<number | null>(null)
function over(event: DragEvent, clip: number | null): void {
  if (!isOurs(event)) return
  event.preventDefault()
  under.value = clip
}
function drop(event: DragEvent, before: number | null): void {
  if (!isOurs(event)) return
  event.preventDefault()
  event.stopPropagation()
  under.value = null
  void shelf.lay(Number(event.dataTransfer?.getData('application/x-jolly-clip')), before)
}
const together = computed(() => shelf.clips.filter(({ id }) => shelf.chosen.includes(id)))
/** While letters play notes, the key for Keep is another. */
const keepKey = computed(() => (lettersPlay.value ? 'Alt+K' : 'K'))
const narrowed = computed(() => shelf.sought || shelf.tagged.length || shelf.starsOnly)
</script>

<template>
  <aside class="shelf pane" aria-label="Shelf" data-region>
    <div class="title">
      <h2>Shelf</h2>
      <PickMenu v-if="shelf.clips.length > 1" label="Order of the Shelf" :entries="orders">
        <template #opener="{ menu }"><button type="button" class="plain sort"
          v-bind="menu">{{ ORDERS[shelf.order] }}</button></template>
      </PickMenu>
    </div>
    <div v-if="shelf.clips.length > 2 || narrowed" class="find">
      <input v-model="shelf.sought" type="search" placeholder="find a clip" aria-label="Find a clip"
        @keydown.esc="shelf.sought = ''" />
      <v-btn :icon="shelf.starsOnly ? mdiStar : mdiStarOutline" size="x-small" :aria-pressed="shelf.starsOnly"
        aria-label="Starred clips only" @click="shelf.starsOnly = !shelf.starsOnly" />
    </div>
    <div v-if="shelf.tags.length" class="tags" role="group" aria-label="Tags">
      <button
        v-for="tag in shelf.tags" :key="tag" type="button" class="plain tag" :aria-pressed="shelf.tagged.includes(tag)"
        @click="shelf.toggleTag(tag)"
      >{{ tag }}</button>
    </div>
    <ul v-one-stop.down="'li'" @dragover="(event) => over(event, null)" @drop="(event) => drop(event, null)">
      <ShelfCard
        v-for="clip in shelf.shown" :key="clip.id" :clip="clip" :lanes="lanes" :acts="props.acts(clip)"
        :class="{ under: under === clip.id }"
        @dragover.stop="over($event, clip.id)" @drop="drop($event, clip.id)" @dragend="under = null"
        @rename="ask(clip, 'rename')" @tag="ask(clip, 'tag')" @send="send([clip.id])"
      />
    </ul>
    <div v-if="together.length" class="together" role="group" aria-label="What is done to the chosen clips">
      <span>{{ together.length }} chosen</span>
      <button type="button" class="plain" @click="send(shelf.chosen)">send</button>
      <button v-if="together.length > 1" type="button" class="plain" title="end to end, in the order in which they were chosen"
        @click="shelf.join">join</button>
      <button type="button" class="plain" @click="shelf.remove(together)">delete</button>
      <button type="button" class="plain" @click="shelf.chosen = shelf.shown.map(({ id }) => id)">all</button>
      <button type="button" class="plain" @click="shelf.chosen = []">none</button>
    </div>
    <p class="quiet hint">
      <template v-if="shelf.clips.length && !shelf.shown.length">No clip is called so. <button type="button"
        class="plain link"
        @click="shelf.sought = ''; shelf.tagged = []; shelf.starsOnly = false">Show all</button></template>
      <template v-else-if="shelf.clips.length">Drag a clip out, or <button type="button" class="plain link"
        @click="send([])">send all as MIDI</button>. Drop MIDI files anywhere to take them in.</template>
      <template
        v-else>Press {{ keepKey }}: what you keep lies here, ready to be taken out as MIDI. MIDI files that you drop anywhere come in here too.</template>
    </p>
    <ShelfFolder v-if="shelf.clips.length || folder.kept" @send-all="send([])" />
    <AskName v-model="naming" title="Rename the clip" :name="asked?.name ?? ''" action="Rename"
      @named="(name) => asked && shelf.rename(asked, name)" />
    <AskName v-model="tagging" title="Tags of the clip" :name="asked?.tags.join(', ') ?? ''"
      label="Tags, with commas between" action="Set" empty @named="setTags" />
  </aside>
</template>

<style scoped>
.shelf {
  background: var(--shade); border-left: 1px solid var(--rule); padding: 12px 12px calc(12px + var(--notice, 0px));
  overflow-y: auto; scroll-padding-bottom: calc(8px + var(--notice, 0px)); display: flex; flex-direction: column;
  gap: 8px;
}
.title { display: flex; align-items: baseline; justify-content: space-between; }
h2 { font-size: 20px; }
.sort { font-size: 12.5px; color: var(--quiet); border-bottom: 2px dotted var(--quiet); }
.find { display: flex; align-items: center; gap: 2px; }
.find input {
  flex: 1; min-width: 0; font: inherit; font-size: 13.5px; color: var(--ink); background: var(--card);
  border: 1px solid var(--rule); border-radius: 7px; padding: 2px 8px;
}
.tags { display: flex; flex-wrap: wrap; gap: 4px; }
.tag { font-size: 12px; line-height: 18px; border: 1px solid var(--rule); border-radius: 10px; padding: 0 8px; }
.tag[aria-pressed='true'] { background: var(--ink); color: var(--paper); }
ul { list-style: none; display: grid; grid-template-columns: minmax(0, 1fr); gap: 7px; }
.under { border-top: 3px solid var(--ink) !important; }
.together {
  display: flex; flex-wrap: wrap; gap: 0 14px; font-size: 13px; position: sticky; bottom: var(--notice, 0px);
  background: var(--ink); color: var(--paper); border-radius: 9px; padding: 5px 12px;
}
.together span { flex: 1 0 100%; }
.together button { font-weight: 650; color: inherit; text-decoration: underline; text-underline-offset: 3px; }
.hint { font-size: 12.5px; }
.link { color: var(--link); text-decoration: underline; text-underline-offset: 2px; }
</style>
