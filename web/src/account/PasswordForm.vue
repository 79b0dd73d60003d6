<script setup lang="ts">
/** Another password; every other session ends. */
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useNotices } from '@/app/notices'
import { useRefusal } from './useRefusal'

const emit = defineEmits<{ changed: [] }>()
const notices = useNotices()
const now = ref('')
const next = ref('')
const busy = ref(false)
const { wrong, attempt } = useRefusal()
async function change(): Promise<void> {
  busy.value = true
  await attempt(async () => {
    await ask(api.POST('/api/account/password', { body: { now: now.value, new: next.value } }))
    now.value = next.value = ''
    notices.say('That is your password from now on; wherever else you were signed in, you are no more.')
    emit('changed')
  })
  busy.value = false
}
</script>

<template>
  <section aria-labelledby="password">
    <h2 id="password">Password</h2>
    <form @submit.prevent="change">
      <v-text-field v-model="now" label="As it is" type="password" autocomplete="current-password" hide-details required />
      <v-text-field v-model="next" label="From now on" type="password" autocomplete="new-password" required
        hint="At least 8 characters, not a common word" persistent-hint />
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <v-btn type="submit" variant="outlined" :disabled="busy || !now || !next">Change the password</v-btn>
    </form>
  </section>
</template>
