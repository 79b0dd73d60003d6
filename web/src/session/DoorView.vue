<script setup lang="ts">
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { Refusal } from '@/api/client'
import { useSession } from './session'

const session = useSession()
const route = useRoute()
const router = useRouter()
document.title = 'Jolly Lattice'
const username = ref('')
const password = ref('')
const trouble = ref('')
const busy = ref(false)
const newcomer = ref(false)

async function enter(how: () => Promise<void>): Promise<void> {
  busy.value = true
  trouble.value = ''
  try {
    await how()
    const next = route.query.next
    // Only an address of this application: never one that leads elsewhere.
    await router.replace(typeof next === 'string' && /^\/(?!\/)/.test(next) ? next : '/')
  } catch (problem) {
    trouble.value = problem instanceof Refusal ? problem.message : 'That did not work; try it once more.'
  } finally {
    busy.value = false
  }
}
const credentials = () => ({ username: username.value.trim(), password: password.value })
function submit(): void {
  void enter(() => (newcomer.value ? session.signUp(credentials()) : session.signIn(credentials())))
}
</script>

<template>
  <main class="door">
    <svg class="weave" viewBox="0 0 600 200" aria-hidden="true">
      <g v-for="(row, r) in [[7, '#b3452f'], [5, '#2f6b4f'], [9, '#b97d10'], [4, '#24708a']]" :key="r">
        <path
          v-for="i in Number(row[0])" :key="i" :fill="String(row[1])"
          :d="`M${((i - 1) * 600) / Number(row[0])} ${46 + r * 48} v-34 q9 30 52 34 z`"
        />
      </g>
    </svg>
    <h1>Jolly Lattice</h1>
    <p class="sentence lead">Rhythms that you would not have drawn by hand.</p>
    <v-btn
      v-if="session.demo" class="open" size="large" variant="flat" color="#2b2240" :disabled="busy"
      @click="enter(session.openDemo)"
    >Open the demo</v-btn>
    <form class="card" @submit.prevent="submit">
      <h2>{{ newcomer ? 'Make an account' : 'Sign in' }}</h2>
      <v-text-field v-model="username" label="Name" autocomplete="username" name="username" required />
      <v-text-field
        v-model="password" label="Password" type="password" name="password" required
        :autocomplete="newcomer ? 'new-password' : 'current-password'"
        :hint="newcomer ? 'At least 8 characters, not a common word' : ''" persistent-hint
      />
      <p v-if="trouble" class="trouble" role="alert">{{ trouble }}</p>
      <v-btn type="submit" variant="flat" color="primary" block :disabled="busy">
        {{ newcomer ? 'Sign up' : 'Sign in' }}
      </v-btn>
      <v-btn block @click="newcomer = !newcomer">
        {{ newcomer ? 'I have an account' : 'I am new here' }}
      </v-btn>
    </form>
  </main>
</template>

<style scoped>
.door {
  min-height: 100vh; display: flex; flex-direction: column; align-items: center; justify-content: center; gap: 10px;
  padding: 24px;
}
.weave { width: min(600px, 90vw); height: auto; }
h1 { font-size: 54px; line-height: 1.1; }
.lead { font-size: 21px; margin-bottom: 8px; }
.open { margin-bottom: 12px; }
.card {
  width: min(360px, 92vw); background: var(--card); border: 1px solid var(--rule); border-radius: 14px; padding: 20px;
  display: grid; gap: 12px;
}
h2 { font-size: 20px; }
.trouble { color: rgb(var(--v-theme-error)); }
</style>
