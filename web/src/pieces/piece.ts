/** The open piece: its name and its patterns. */
import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, ask, type Pattern, type PieceWhole } from '@/api/client'
import { stillWaits } from '@/app/pictures'
import { usePattern } from '@/pattern/pattern'
import { useTrail } from '@/pattern/trail'
import { useShelf } from '@/shelf/shelf'

export const usePiece = defineStore('piece', () => {
  const pattern = usePattern()
  const trail = useTrail()
  const shelf = useShelf()
  const id = ref(0)
  const name = ref('')
  const patterns = ref<Pattern[]>([])

  async function open(piece: number): Promise<void> {
    show(await ask(api.GET('/api/pieces/{piece_id}', { params: { path: { piece_id: piece } } })))
    void drawn()
  }
  function show(whole: Omit<PieceWhole, 'tempo' | 'meter' | 'clips'>): void {
    if (whole.id !== id.value) {
      trail.forget()
      pattern.chosen = null
    }
    id.value = whole.id
    name.value = whole.name
    patterns.value = whole.patterns
    shelf.show(whole.id, whole.shelf)
  }
  /** The pictures of patterns that were not drawn yet. */
  async function drawn(): Promise<void> {
    const of = id.value
    while ((await stillWaits(patterns.value)) && id.value === of) {
      const whole = await ask(
        api.GET('/api/pieces/{piece_id}', { params: { path: { piece_id: of } } }),
      ).catch(() => null)
      if (!whole || id.value !== of) return
      const pictures = new Map(whole.patterns.map((each) => [each.id, each.thumb]))
      patterns.value = patterns.value.map((each) => ({
        ...each, thumb: pictures.get(each.id) ?? { ...each.thumb, waits: false },
      }))
    }
  }

  async function openPattern(chosen: number): Promise<void> {
    await pattern.open(chosen)
    await trail.open(chosen)
  }

  return { id, name, patterns, open, show, openPattern }
})
