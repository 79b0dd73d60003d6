<script setup lang="ts">
/**
 * A clip on the Shelf: opened by its name or picture, dragged out as a file, starred, and what else can be done with
 * it.
 */
import { mdiDotsHorizontal, mdiStar, mdiStarOutline, mdiVolumeHigh } from '@mdi/js'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { Clip } from '@/api/client'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import RhythmThumb from '@/app/RhythmThumb.vue'
import { byTouch } from '@/app/longPress'
import { wasTried } from '@/app/firstMinute'
import { many } from '@/app/many'
import { useClip } from '@/clip/clip'
import { beside } from '@/sound/beside'
import { fileAddress } from '@/leaving/exporting'
import { linking } from '@/links/links'
import { useShelf } from './shelf'

const props = defineProps<{ clip: Clip; lanes?: string[]; acts: Entry[] }>()
const emit = defineEmits<{ rename: []; tag: []; send: [] }>()
const shelf = useShelf()
const opened = useClip()
const router = useRouter()
const endHearing = () => (beside.value = null)
const open = () => void router.push({ query: { clip: props.clip.id } })
const chosen = computed(() => shelf.chosen.includes(props.clip.id))
/** What its file is, and what is in it. */
const holds = computed(() => `MIDI file, ${many(props.clip.thumb.lanes.length, 'track')}`)
const heard = computed(() => (beside.value?.id === props.clip.id ? beside.value : null))

/**
 * Chromium makes a file of what is dragged out under this type; others get the address. Within the Shelf it is laid
 * elsewhere.
 */
function dragOut(event: DragEvent): void {
  const whole = new URL(fileAddress(props.clip.id), location.href).href
  event.dataTransfer?.setData('DownloadURL', `audio/midi:${props.clip.file}:${whole}`)
  event.dataTransfer?.setData('text/uri-list', whole)
  event.dataTransfer?.setData('application/x-jolly-clip', String(props.clip.id))
  wasTried('take')
}
function press(event: MouseEvent): void {
  if (event.ctrlKey || event.metaKey || event.shiftKey) shelf.toggle(props.clip.id)
  else open()
}
/** Up or down among those that are shown. */
function move(by: -1 | 1): void {
  const at = shelf.shown.findIndex(({ id }) => id === props.clip.id)
  const before = by < 0 ? shelf.shown[at - 1] : shelf.shown[at + 2]
  if (by < 0 && !before) return
  void shelf.lay(props.clip.id, before?.id ?? null)
}
const entries = computed<Entry[]>(() => [
  ...props.acts,
  { title: 'Rename …', apart: true, run: () => emit('rename') },
  { title: 'Tags …', run: () => emit('tag') },
  {
    title: chosen.value ? 'Choose no more' : 'Choose', about: 'to do something to several',
    run: () => shelf.toggle(props.clip.id),
  },
  { title: 'Up', about: 'Alt+Up on its name', run: () => move(-1) },
  { title: 'Down', about: 'Alt+Down on its name', run: () => move(1) },
  { title: 'Send …', about: 'as MIDI or as sound', apart: true, run: () => emit('send') },
  {
    title: 'Link …', about: 'for whoever you send it to',
    run: () => (linking.value = { piece: shelf.piece, clip: props.clip.id, name: props.clip.name }),
  },
  { title: 'Delete', run: () => void shelf.remove([props.clip]) },
])
</script>

<template>
  <li :draggable="!byTouch" data-press="shift" data-press-words="chosen"
    :class="{ opened: opened.id === clip.id, chosen }" :data-clip="clip.id" @dragstart="dragOut">
    <span class="top">
      <input v-if="shelf.chosen.length" type="checkbox" :checked="chosen" :aria-label="`Choose ${clip.name}`"
        @change="shelf.toggle(clip.id)" />
      <button
        type="button" class="plain head name" :title="`Open ${clip.name}`"
        :aria-current="opened.id === clip.id ? 'true' : undefined"
        @click="press" @keydown.alt.up.prevent.stop="move(-1)" @keydown.alt.down.prevent.stop="move(1)"
      >{{ clip.name }}</button>
      <v-btn
        :icon="clip.starred ? mdiStar : mdiStarOutline" size="x-small" class="star" :class="{ on: clip.starred }"
        :aria-pressed="clip.starred"
        :aria-label="`Star ${clip.name}`" @click="shelf.change(clip, { starred: !clip.starred })"
      />
      <PickMenu :label="`What can be done with ${clip.name}`" :entries="entries">
        <template #opener="{ menu }"><v-btn v-bind="menu" :icon="mdiDotsHorizontal" size="x-small"
          :aria-label="`More for ${clip.name}`" /></template>
      </PickMenu>
    </span>
    <span class="picture" @click="press"><RhythmThumb :thumb="clip.thumb" :lanes="lanes" /></span>
    <span v-if="clip.tags.length" class="tags"><button v-for="tag in clip.tags" :key="tag" type="button"
      class="plain tag" @click="shelf.tagged = [tag]">{{ tag }}</button></span>
    <button v-if="heard" type="button" class="plain heard" @click="endHearing"><v-icon :icon="mdiVolumeHigh"
      size="14" /> {{ heard.instead ? 'in place of its lanes' : 'with the pattern' }} · end</button>
    <span class="foot">
      <span class="quiet"
        :title="clip.of">{{ Number(clip.thumb.bars.toFixed(2)) }} {{ clip.thumb.bars === 1 ? 'bar' : 'bars' }} · {{ many(clip.thumb.notes, 'note') }}</span>
      <v-btn
        :href="fileAddress(clip.id)" :download="clip.file" size="x-small" class="file"
        :title="holds" :aria-label="`Download ${clip.name} as a ${holds}`" @click="wasTried('take')"
      >{{ holds }}</v-btn>
    </span>
  </li>
</template>

<style scoped>
li {
  background: var(--card); border: 1px solid var(--rule); border-radius: 9px; padding: 5px 6px 4px 10px; cursor: grab;
}
.top { display: flex; align-items: center; gap: 2px; }
.opened, .chosen { border-color: var(--ink); box-shadow: 0 0 0 1px var(--ink); }
.name {
  flex: 1; min-width: 0; text-align: left; font: 600 14.5px 'Fraunces Variable', serif; white-space: nowrap;
  overflow: hidden; text-overflow: ellipsis;
}
.star { color: var(--quiet); }
.star.on { color: var(--link); }
.picture { display: block; height: 36px; margin: 1px 6px 2px 0; }
.foot { display: flex; justify-content: space-between; align-items: center; font-size: 12px; }
.foot .quiet { white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.file {
  color: var(--link); padding: 0 4px; flex: none; text-decoration: underline; text-underline-offset: 3px;
}
.tags { display: flex; flex-wrap: wrap; gap: 4px; }
.tag { font-size: 11.5px; line-height: 17px; border: 1px solid var(--rule); border-radius: 9px; padding: 0 7px; }
.heard { font-size: 12px; color: var(--link); font-weight: 600; }
</style>
