/** What is refused in a form stands in it; all else that goes wrong is said as everywhere. */
import { ref } from 'vue'
import { Refusal } from '@/api/client'
import { useNotices } from '@/app/notices'

export function useRefusal() {
  const notices = useNotices()
  const wrong = ref('')
  async function attempt(action: () => Promise<unknown>): Promise<void> {
    wrong.value = ''
    try {
      await action()
    } catch (problem) {
      if (problem instanceof Refusal && problem.status !== 401) wrong.value = problem.message
      else notices.trouble(problem)
    }
  }
  return { wrong, attempt }
}
