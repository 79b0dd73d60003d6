<script setup lang="ts">
/** Choosing a drum by its name; each can be heard before it is taken. */
import { mdiVolumeHigh } from '@mdi/js'
import { computed, ref, watch } from 'vue'
import { useReturnFocus } from '@/app/useReturnFocus'
import { useSession } from '@/session/session'

const open = defineModel<boolean>({ required: true })
defineProps<{ note: number }>()
const emit = defineEmits<{ chosen: [note: number]; hear: [note: number] }>()
const session = useSession()
const sought = ref('')
useReturnFocus(open)
watch(open, () => (sought.value = ''))
const drums = computed(() =>
  Object.entries(session.drums)
    .map(([note, name]) => ({ note: Number(note), name }))
    .filter(({ note, name }) => `${note} ${name}`.toLowerCase().includes((sought.value ?? '').toLowerCase().trim())),
)
/** Enter takes the drum that was found, if it is the only one. */
function takeFound(): void {
  const [only, ...more] = drums.value
  if (only && more.length === 0) take(only.note)
}
function take(note: number): void {
  emit('hear', note)
  emit('chosen', note)
  open.value = false
}
</script>

<template>
  <v-dialog v-model="open" max-width="420" scrollable aria-label="Choose a drum">
    <v-card title="Choose a drum">
      <v-card-text class="list">
        <v-text-field v-model="sought" label="Find" autofocus clearable @click:clear="sought = ''"
          @keydown.enter.prevent="takeFound" />
        <ul>
          <li v-for="drum in drums" :key="drum.note">
            <v-btn
              :icon="mdiVolumeHigh" size="x-small" :aria-label="`Hear ${drum.name}`" @click="emit('hear', drum.note)"
            />
            <button type="button" class="plain" :aria-current="drum.note === note" @click="take(drum.note)">
              {{ drum.name }} <span class="quiet">{{ drum.note }}</span>
            </button>
          </li>
        </ul>
      </v-card-text>
      <v-card-actions><v-btn @click="open = false">Cancel</v-btn></v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.list.v-card-text { padding-top: 10px; }
ul { list-style: none; margin-top: 10px; }
li { display: flex; align-items: center; gap: 8px; }
li button.plain { flex: 1; text-align: left; padding: 4px 0; }
[aria-current='true'] { font-weight: 700; }
</style>
