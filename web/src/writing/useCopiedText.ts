/** Lanes and patterns copied as text, to be sent in a letter or pasted here again. */
import { api, ask } from '@/api/client'
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'

export function useCopiedText() {
  const pattern = usePattern()
  const notices = useNotices()

  /** Copy lanes of the pattern, in the order in which they stand; none named: the whole pattern. */
  async function copyText(ids: string[] = []): Promise<void> {
    const lanes = pattern.inOrder(ids)
    const params = { path: { pattern_id: pattern.id }, query: { lanes: lanes.join(',') } }
    await notices.attempt(async () => {
      const { text } = await ask(api.GET('/api/patterns/{pattern_id}/text', { params }))
      pattern.copied = null // what is pasted next is this
      try {
        await navigator.clipboard.writeText(text)
        notices.say('Copied as text: send it, or paste it on a lattice.')
      } catch {
        notices.say('The browser did not let it be copied; allow the clipboard for this page.')
      }
    })
  }
  return { copyText }
}
