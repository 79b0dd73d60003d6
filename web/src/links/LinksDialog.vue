<script setup lang="ts">
/** The links of a piece: a new one is made, the others are copied, named, and ended. */
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { insist, newKey } from '@/api/insist'
import { day } from '@/app/dates'
import { useNotices } from '@/app/notices'
import { useReturnFocus } from '@/app/useReturnFocus'
import { linking } from './links'

type Link = Schemas['LinkOut']
const notices = useNotices()
const open = computed({ get: () => linking.value !== null, set: (now) => now || (linking.value = null) })
useReturnFocus(open)
const links = ref<Link[] | null>(null)
const name = ref('')
const by = ref('')
const follows = ref(false)
let key = newKey()
const what = computed(() => (linking.value?.clip ? 'clip' : linking.value?.pattern ? 'pattern' : 'piece'))
watch(linking, async (now) => {
  links.value = null
  if (!now) return
  name.value = now.name
  key = newKey()
  const params = { path: { piece_id: now.piece } }
  await notices.attempt(async () => void (links.value = await ask(api.GET('/api/pieces/{piece_id}/links', { params }))))
})
const whole = ({ address }: Link) => new URL(address, location.href).href
async function copy(link: Link): Promise<void> {
  try {
    await navigator.clipboard.writeText(whole(link))
    notices.say(`The link to “${link.of}” is copied; paste it where it is to go.`)
  } catch {
    notices.say('This browser copies nothing by itself: choose the address and copy it by hand.')
  }
}
const make = () => notices.attempt(async () => {
  const now = linking.value
  if (!now) return
  const { piece, pattern = null, clip = null } = now
  const params = { path: { piece_id: piece } }
  const body = { name: name.value.trim() || now.name, by: by.value.trim(), pattern, clip, follows: follows.value, key }
  const made = await insist(() => api.POST('/api/pieces/{piece_id}/links', { params, body }))
  key = newKey()
  links.value = [made, ...(links.value ?? []).filter(({ id }) => id !== made.id)]
  await copy(made)
})
const rename = (link: Link, to: string) => notices.attempt(async () => {
  if (!to.trim() || to === link.name) return
  const params = { path: { link_id: link.id } }
  const named = await ask(api.PATCH('/api/links/{link_id}', { params, body: { name: to.trim() } }))
  links.value = (links.value ?? []).map((each) => (each.id === named.id ? named : each))
})
const finish = (link: Link) => notices.attempt(async () => {
  await ask(api.DELETE('/api/links/{link_id}', { params: { path: { link_id: link.id } } }))
  links.value = (links.value ?? []).filter(({ id }) => id !== link.id)
  notices.say(`The link “${link.name}” leads nowhere any more.`)
})
const shows = (link: Link) =>
  `the ${link.shows} “${link.of}”, ${link.follows ? 'always as it is' : `as it was on ${day(link.created, 'short')}`}`
</script>

<template>
  <v-dialog v-model="open" max-width="620" scrollable aria-label="Links">
    <v-card class="card">
      <h2>A link to the {{ what }} “{{ linking?.name }}”</h2>
      <p class="quiet">Whoever has it sees and hears it without an account, and can take a copy; nobody changes yours.</p>
      <form @submit.prevent="make">
        <label>Called <input v-model="name" maxlength="80" aria-label="What you call the link" />
          <span class="quiet beside">for your list alone</span></label>
        <label>Signed <input v-model="by" maxlength="80" placeholder="nobody is named" aria-label="The name that stands on it" /></label>
        <fieldset>
          <label><input v-model="follows" name="link-follows" type="radio" :value="false" /> as it is now, whatever comes</label>
          <label><input v-model="follows" name="link-follows" type="radio" :value="true" /> always as it is</label>
        </fieldset>
        <v-btn type="submit" variant="flat" color="primary">Make and copy</v-btn>
      </form>
      <h3 v-if="links?.length">Links of this piece</h3>
      <ul v-if="links?.length">
        <li v-for="link in links" :key="link.id">
          <span class="of"><input class="plain named" :value="link.name" maxlength="80" :aria-label="`Name of the link ${link.name}`"
            @change="(event) => rename(link, (event.target as HTMLInputElement).value)" />
            <span class="quiet">{{ shows(link) }}{{ link.by && `, by ${link.by}` }}</span>
            <input class="plain address" readonly :value="whole(link)" :aria-label="`Address of ${link.name}`"
              @focus="(event) => (event.target as HTMLInputElement).select()" /></span>
          <v-btn size="small" :aria-label="`Copy the link ${link.name}`" @click="copy(link)">copy</v-btn>
          <v-btn size="small" :aria-label="`End the link ${link.name}`" @click="finish(link)">end</v-btn>
        </li>
      </ul>
      <v-card-actions><v-spacer /><v-btn @click="open = false">Close</v-btn></v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.card { padding: 16px 20px 6px; }
h2 { font-size: 20px; }
.beside { font-size: 12.5px; margin-left: 10px; }
h3 { font: 600 15px 'Fraunces Variable', serif; margin-top: 12px; }
p { font-size: 13.5px; }
form { display: grid; gap: 6px; justify-items: start; margin-top: 8px; }
form label { font-size: 14.5px; min-height: 28px; display: flex; align-items: center; }
form > label { display: grid; grid-template-columns: 66px 300px auto; }
form input:not([type='radio']) {
  width: 300px; font: inherit; color: var(--ink); background: var(--paper); border: 1px solid var(--rule);
  border-radius: 5px; padding: 2px 8px;
}
fieldset { border: 0; padding: 0; display: grid; }
input[type='radio'] { margin-right: 8px; }
ul { list-style: none; overflow-y: auto; max-height: 34vh; border-top: 1px solid var(--rule); }
li { display: flex; align-items: center; gap: 4px; border-bottom: 1px solid var(--rule); padding: 5px 0; }
.of { flex: 1; min-width: 0; display: grid; font-size: 13px; }
.named { font: 600 15px 'Fraunces Variable', serif; color: var(--ink); }
.address { font-size: 12.5px; color: var(--quiet); text-overflow: ellipsis; width: 100%; }
</style>
