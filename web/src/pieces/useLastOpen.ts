/** Keeps what is open in this browser, and opens it as it was while the server is away. */
import { watchDebounced } from '@vueuse/core'
import { onBeforeUnmount } from 'vue'
import { api, Refusal } from '@/api/client'
import { away, insist } from '@/api/insist'
import { keepOpen, lastOpen } from '@/app/lastOpen'
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'
import type { KeptSight } from '@/pattern/sight'
import { useSession } from '@/session/session'
import { useShelf } from '@/shelf/shelf'
import { usePiece } from './piece'

/** What changes is kept so much later, so that it disturbs no hand. */
const LATER_MS = 1500

/** `again`: opens what the address names anew, once the server is back. */
export function useLastOpen(again: () => void) {
  const piece = usePiece()
  const pattern = usePattern()
  const shelf = useShelf()
  const notices = useNotices()
  const session = useSession()
  let left = false
  onBeforeUnmount(() => (left = true))

  function keep(): void {
    const sight = pattern.kept()
    if (!sight || !piece.patterns.some(({ id }) => id === sight.id) || shelf.piece !== piece.id) return
    const { id, name, patterns } = piece
    void keepOpen({ owner: session.username, piece: { id, name, patterns, shelf: shelf.clips }, sight })
  }
  watchDebounced(
    () => [pattern.id, pattern.revision, piece.name, piece.patterns, shelf.clips], keep, { debounce: LATER_MS },
  )

  /** Whether a piece that could not be opened, since the server is away, is shown as it was last. */
  async function bringBack(problem: unknown, wanted: number): Promise<boolean> {
    if (!(problem instanceof Refusal && problem.away)) return false
    const was = await lastOpen<KeptSight>(session.username)
    if (!was || was.piece.id !== wanted || left) return false
    away.value = true
    piece.show(was.piece)
    pattern.bringBack(was.sight)
    notices.say(`The server is away: this is “${was.piece.name}” as it was last. It plays on what is here.`)
    void insist(() => api.GET('/api/session')).then(() => left || again())
    return true
  }
  return { bringBack }
}
