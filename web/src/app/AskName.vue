<script setup lang="ts">
/** A small dialog that asks for a name. */
import { ref, watch } from 'vue'
import { useReturnFocus } from './useReturnFocus'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{ title: string; name: string; action: string; label?: string; empty?: boolean }>()
const emit = defineEmits<{ named: [name: string] }>()
const typed = ref('')
useReturnFocus(open)

watch(open, (now) => {
  if (now) typed.value = props.name
})
function done(): void {
  const name = typed.value.trim()
  if (!name && !props.empty) return
  open.value = false
  emit('named', name)
}
</script>

<template>
  <v-dialog v-model="open" max-width="380" :aria-label="title">
    <v-card :title="title">
      <form @submit.prevent="done">
        <v-card-text>
          <v-text-field
            v-model="typed" :label="label ?? 'Name'" :maxlength="empty ? 300 : 60" autofocus @focus="($event.target as HTMLInputElement).select()"
          />
        </v-card-text>
        <v-card-actions>
          <v-btn @click="open = false">Cancel</v-btn>
          <v-btn type="submit" variant="flat" color="primary" :disabled="!typed.trim() && !empty">{{ action }}</v-btn>
        </v-card-actions>
      </form>
    </v-card>
  </v-dialog>
</template>
