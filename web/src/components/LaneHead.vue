<script setup lang="ts">
/** The head of a lane: its name, its drum, what it does in short, mute and solo, and a menu. */
import { mdiDotsHorizontal } from '@mdi/js'
import { computed, ref } from 'vue'
import type { Edit, Lane } from '@/api/client'
import { jewel } from '@/lattice/colours'
import { usePlayer } from '@/sound/player'
import { usePattern } from '@/stores/pattern'
import { useThemeName } from '@/theme'
import AskName from './AskName.vue'
import DrumMenu from './DrumMenu.vue'

const props = defineProps<{ lane: Lane; index: number; count: number }>()
const pattern = usePattern()
const player = usePlayer()
const { name: theme } = useThemeName()
const naming = ref(false)
const drums = ref(false)
const colour = computed(() => jewel(props.index, theme.value))

const change = (...edits: Edit[]) => void pattern.commit(edits)
const set = (field: 'name' | 'note' | 'channel' | 'mute' | 'solo', value: string | number | boolean) =>
  change({ do: 'lane', lane: props.lane.id, field, value, also: field === 'name' ? [] : pattern.alongside(props.lane.id) })
/** Edits of the same kind for this lane and those picked with it. */
const changeAll = (make: (lane: string) => Edit) => change(...[props.lane.id, ...pattern.alongside(props.lane.id)].map(make))

function drop(event: DragEvent): void {
  const dragged = event.dataTransfer?.getData('text/x-jolly-lane')
  if (dragged && dragged !== props.lane.id) change({ do: 'move_lane', lane: dragged, to: props.index })
}
function setChannel(typed: string): void {
  const channel = Number(typed)
  if (typed.trim() !== '') set('channel', channel)
}
</script>

<template>
  <div
    class="lane-head" :class="{ silent: !lane.audible }" draggable="true"
    @dragstart="(event) => event.dataTransfer?.setData('text/x-jolly-lane', lane.id)"
    @dragover.prevent @drop.prevent="drop"
  >
    <svg class="mark" viewBox="0 0 16 16" aria-hidden="true">
      <path d="M8 0L16 8L8 16L0 8Z" :fill="lane.audible ? colour : 'none'" :stroke="colour" stroke-width="1.6" />
    </svg>
    <button
      type="button" class="plain words" :title="`${lane.note} · ${lane.note_name} · ${lane.drawn.summary}`"
      @click="(event) => (event.ctrlKey || event.metaKey || event.shiftKey ? pattern.pick(lane.id) : pattern.choose(lane.id))"
      @dblclick="naming = true"
    >
      <span class="head name">{{ lane.name }}</span>
      <span class="quiet about">{{ lane.drawn.summary }} · {{ lane.note_name }}</span>
    </button>
    <button
      type="button" class="plain toggle" :aria-pressed="lane.mute" :aria-label="`Mute ${lane.name}`" title="Mute"
      @click="set('mute', !lane.mute)"
    >mute</button>
    <button
      type="button" class="plain toggle" :aria-pressed="lane.solo" :aria-label="`Solo ${lane.name}`" title="Solo"
      @click="set('solo', !lane.solo)"
    >solo</button>
    <v-menu :close-on-content-click="true">
      <template #activator="{ props: menu }">
        <v-btn v-bind="menu" :icon="mdiDotsHorizontal" size="x-small" :aria-label="`More for ${lane.name}`" />
      </template>
      <v-list>
        <v-list-item title="Rename …" @click="naming = true" />
        <v-list-item :title="`Drum: ${lane.note_name} …`" @click="drums = true" />
        <v-list-item class="field" @click.stop>
          <v-text-field
            type="number" label="MIDI channel" min="1" max="16" :model-value="lane.channel"
            @change="setChannel(($event.target as HTMLInputElement).value)" @keydown.stop @click.stop
          />
        </v-list-item>
        <v-divider />
        <v-list-item
          title="New lane: its gaps" @click="change({ do: 'add_lane', after: lane.id, follow: 'gaps', note: 54 })"
        />
        <v-list-item
          title="New lane: its answer" @click="change({ do: 'add_lane', after: lane.id, follow: 'answer', note: 76 })"
        />
        <v-list-item title="Duplicate" @click="change({ do: 'duplicate_lane', lane: lane.id })" />
        <v-list-item title="Reroll this lane" @click="changeAll((each) => ({ do: 'reroll', lane: each }))" />
        <v-list-item title="Pins off" @click="changeAll((each) => ({ do: 'unpin', lane: each }))" />
        <v-divider />
        <v-list-item
          title="Move up" :disabled="index === 0"
          @click="change({ do: 'move_lane', lane: lane.id, to: index - 1 })"
        />
        <v-list-item
          title="Move down" :disabled="index === count - 1"
          @click="change({ do: 'move_lane', lane: lane.id, to: index + 1 })"
        />
        <v-list-item title="Remove" @click="change({ do: 'remove_lane', lane: lane.id })" />
      </v-list>
    </v-menu>
    <AskName v-model="naming" title="Rename the lane" :name="lane.name" action="Rename" @named="(name) => set('name', name)" />
    <DrumMenu
      v-model="drums" :note="lane.note" @hear="player.audition" @chosen="(note) => set('note', note)"
    />
  </div>
</template>

<style scoped>
.field { padding-top: 8px; padding-bottom: 8px; }
.lane-head { position: relative; display: flex; align-items: center; gap: 2px; padding: 0 2px 0 8px; height: 100%; min-width: 0; }
.mark { width: 13px; flex: none; margin-right: 6px; }
.words { flex: 1; min-width: 0; text-align: left; display: grid; line-height: 1.2; align-self: center; padding-bottom: 15px; }
.name { font-size: 15px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.about { position: absolute; left: 29px; right: 4px; bottom: calc(50% - 17px); font-size: 11.5px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.silent .name { opacity: 0.6; }
.toggle { font-size: 11px; line-height: 20px; padding: 0 5px; border-radius: 10px; color: var(--quiet); border: 1px solid transparent; }
.toggle:hover { border-color: var(--rule); }
.toggle[aria-pressed='true'] { background: var(--ink); color: var(--card); }
</style>
