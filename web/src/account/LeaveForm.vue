<script setup lang="ts">
/** The end of the account, in a day. */
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useSession } from '@/session/session'
import { useRefusal } from './useRefusal'

const session = useSession()
const open = ref(false)
const password = ref('')
const { wrong, attempt } = useRefusal()
const leave = () => attempt(async () => {
  session.leaves = (await ask(api.POST('/api/account/departure', { body: { password: password.value } }))).leaves
})
</script>

<template>
  <section aria-labelledby="leave">
    <h2 id="leave">Delete the account</h2>
    <p>Pieces, clips, links, sounds: all of it goes for ever, a day after you asked for it. Until then you can keep it
      after all.</p>
    <v-btn v-if="!open" variant="outlined" @click="open = true">Delete the account …</v-btn>
    <form v-else @submit.prevent="leave">
      <v-text-field v-model="password" label="Your password" type="password" autocomplete="current-password"
        hide-details autofocus required />
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <v-btn type="submit" variant="flat" color="error" :disabled="!password">Delete it in a day</v-btn>
      <v-btn @click="open = false">Keep it</v-btn>
    </form>
  </section>
</template>
