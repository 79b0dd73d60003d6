/**
 * A lane's sentence that is being written: picture and sound follow each text that can be read, what cannot be read is
 * known by its place, and what may come next at the caret. The answer to what was typed last is what counts.
 */
import { onScopeDispose, ref, shallowRef } from 'vue'
import { api, ask, type Edit, type Schemas } from '@/api/client'
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'

export function useWriting(lane: string) {
  const pattern = usePattern()
  const player = usePlayer()
  const notices = useNotices()
  const text = ref('')
  const wrong = shallowRef<Schemas['WrongOut'] | null>(null)
  const coming = shallowRef<Schemas['Coming'][]>([])
  let laidIn = false
  let over = false
  let said = ''
  const edits = (): Edit[] => [{ do: 'write', lane, text: text.value }]

  /** The sentence as it stands; false where it could not be had. */
  async function begin(): Promise<boolean> {
    const params = { path: { pattern_id: pattern.id }, query: { lanes: lane, headed: false } }
    return notices.attempt(async () => {
      said = (await ask(api.GET('/api/patterns/{pattern_id}/text', { params }))).text
      text.value ||= said // what was typed meanwhile stays
    })
  }
  let asking: Promise<void> | null = null
  let wanted: number | null = null
  /** What was looked at last, with the caret where it was: what is told is told of this. */
  let known: { text: string; caret: number } | null = null
  /** Look at what is written, with the caret at a place; resolves when all that is written has been looked at. */
  function look(caret: number): Promise<void> {
    if (!asking && known?.text === text.value && known.caret === caret) return Promise.resolve()
    wanted = caret
    asking ??= tellOf().finally(() => (asking = null))
    return asking
  }
  async function tellOf(): Promise<void> {
    try {
      while (wanted !== null) {
        const at = wanted
        wanted = null
        const body = { revision: pattern.revision, edits: [], lane, text: text.value, caret: at }
        const params = { path: { pattern_id: pattern.id } }
        const written = text.value
        const told = await ask(api.POST('/api/patterns/{pattern_id}/writing', { params, body }))
        known = { text: written, caret: at }
        wrong.value = told.wrong
        coming.value = told.coming
        if (over) return
        if (!told.wrong && written === text.value) void pattern.preview(written === said ? [] : edits())
      }
    } catch {
      known = null
      coming.value = [] // what is written stays; the next key asks again
    }
  }
  /** Let the lane say it; resolves to whether it does now. */
  async function layIn(): Promise<boolean> {
    laidIn = text.value === said || await pattern.commit(edits())
    if (laidIn) player.hearChange()
    return laidIn
  }
  onScopeDispose(() => {
    over = true
    if (!laidIn) void pattern.preview([])
  })
  return { text, wrong, coming, begin, look, layIn }
}
