<script setup lang="ts">
/** One's own account: the password, where one is signed in, what one keeps, and its end. */
import { mdiArrowLeft } from '@mdi/js'
import { onMounted, shallowRef } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useNotices } from '@/app/notices'
import { useSession } from '@/session/session'
import LeaveForm from './LeaveForm.vue'
import LeavingSoon from './LeavingSoon.vue'
import OwnSounds from './OwnSounds.vue'
import PasswordForm from './PasswordForm.vue'
import SignIns from './SignIns.vue'

const session = useSession()
const notices = useNotices()
document.title = 'Your account · Jolly Lattice'
const account = shallowRef<Schemas['AccountOut'] | null>(null)
const load = () => notices.attempt(async () => {
  account.value = await ask(api.GET('/api/account'))
  session.leaves = account.value.leaves
})
onMounted(load)
</script>

<template>
  <header class="top">
    <v-btn to="/" :icon="mdiArrowLeft" size="small" aria-label="Back to the pieces" />
    <h1>{{ session.username }}</h1>
  </header>
  <main>
    <LeavingSoon />
    <p v-if="session.everybodys" class="sentence">
      The demo is open to everybody, so nobody changes its password or deletes it.
    </p>
    <div v-if="account" class="sections">
      <PasswordForm v-if="!session.everybodys" @changed="load" />
      <SignIns v-if="!session.everybodys" :sign-ins="account.sign_ins" @ended="load" />
      <OwnSounds :sounds="account.sounds" :room="account.room" @thrown="load" />
      <section aria-labelledby="along">
        <h2 id="along">Take everything along</h2>
        <p>All pieces with their clips, your own sounds and starting recipes, and what lies on the Trail: one .zip of
          open formats. Each piece in it can be brought in again.</p>
        <v-btn href="/api/account/everything.zip" download variant="outlined">All of it as one file</v-btn>
      </section>
      <LeaveForm v-if="!session.everybodys && !session.leaves" />
    </div>
  </main>
</template>

<style scoped>
.top { background: var(--night); color: #f6ecd6; display: flex; align-items: center; gap: 10px; padding: 8px 24px; }
.top h1 { font-size: 24px; flex: 1; overflow-wrap: anywhere; }
main { padding: 24px 24px calc(24px + var(--notice, 0px)); max-width: 1080px; margin: 0 auto; width: 100%; }
.sentence { font-size: 18px; margin-bottom: 16px; }
.sections { display: grid; gap: 18px; grid-template-columns: repeat(auto-fit, minmax(min(440px, 100%), 1fr)); align-items: start; }
.sections :deep(section) {
  background: var(--card); border: 1px solid var(--rule); border-radius: 14px; padding: 16px 20px;
  display: grid; gap: 10px; justify-items: start;
}
.sections :deep(h2) { font-size: 21px; }
.sections :deep(ul) { list-style: none; width: 100%; }
.sections :deep(li) {
  display: flex; justify-content: space-between; align-items: center; gap: 10px; border-top: 1px solid var(--rule);
  padding: 5px 0; min-height: 40px;
}
.sections :deep(form) { display: grid; gap: 10px; width: min(340px, 100%); justify-items: stretch; }
.sections :deep(.wrong) { color: rgb(var(--v-theme-error)); font-size: 14px; }
</style>
