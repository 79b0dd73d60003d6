/** A lane becomes a starting recipe of the musician's own, as it stands with what is tried out. */
import { api, ask, type Schemas } from '@/api/client'
import { usePattern } from '@/pattern/pattern'

export async function saveStart(lane: string, name: string): Promise<Schemas['LibraryOut']> {
  const { id, revision, tried } = usePattern()
  return ask(
    api.POST('/api/library', { body: { pattern: id, revision, edits: tried, lane, name, with_chords: false } }),
  )
}
