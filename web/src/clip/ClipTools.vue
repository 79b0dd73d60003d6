<script setup lang="ts">
/**
 * What can be done to the chosen notes: a tool as a sentence, heard and drawn while its words are turned, then laid in.
 */
import { computed } from 'vue'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import SaidWords from '@/sentence/SaidWords.vue'
import { useClip, type Tool } from './clip'

const clip = useClip()
const tools = computed(() => clip.state?.tools ?? [])
const now = computed(() => clip.trying?.tool.tool)
const to = computed(() => {
  const { length } = clip.chosen
  return length === 0 ? 'To all notes' : length === 1 ? 'To the chosen note'
    : `To the ${length.toLocaleString('en')} chosen notes`
})
const parts = computed(() => clip.trying?.sentence.flatMap((clause) => clause.parts) ?? [])
const entries = computed<Entry[]>(
  () => tools.value.map(({ tool, label, about }) => ({ title: label, about, run: () => begin(tool) })),
)
const throws = computed(() => clip.trying !== null && 'throw' in clip.trying.tool)
/** As it begins; a tool with chance in it from another place each time. */
const begin = (tool: Tool) =>
  void clip.tryTool('throw' in tool ? { ...tool, throw: Math.floor(Math.random() * 1e6) } : tool)
const turn = (slot: string, value: unknown) => clip.trying && clip.tryTool(clip.trying.tool, slot, value)
</script>

<template>
  <div class="tools pane">
    <h3>{{ to }}</h3>
    <p v-if="clip.trying" class="sentence">
      <SaidWords :key="String(now)" :parts="parts" @preview="turn" @settle="turn" />
    </p>
    <p v-else class="sentence quiet">Choose what is to be done; it is heard and drawn before anything is stored.</p>
    <div v-if="clip.trying" class="acts">
      <v-btn size="small" color="primary" variant="flat" @click="clip.layIn">lay it in</v-btn>
      <button v-if="throws" type="button" class="plain act" @click="clip.throwAgain(1)">another throw</button>
      <button v-if="throws" type="button" class="plain act" @click="clip.throwAgain(-1)">the one before</button>
      <button type="button" class="plain act" @click="clip.forgetTool">forget it</button>
      <span class="quiet">heard now, not yet stored</span>
    </div>
    <div class="offers">
      <div class="chips">
      <button
        v-for="{ tool, label, about } in tools" :key="label" type="button" class="plain chip" :title="about"
        :aria-pressed="now === tool.tool" @click="begin(tool)"
      >{{ label }}</button>
      </div>
      <PickMenu label="What can be done" find="Find a tool" :entries="entries">
        <template #opener="{ menu }"><button v-bind="menu" type="button"
          class="plain chip">all tools …</button></template>
      </PickMenu>
    </div>
  </div>
</template>

<style scoped>
.tools {
  --lane: var(--quiet); flex: 1; min-width: 0; padding: 8px 18px; display: flex; flex-direction: column; gap: 4px;
  overflow-y: auto;
}
h3 { font-size: 16px; line-height: 1.2; }
.sentence { font-size: 16.5px; line-height: 1.45; flex: 1; }
.acts { display: flex; align-items: center; gap: 14px; font-size: 13px; white-space: nowrap; }
.act { font-weight: 650; color: var(--link); }
.act:hover { text-decoration: underline; text-underline-offset: 3px; }
.offers { display: flex; gap: 5px; padding-top: 2px; flex: none; }
.chips {
  display: flex; gap: 5px; min-width: 0; overflow-x: auto; scrollbar-width: none;
  mask-image: linear-gradient(to right, black calc(100% - 28px), transparent); padding-right: 20px;
}
.chip {
  font-size: 12px; line-height: 20px; border: 1px dashed var(--quiet); border-radius: 11px; padding: 0 8px;
  white-space: nowrap; color: var(--quiet);
}
.chip:hover, .chip[aria-pressed='true'] { color: var(--ink); border-style: solid; }
</style>
