/** Sentences for the user, one at a time, each with at most one thing to do about it. */
import { defineStore } from 'pinia'
import { ref } from 'vue'
import { Refusal } from '@/api/client'

export interface Notice {
  text: string
  action?: { label: string; run: () => void }
  /** Stays until it is answered. */
  lasting?: boolean
}

export const useNotices = defineStore('notices', () => {
  const current = ref<Notice | null>(null)
  /** How many were said so far. */
  const said = ref(0)

  function say(text: string, action?: Notice['action'], lasting = false): void {
    said.value += 1
    current.value = { text, action, lasting }
  }
  /** Say what went wrong. */
  function trouble(problem: unknown): void {
    say(problem instanceof Refusal ? problem.message : 'Something went wrong here; load the page again.')
    if (!(problem instanceof Refusal)) console.error(problem)
  }
  /** Do something; what goes wrong is said. Resolves to whether it was done. */
  async function attempt(action: () => Promise<unknown>): Promise<boolean> {
    try {
      await action()
      return true
    } catch (problem) {
      trouble(problem)
      return false
    }
  }
  /** Say that something is gone, and offer to bring it back. */
  function sayGone(text: string, restore: () => Promise<unknown>): void {
    say(text, { label: 'Bring it back', run: () => void attempt(restore) })
  }
  function dismiss(): void {
    current.value = null
  }
  return { current, said, say, trouble, attempt, sayGone, dismiss }
})
