/**
 * Asking until there is an answer. What is asked this way carries a key, so that asking again, when only
 * the answer was lost, does it once.
 */
import { ref } from 'vue'
import { ask, Refusal } from './client'

const RETRY_MS = 2000

/** Whether the server has not answered lately. */
export const away = ref(false)
/** How many requests that change something are on their way. */
export const unsent = ref(0)

export const newKey = (): string => crypto.randomUUID()

/** Resolves after a while, or as soon as the browser is on a network again. */
export function soon(): Promise<void> {
  return new Promise((resolve) => {
    const done = () => {
      clearTimeout(timer)
      removeEventListener('online', done)
      resolve()
    }
    const timer = setTimeout(done, RETRY_MS)
    addEventListener('online', done)
  })
}

/** The data of a call, made again and again while the server is away; or what the server refuses. */
export async function insist<T>(call: () => Parameters<typeof ask<T>>[0]): Promise<T> {
  unsent.value += 1
  try {
    for (;;) {
      try {
        const data = await ask(call())
        away.value = false
        return data
      } catch (problem) {
        if (!(problem instanceof Refusal && problem.away)) throw problem
        away.value = true
        await soon()
      }
    }
  } finally {
    unsent.value -= 1
  }
}
