<script setup lang="ts">
/** Where one is signed in: each can be ended, and all others at once. */
import { api, ask, type Schemas } from '@/api/client'
import { moment } from '@/app/dates'
import { useNotices } from '@/app/notices'

type SignIn = Schemas['SignInOut']
defineProps<{ signIns: SignIn[] }>()
const emit = defineEmits<{ ended: [] }>()
const notices = useNotices()
const end = ({ name }: SignIn) => notices.attempt(async () => {
  await ask(api.DELETE('/api/account/sign-ins/{sign_in}', { params: { path: { sign_in: name } } }))
  emit('ended')
})
const endOthers = () => notices.attempt(async () => {
  await ask(api.DELETE('/api/account/sign-ins'))
  emit('ended')
})
</script>

<template>
  <section aria-labelledby="sign-ins">
    <h2 id="sign-ins">Where you are signed in</h2>
    <ul>
      <li v-for="each in signIns" :key="each.name">
        <span>{{ each.browser }}<br><span class="quiet">{{ each.here ? 'here, ' : '' }}since {{ moment(each.begun, 'short') }}<template
          v-if="!each.here">, last seen {{ moment(each.seen, 'short') }}</template></span></span>
        <v-btn v-if="!each.here" size="small" :aria-label="`End ${each.browser}`" @click="end(each)">End</v-btn>
      </li>
    </ul>
    <v-btn v-if="signIns.length > 2" variant="outlined" @click="endOthers">End all others</v-btn>
  </section>
</template>
