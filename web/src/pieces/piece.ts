/** The open piece: its name and its patterns. */
import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, ask, type Pattern } from '@/api/client'
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
    const whole = await ask(api.GET('/api/pieces/{piece_id}', { params: { path: { piece_id: piece } } }))
    if (whole.id !== id.value) {
      trail.forget()
      pattern.chosen = null
    }
    id.value = whole.id
    name.value = whole.name
    patterns.value = whole.patterns
    shelf.show(whole.id, whole.shelf)
  }

  async function openPattern(chosen: number): Promise<void> {
    await pattern.open(chosen)
    await trail.open(chosen)
  }

  return { id, name, patterns, open, openPattern }
})
