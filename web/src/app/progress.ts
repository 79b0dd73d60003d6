/** Long work: what is being done, how far it is, and how to stop it. */
import { defineStore } from 'pinia'
import { ref } from 'vue'

export interface Work {
  what: string
  done: number
  /** How much there is to do; 0: nobody knows. */
  of: number
  stop: () => void
}

export const useProgress = defineStore('progress', () => {
  const work = ref<Work | null>(null)

  /**
   * Do something to each of several things, one after another, until it is stopped; resolves to what was made of those
   * that were reached.
   */
  async function each<T, R>(what: string, things: readonly T[], act: (thing: T) => Promise<R>): Promise<R[]> {
    let stopped = false
    const made: R[] = []
    try {
      for (const [done, thing] of things.entries()) {
        if (stopped) break
        work.value = { what, done, of: things.length, stop: () => (stopped = true) }
        made.push(await act(thing))
      }
    } finally {
      work.value = null
    }
    return made
  }
  return { work, each }
})
