<script setup lang="ts">
/** The Shelf: kept clips; each can be dragged out or downloaded as a MIDI file. */
import { mdiClose, mdiDownload, mdiPencilOutline } from '@mdi/js'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Clip } from '@/api/client'
import { useClip } from '@/clip/clip'
import { wasTried } from '@/app/firstMinute'
import { usePattern } from '@/pattern/pattern'
import { useShelf } from './shelf'
import AskName from '@/app/AskName.vue'
import RhythmThumb from '@/app/RhythmThumb.vue'

const shelf = useShelf()
const pattern = usePattern()
const opened = useClip()
const router = useRouter()
const open = (clip: Clip) => void router.push({ query: { clip: clip.id } })
const naming = ref(false)
const renamed = ref<Clip | null>(null)

const address = (clip: Clip) => `/api/clips/${clip.id}/midi`
/** Chromium makes a file of what is dragged out under this type; others get the address. */
function dragOut(event: DragEvent, clip: Clip): void {
  const whole = new URL(address(clip), location.href).href
  event.dataTransfer?.setData('DownloadURL', `audio/midi:${clip.file}:${whole}`)
  event.dataTransfer?.setData('text/uri-list', whole)
  wasTried('take')
}
function askName(clip: Clip): void {
  renamed.value = clip
  naming.value = true
}
const lanes = () => pattern.view?.lanes.map((lane) => lane.id)
const count = (value: number, one: string) => `${Number(value.toFixed(2))} ${one}${value === 1 ? '' : 's'}`
</script>

<template>
  <aside class="shelf pane" aria-label="Shelf">
    <h2>Shelf</h2>
    <ul>
      <li
        v-for="clip in shelf.clips" :key="clip.id" draggable="true" :class="{ opened: opened.id === clip.id }" :data-clip="clip.id" @dragstart="(event) => dragOut(event, clip)"
      >
        <span class="top">
          <button type="button" class="plain head name" :title="`Open ${clip.name}`" :aria-current="opened.id === clip.id ? 'true' : undefined" @click="open(clip)">{{ clip.name }}</button>
          <v-btn :icon="mdiPencilOutline" size="x-small" :aria-label="`Rename ${clip.name}`" @click="askName(clip)" />
          <v-btn :icon="mdiClose" size="x-small" :aria-label="`Delete ${clip.name}`" @click="shelf.remove(clip)" />
        </span>
        <span class="picture" @click="open(clip)"><RhythmThumb :thumb="clip.thumb" :lanes="lanes()" /></span>
        <span class="foot">
          <span class="quiet">{{ count(clip.thumb.bars, 'bar') }} · {{ count(clip.thumb.notes, 'note') }}</span>
          <v-btn
            :href="address(clip)" :download="clip.file" @click="wasTried('take')" size="x-small" :prepend-icon="mdiDownload" class="file"
            :aria-label="`Download ${clip.name} as a MIDI file`"
          >MIDI file</v-btn>
        </span>
      </li>
    </ul>
    <p class="quiet hint">
      <template v-if="shelf.clips.length">
        Drag a clip out, or <a :href="`/api/pieces/${shelf.piece}/clips.zip`">download all as a .zip</a> of MIDI files.
      </template>
      <template v-else>Press K: what you keep lies here, ready to be taken out as MIDI.</template>
    </p>
    <AskName
      v-model="naming" title="Rename the clip" :name="renamed?.name ?? ''" action="Rename"
      @named="(name) => renamed && shelf.rename(renamed, name)"
    />
  </aside>
</template>

<style scoped>
.shelf { background: var(--shade); border-left: 1px solid var(--rule); padding: 12px; overflow-y: auto; display: flex; flex-direction: column; gap: 10px; }
h2 { font-size: 20px; }
ul { list-style: none; display: grid; gap: 8px; }
li { background: var(--card); border: 1px solid var(--rule); border-radius: 9px; padding: 7px 6px 5px 10px; cursor: grab; }
.top { display: flex; align-items: center; }
.opened { border-color: var(--ink); box-shadow: 0 0 0 1px var(--ink); }
.name { flex: 1; min-width: 0; text-align: left; font: 600 14.5px 'Fraunces Variable', serif; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.picture { display: block; height: 38px; margin: 2px 6px 2px 0; }
.foot { display: flex; justify-content: space-between; align-items: center; font-size: 12px; }
.file { color: var(--link); }
.hint { font-size: 12.5px; }
.hint a { color: var(--link); }
</style>
