<script setup lang="ts">
/** The head of a lane: its name, its drum, what it does in short, mute and solo, and a menu. */
import { mdiDotsHorizontal } from '@mdi/js'
import { computed, ref, useTemplateRef } from 'vue'
import type { Edit, Lane } from '@/api/client'
import { jewel } from '@/app/colours'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import { levelOf, setLevel } from '@/sound/levels'
import { useSession } from '@/session/session'
import { usePlayer } from '@/sound/player'
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'
import { useThemeName } from '@/app/theme'
import AskName from '@/app/AskName.vue'
import DrumMenu from '@/drum/DrumMenu.vue'
import { ACCEPTED } from '@/drum/recordings'
import { useDropSound } from '@/drum/useDropSound'
import { lookAtText } from '@/writing/pasted'
import { useCopiedText } from '@/writing/useCopiedText'
import { useCopiedLanes } from './useCopiedLanes'
import { useTaller } from './useRows'

const props = defineProps<{ lane: Lane; index: number; count: number }>()
/** To the head of the lane above (-1) or below (1). */
const emit = defineEmits<{ beside: [by: number] }>()
const pattern = usePattern()
const session = useSession()
const player = usePlayer()
const notices = useNotices()
const { name: theme } = useThemeName()
const naming = ref(false)
const drums = ref(false)
/** Whether the drum is for a copy of the lane. */
const forCopy = ref(false)
const colour = computed(() => jewel(props.index, theme.value))

const change = (...edits: Edit[]) => pattern.commit(edits)
const set = (field: 'name' | 'note' | 'channel' | 'mute' | 'solo', value: string | number | boolean | null) =>
  change({
    do: 'lane', lane: props.lane.id, field, value, also: field === 'name' ? [] : pattern.alongside(props.lane.id),
  })
function askDrum(copy: boolean): void {
  forCopy.value = copy
  drums.value = true
}
const takeDrum = (note: number) =>
  (forCopy.value ? change({ do: 'duplicate_lane', lane: props.lane.id, note }) : set('note', note))
/** Edits of the same kind for this lane and those picked with it. */
const changeAll = (make: (lane: string) => Edit) =>
  change(...[props.lane.id, ...pattern.alongside(props.lane.id)].map(make))

const { hearLaneAs, dropped } = useDropSound()
const chooser = useTemplateRef<HTMLInputElement>('chooser')
function chosenFile(): void {
  const file = chooser.value?.files?.[0]
  if (chooser.value) chooser.value.value = ''
  if (file) void hearLaneAs(props.lane.id, file)
}

function drop(event: DragEvent): void {
  if (dropped(props.lane.id, event)) return
  const dragged = event.dataTransfer?.getData('text/x-jolly-lane')
  if (dragged && dragged !== props.lane.id) change({ do: 'move_lane', lane: dragged, to: props.index })
}
/** What a lane can be turned into. */
const TURNED = { drum: 'Make it a drum lane', pitched: 'Make it a melody', control: 'Make it a controller' }
const { isTaller, toggle } = useTaller()
const { copiedLanes, copiedText, copyLanes, pasteLanes } = useCopiedLanes()
const { copyText } = useCopiedText()
const channel = ref(false)
function setChannel(typed: string): Promise<boolean> {
  const number = Number(typed)
  return set('channel', Number.isInteger(number) ? number : typed)
}
const level = ref(false)
const levelNow = computed(() => levelOf(pattern.id, props.lane.id))
function hearAt(typed: string): boolean {
  const percent = Number(typed.replace('%', ''))
  if (typed.trim() !== '' && setLevel(pattern.id, props.lane.id, percent)) return true
  notices.say('A level for listening goes from 0 to 200 percent; 100 leaves the lane as it is.')
  return false
}
const entries = computed<Entry[]>(() => [
  { title: 'Rename …', run: () => (naming.value = true) },
  ...(props.lane.kind === 'drum' ? [{ title: `Drum: ${props.lane.note_name} …`, run: () => askDrum(false) },
    { title: 'Own sound from a file …', about: 'or drop one on the lane', run: () => chooser.value?.click() }] : []),
  { title: `MIDI channel: ${props.lane.channel} …`, run: () => (channel.value = true) },
  { title: `Level: ${levelNow.value} % …`, about: 'for listening here only', run: () => (level.value = true) },
  ...session.offered.following.map(({ rule, title, about }, place) => ({
    title: `New lane: ${title}`, about, apart: place === 0,
    run: () => change({ do: 'add_lane', after: props.lane.id, follow: rule } as Edit),
  })),
  ...session.offered.following.filter(({ controller }) => controller).map(({ rule, title }) => ({
    title: `New controller: ${title}`, about: 'set by its velocity',
    run: () => change({ do: 'add_lane', after: props.lane.id, begin: 'controller', follow: rule } as Edit),
  })),
  { title: isTaller(props.lane.id) ? 'As tall as the others' : 'Open taller', run: () => toggle(props.lane.id) },
  ...Object.entries(TURNED).filter(([kind]) => kind !== props.lane.kind).map(([kind, title]) => ({
    title, about: 'nothing it says is lost',
    run: () => changeAll((each) => ({ do: 'kind', lane: each, kind: kind as Lane['kind'] })),
  })),
  { title: 'Duplicate', run: () => change({ do: 'duplicate_lane', lane: props.lane.id }) },
  ...(props.lane.kind === 'drum' ? [{ title: 'A copy for another drum …', run: () => askDrum(true) }] : []),
  {
    title: pattern.alongside(props.lane.id).length ? 'Copy these lanes' : 'Copy the lane',
    about: 'to paste it in this pattern or another',
    run: () => void copyLanes([props.lane.id, ...pattern.alongside(props.lane.id)]),
  },
  {
    title: pattern.alongside(props.lane.id).length ? 'Copy these lanes as text' : 'Copy as text', about: 'to send or to paste',
    run: () => void copyText([props.lane.id, ...pattern.alongside(props.lane.id)]),
  },
  { title: 'Paste a text below …', run: () => lookAtText('', props.lane.id) },
  ...(
    copiedLanes.value.length ? [{ title: `Paste ${copiedText.value} below`, run: () => pasteLanes(props.lane.id) }] : []
  ),
  {
    title: 'Reroll this lane', about: 'new chances, same recipe',
    run: () => changeAll((each) => ({ do: 'reroll', lane: each })),
  },
  {
    title: 'Steps by hand off', about: 'leave all steps to the rule', disabled: !props.lane.drawn.pins.length,
    run: () => changeAll((each) => ({ do: 'unpin', lane: each })),
  },
  {
    title: 'Move up', apart: true, disabled: props.index === 0,
    run: () => change({ do: 'move_lane', lane: props.lane.id, to: props.index - 1 }),
  },
  {
    title: 'Move down', disabled: props.index === props.count - 1,
    run: () => change({ do: 'move_lane', lane: props.lane.id, to: props.index + 1 }),
  },
  { title: 'Remove', run: () => change({ do: 'remove_lane', lane: props.lane.id }) },
])
const choose = (event: MouseEvent) =>
  event.ctrlKey || event.metaKey || event.shiftKey ? pattern.pick(props.lane.id) : pattern.choose(props.lane.id)
const about = computed(() => {
  const { kind, channel, note_name, sound, controller, drawn } = props.lane
  const elsewhere = kind !== 'drum' || channel === 10 ? '' : ` · channel ${channel}`
  return `${drawn.summary} · ${{ drum: sound.own?.name ?? note_name, pitched: sound.by, control: controller }[kind]}${elsewhere}`
})
</script>

<template>
  <div
    v-one-stop class="lane-head" :class="{ silent: !lane.audible }" draggable="true"
    @dragstart="(event) => event.dataTransfer?.setData('text/x-jolly-lane', lane.id)"
    @dragover.prevent @drop.prevent="drop" @keydown.up.exact.prevent.stop="emit('beside', -1)"
    @keydown.down.exact.prevent.stop="emit('beside', 1)"
  >
    <svg class="mark" viewBox="0 0 16 16" aria-hidden="true">
      <path d="M8 0L16 8L8 16L0 8Z" :fill="lane.audible ? colour : 'none'" :stroke="colour" stroke-width="1.6" />
    </svg>
    <button
      type="button" class="plain words" data-press="shift" data-press-words="chosen too"
      :title="`${lane.name}: ${about}`" :aria-pressed="lane.id === pattern.chosen"
      @click="choose" @dblclick="naming = true"
    ><span class="head name">{{ lane.name }}</span></button>
    <span class="quiet about" :title="about" @click="choose">{{ about }}</span>
    <span class="menu">
      <PickMenu :label="`More for ${lane.name}`" :entries="entries">
        <template #opener="{ menu }">
          <v-btn v-bind="menu" :icon="mdiDotsHorizontal" size="x-small" :aria-label="`More for ${lane.name}`" />
        </template>
      </PickMenu>
    </span>
    <span class="toggles">
      <button
        type="button" class="plain toggle" :aria-pressed="lane.mute" :aria-label="`Mute ${lane.name}`" title="Mute"
        @click="set('mute', null)"
      >mute</button>
      <button
        type="button" class="plain toggle" :aria-pressed="lane.solo" :aria-label="`Solo ${lane.name}`" title="Solo"
        @click="set('solo', null)"
      >solo</button>
    </span>
    <AskName v-model="naming" title="Rename the lane" :name="lane.name" action="Rename"
      @named="(name) => set('name', name)" />
    <AskName v-model="channel" title="The MIDI channel" label="Channel, 1 to 16" :name="String(lane.channel)"
      action="Set" @named="setChannel" />
    <AskName v-model="level" title="How loud it is heard here" label="Percent, 0 to 200" :name="String(levelNow)"
      action="Set" @named="hearAt" />
    <input ref="chooser" type="file" hidden :accept="ACCEPTED" aria-label="A sound from a file" @change="chosenFile">
    <DrumMenu v-model="drums" :note="lane.note" @hear="player.audition" @chosen="takeDrum" />
  </div>
</template>

<style scoped>
/* The name has the first line to itself; what the lane does, mute and solo share the second. */
.lane-head {
  display: grid; grid-template: auto auto / 20px minmax(0, 1fr) auto 24px; align-content: center; align-items: center;
  padding: 0 2px 0 8px; height: 100%; min-width: 0;
}
.mark { width: 13px; grid-row: 1 / 3; }
.words {
  grid-area: 1 / 2 / auto / 4; min-width: 0; text-align: left; line-height: 1.2; min-height: 24px; margin: -3px 0;
}
.name { display: block; font-size: 15px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.about {
  grid-area: 2 / 2; font-size: 11.5px; line-height: 1.25; white-space: nowrap; overflow: hidden;
  text-overflow: ellipsis; cursor: default;
}
.menu { grid-area: 1 / 4; justify-self: end; line-height: 0; margin: -3px 0; }
.toggles { grid-area: 2 / 3 / auto / 5; display: flex; }
.silent .name { opacity: 0.75; }
.toggle {
  font-size: 11px; line-height: 16px; padding: 0 5px; border-radius: 9px; color: var(--quiet);
  border: 1px solid transparent;
}
.toggle:hover { border-color: var(--rule); }
.toggle[aria-pressed='true'] { background: var(--ink); color: var(--card); }
/* Low rows are tight. */
@container row (max-height: 40px) {
  .words { line-height: 16px; }
  .name { font-size: 14px; }
  .about { line-height: 13px; }
  .toggle { line-height: 14px; }
}
/* Under a finger all of its height is the name's; what else it has stands beside, or below where there is room. */
@media (pointer: coarse) {
  .lane-head { grid-template: auto / 20px minmax(0, 1fr) auto 44px; }
  .mark { grid-row: auto; }
  .words { grid-area: 1 / 2; margin: 0; }
  .about { display: none; }
  .menu { grid-area: 1 / 4; margin: 0; }
  .toggles { grid-area: 1 / 3; }
  .toggle { font-size: 13px; }
  @container row (min-height: 90px) {
    .lane-head { grid-template: 44px 44px / 20px minmax(0, 1fr) auto 44px; }
    .mark { grid-row: 1 / 3; }
    .words { grid-area: 1 / 2 / auto / 4; }
    .about { display: block; grid-area: 2 / 2; }
    .toggles { grid-area: 2 / 3 / auto / 5; }
  }
}
</style>
