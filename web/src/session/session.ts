/** Who is signed in. */
import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, ask, Refusal, type Schemas } from '@/api/client'

export const useSession = defineStore('session', () => {
  const username = ref<string | null>(null)
  /** Whether what is open is the demo's account, which nobody may change. */
  const everybodys = ref(false)
  /** When the account is to be deleted, if it is. */
  const leaves = ref<string | null>(null)
  const demo = ref(false)
  /** All that can be chosen, as the core has it. */
  const offered = ref<Omit<Schemas['Choices'], 'voices'>>({
    drums: [], starts: {}, beginnings: [], standing: [], following: [],
  })
  /** The names of drums by their notes. */
  const drums = computed(() => Object.fromEntries(offered.value.drums.map(({ note, name }) => [note, name])))
  let known: Promise<void> | null = null
  /** As it was last in this browser, for a start while the server is away. */
  const last = useLocalStorage<Schemas['SessionOut'] | null>('jolly-session', null, {
    serializer: { read: (text) => JSON.parse(text) as Schemas['SessionOut'] | null, write: JSON.stringify },
  })

  function take(session: Schemas['SessionOut']): void {
    last.value = session.username ? session : null
    username.value = session.username
    everybodys.value = session.everybodys
    leaves.value = session.leaves
    demo.value = session.demo
    offered.value = session.offered
  }
  /** Ask once who is signed in; while the server is away, it is who was so last. */
  function load(): Promise<void> {
    known ??= ask(api.GET('/api/session')).then(take, (refusal: unknown) => {
      known = null
      if (!(refusal instanceof Refusal && refusal.away && last.value)) throw refusal
      take(last.value)
    })
    return known
  }
  async function signIn(body: Schemas['Credentials']): Promise<void> {
    take(await ask(api.POST('/api/session', { body })))
  }
  async function signUp(body: Schemas['Credentials']): Promise<void> {
    take(await ask(api.POST('/api/accounts', { body })))
  }
  async function openDemo(): Promise<void> {
    take(await ask(api.POST('/api/session/demo')))
  }
  async function signOut(): Promise<void> {
    take(await ask(api.DELETE('/api/session')))
  }
  /** Keep an account that was to be deleted. */
  async function stay(): Promise<void> {
    leaves.value = (await ask(api.DELETE('/api/account/departure'))).leaves
  }
  return { username, everybodys, leaves, demo, offered, drums, load, signIn, signUp, openDemo, signOut, stay }
})
