<script setup lang="ts">
/** The folder that the Shelf keeps in step: how it stands, and what can be done. */
import { mdiDotsHorizontal, mdiFolderAlertOutline, mdiFolderOutline, mdiFolderSyncOutline } from '@mdi/js'
import { computed, ref } from 'vue'
import PickMenu, { type Entry } from '@/app/PickMenu.vue'
import { many } from '@/app/many'
import { foldersWork, useFolder } from './folder'
import { useShelf } from './shelf'

const emit = defineEmits<{ sendAll: [] }>()
const folder = useFolder()
const shelf = useShelf()
/** Asked for where the browser cannot. */
const cannot = ref(false)
const entries = computed<Entry[]>(() => [
  { title: 'Another folder …', about: 'what lies in this one stays there', run: () => void folder.choose() },
  { title: 'Keep it in step no more', about: 'its files stay there', run: () => void folder.leave() },
])
const stands = computed(() => {
  const files = (folder.kept?.files.size ?? 0) - folder.over.length
  if (folder.standing === 'writing') return `writing, ${files} of ${shelf.clips.length}`
  return `${many(files, 'clip')} in step`
})
const icon = computed(() => (
  folder.standing === 'writing' ? mdiFolderSyncOutline : folder.standing === 'step' ? mdiFolderOutline : mdiFolderAlertOutline
))
function begin(): void {
  if (foldersWork()) void folder.choose()
  else cannot.value = true
}
</script>

<template>
  <div v-if="folder.kept" class="folder" role="group" :aria-label="`Folder ${folder.name}`">
    <span class="top">
      <v-icon :icon="icon" size="18" />
      <span class="name" :title="folder.name">{{ folder.name }}</span>
      <span v-if="folder.standing === 'step' || folder.standing === 'writing'" class="quiet" role="status">{{ stands }}</span>
      <PickMenu :label="`Folder ${folder.name}`" :entries="entries">
        <template #opener="{ menu }"><v-btn v-bind="menu" :icon="mdiDotsHorizontal" size="x-small"
          aria-label="More for the folder" /></template>
      </PickMenu>
    </span>
    <span v-if="folder.standing === 'let in'" class="asks">The browser asks anew before anything is written.
      <button type="button" class="plain act" @click="folder.letIn">Go on</button></span>
    <span v-else-if="folder.standing === 'trouble'" class="asks" role="alert">{{ folder.told }}
      <button type="button" class="plain act" @click="folder.bring">Try again</button>
      <button type="button" class="plain act" @click="folder.choose">Choose</button></span>
    <span v-else-if="folder.over.length" class="asks">
      {{ folder.over.length === 1 ? `“${folder.over[0]?.[1].name}” is` : `${folder.over.length} files are` }} in it still,
      off the Shelf.
      <button type="button" class="plain act" @click="folder.clear(true)">Delete {{ folder.over.length === 1 ? 'it' : 'them' }}</button>
      <button type="button" class="plain act" @click="folder.clear(false)">Leave {{ folder.over.length === 1 ? 'it' : 'them' }}</button></span>
  </div>
  <p v-else class="quiet none">
    <template v-if="cannot">This browser lets no page keep a folder in step. <button type="button" class="plain act"
      @click="emit('sendAll')">Send all as .zip</button></template>
    <button v-else type="button" class="plain act" @click="begin">Keep a folder on the disk in step</button>
  </p>
</template>

<style scoped>
.folder { display: grid; gap: 2px; font-size: 12.5px; border-top: 1px solid var(--rule); padding-top: 6px; }
.top { display: flex; align-items: center; gap: 5px; }
.name { font-weight: 650; flex: 1; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.none { font-size: 12.5px; }
.asks { overflow-wrap: anywhere; }
.act { color: var(--link); text-decoration: underline; text-underline-offset: 2px; margin-right: 8px; min-height: 24px; }
</style>
