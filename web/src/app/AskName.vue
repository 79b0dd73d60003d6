<script setup lang="ts">
/**
 * A small dialog that asks for a name, or another short text. What is refused stays in its field, and is told there.
 */
import { useEventListener } from '@vueuse/core'
import { nextTick, ref, useTemplateRef, watch } from 'vue'
import { useNotices } from './notices'
import { useReturnFocus } from './useReturnFocus'
import { markWrong } from './wrongPart'

const open = defineModel<boolean>({ required: true })
/** onNamed: takes the text; it, or what it promises, is false where the text is refused. */
const props = defineProps<{
  title: string; name: string; action: string; label?: string; empty?: boolean; onNamed: (name: string) => unknown,
}>()
const notices = useNotices()
const typed = ref('')
const refusal = ref('')
const form = useTemplateRef<HTMLFormElement>('form')
/** A text is being stored; whether another was entered meanwhile. */
let busy = false
let again = false
useReturnFocus(open)

watch(open, (now) => {
  if (now) typed.value = props.name
})
// What is typed right after it opened is meant for its field.
useEventListener(() => (open.value ? document : null), 'keydown', (event: KeyboardEvent) => {
  if (form.value?.contains(document.activeElement)) return
  if (event.key.length > 1 || event.ctrlKey || event.metaKey || event.altKey) return
  typed.value = typed.value === props.name ? event.key : typed.value + event.key
  event.preventDefault()
  event.stopPropagation()
}, { capture: true })
function entered({ target }: FocusEvent): void {
  const field = target as HTMLInputElement
  if (refusal.value) return
  if (typed.value === props.name) field.select()
  else field.setSelectionRange(field.value.length, field.value.length)
}
watch([open, form], ([now, there]) => now && there?.querySelector('input')?.focus(), { flush: 'post' })
watch([open, typed], () => (refusal.value = ''), { flush: 'sync' })
async function done(): Promise<void> {
  const name = typed.value.trim()
  again = busy
  if (busy || (!name && !props.empty)) return
  busy = true
  const taken = await props.onNamed(name)
  busy = false
  if (taken !== false) return void (open.value = false)
  if (again) return done()
  refusal.value = notices.current?.text ?? ''
  notices.dismiss()
  await nextTick()
  markWrong(form.value?.querySelector('input'), refusal.value)
}
</script>

<template>
  <v-dialog v-model="open" max-width="380" :aria-label="title">
    <v-card :title="title">
      <form ref="form" @submit.prevent="done">
        <v-card-text>
          <v-text-field
            v-model="typed" :label="label ?? 'Name'" :maxlength="empty ? 300 : 60"
            :error-messages="refusal || undefined"
            @focus="entered"
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
