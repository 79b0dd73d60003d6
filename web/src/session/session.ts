/** Who is signed in. */
import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'

export const useSession = defineStore('session', () => {
  const username = ref<string | null>(null)
  const demo = ref(false)
  /** What the server names: drums by note, starts of a pattern by name, what new lanes are, and lanes that follow others. */
  const drums = ref<Record<string, string>>({})
  const drumsOffered = ref<Schemas['DrumOut'][]>([])
  const beginnings = ref<Schemas['BeginningOut'][]>([])
  const standing = ref<Schemas['StandingRule'][]>([])
  const starts = ref<Record<string, string>>({})
  const following = ref<Schemas['FollowingLane'][]>([])
  const progressions = ref<Record<string, string>>({})
  let known: Promise<void> | null = null

  function take(session: Schemas['SessionOut']): void {
    username.value = session.username
    demo.value = session.demo
    drums.value = session.drums
    drumsOffered.value = session.drums_offered
    beginnings.value = session.beginnings
    standing.value = session.standing
    starts.value = session.starts
    following.value = session.following
    progressions.value = session.progressions
  }
  /** Ask once who is signed in. */
  function load(): Promise<void> {
    known ??= ask(api.GET('/api/session')).then(take, (refusal: unknown) => {
      known = null
      throw refusal
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
  return {
    username, demo, drums, drumsOffered, starts, beginnings, standing, following, progressions, load, signIn, signUp, openDemo, signOut,
  }
})
