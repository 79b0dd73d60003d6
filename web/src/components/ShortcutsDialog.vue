<script setup lang="ts">
/** All shortcuts. */
import { SHORTCUTS } from '@/lattice/shortcuts'

const open = defineModel<boolean>({ required: true })
</script>

<template>
  <v-dialog v-model="open" max-width="560">
    <v-card title="Shortcuts">
      <v-card-text>
        <dl>
          <template v-for="shortcut in SHORTCUTS" :key="shortcut.keys">
            <dt><kbd>{{ shortcut.keys }}</kbd></dt>
            <dd>{{ shortcut.does }}</dd>
          </template>
        </dl>
        <p class="quiet">
          Any underlined word: drag it up and down, turn the wheel over it, use the arrow keys, or press Enter and type.
        </p>
      </v-card-text>
      <v-card-actions><v-btn @click="open = false">Close</v-btn></v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
dl { display: grid; grid-template-columns: max-content 1fr; gap: 6px 16px; margin-bottom: 12px; }
kbd { font: inherit; font-weight: 700; }
</style>
