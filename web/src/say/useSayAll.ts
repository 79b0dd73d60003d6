/** Every lane of a pattern said in the shortest way that plays the same: one change in all, as far as it came. */
import { api, ask, type Edit } from '@/api/client'
import { useNotices } from '@/app/notices'
import { useProgress } from '@/app/progress'
import { usePattern } from '@/pattern/pattern'

export function useSayAll() {
  const pattern = usePattern()
  const progress = useProgress()
  const notices = useNotices()

  async function sayAll(of: number): Promise<void> {
    const ready = () => pattern.id === of && pattern.view !== null
    for (let tries = 0; tries < 100 && !ready(); tries += 1) await new Promise((go) => setTimeout(go, 50))
    if (!ready()) return
    const revision = pattern.revision
    const lanes = pattern.view?.lanes.map(({ id }) => id) ?? []
    await notices.attempt(async () => {
      const found = await progress.each<string, Edit | null>('Saying the lanes shorter', lanes, async (lane) => {
        const [shortest] = await ask(
          api.POST('/api/patterns/{pattern_id}/say', { params: { path: { pattern_id: of } }, body: { revision, lane } }),
        )
        return shortest && !shortest.plain ? { do: 'say', said: shortest.lane } : null
      })
      const edits = found.filter((edit) => edit !== null)
      if (edits.length && pattern.id === of && pattern.revision === revision) await pattern.commit(edits)
    })
  }
  return { sayAll }
}
