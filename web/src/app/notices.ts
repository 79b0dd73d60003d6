/** Sentences for the user, one at a time, each with at most one thing to do about it; they go by themselves. */
import { defineStore } from 'pinia'
import { ref } from 'vue'
import { Refusal } from '@/api/client'

export interface Notice {
  text: string
  action?: { label: string; run: () => void }
}

const SHOWN_MS = 7000
/** What is longer, or asks for something, stays longer. */
const LONGER_MS = 16000
const LONG = 90
/** Nothing is so short in sight that it cannot be noticed. */
const LEAST_MS = 1200

export const useNotices = defineStore('notices', () => {
  const current = ref<Notice | null>(null)
  let since = 0
  let timer: ReturnType<typeof setTimeout> | undefined

  function say(text: string, action?: Notice['action']): void {
    current.value = { text, action }
    since = performance.now()
    stay()
  }
  /** It stays for its time, from now on. */
  function stay(): void {
    clearTimeout(timer)
    timer = setTimeout(
      dismiss, current.value?.action || (current.value?.text.length ?? 0) > LONG ? LONGER_MS : SHOWN_MS,
    )
  }
  /** It is being read, or is about to be answered. */
  const hold = () => clearTimeout(timer)
  /** Something else is being done: it goes, as soon as it could be noticed. */
  function passBy(): void {
    if (!current.value) return
    clearTimeout(timer)
    timer = setTimeout(dismiss, Math.max(0, since + LEAST_MS - performance.now()))
  }
  /** Say what went wrong. */
  function trouble(problem: unknown): void {
    if (problem instanceof Refusal && problem.status === 401) {
      const next = location.pathname + location.search
      const run = () => location.assign(`/door?${new URLSearchParams({ next }).toString()}`)
      return say('You are signed in here no more; nothing is stored until you are.', { label: 'Sign in', run })
    }
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
    clearTimeout(timer)
    current.value = null
  }
  return { current, say, stay, hold, passBy, trouble, attempt, sayGone, dismiss }
})
