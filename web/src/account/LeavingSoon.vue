<script setup lang="ts">
/** That the account is to be deleted, as long as it may be kept after all. */
import { moment } from '@/app/dates'
import { useNotices } from '@/app/notices'
import { useSession } from '@/session/session'

const session = useSession()
const notices = useNotices()
const stay = () => notices.attempt(async () => {
  await session.stay()
  notices.say('The account stays, with all that is in it.')
})
</script>

<template>
  <p v-if="session.leaves" class="leaving" role="status">
    <span>This account is deleted on {{ moment(session.leaves) }}, with all that is in it.</span>
    <v-btn size="small" variant="flat" color="primary" @click="stay">Keep it</v-btn>
  </p>
</template>

<style scoped>
.leaving {
  display: flex; align-items: center; justify-content: space-between; gap: 12px; flex-wrap: wrap; margin-bottom: 16px;
  border: 2px solid rgb(var(--v-theme-error)); border-radius: 10px; padding: 8px 14px;
}
</style>
