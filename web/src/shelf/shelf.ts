/** The Shelf of the open piece: its clips, and what Keep does. */
import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, ask, type Clip, type KeepIn } from '@/api/client'
import { insist, newKey } from '@/api/insist'
import { wasTried } from '@/app/firstMinute'
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'
import { useTrail } from '@/pattern/trail'

export const useShelf = defineStore('shelf', () => {
  const notices = useNotices()
  const pattern = usePattern()
  const trail = useTrail()
  /** The piece whose clips these are. */
  const piece = ref(0)
  const clips = ref<Clip[]>([])

  function show(pieceId: number, shelf: Clip[]): void {
    piece.value = pieceId
    clips.value = shelf
  }

  async function keep(body: Omit<KeepIn, 'revision'>): Promise<void> {
    const params = { path: { pattern_id: pattern.id } }
    const wanted = { revision: pattern.revision, key: newKey(), ...body }
    const of = piece.value
    await notices.attempt(async () => {
      const clip = await insist(() => api.POST('/api/patterns/{pattern_id}/keep', { params, body: wanted }))
      if (of !== piece.value) return
      clips.value = [clip, ...clips.value.filter((each) => each.id !== clip.id)]
      trail.markKept(body.passes ?? [])
      wasTried('keep')
      notices.say(`Kept as “${clip.name}”.`)
    })
  }

  async function rename(clip: Clip, to: string): Promise<void> {
    const params = { path: { clip_id: clip.id } }
    await notices.attempt(async () => {
      const renamed = await ask(api.PATCH('/api/clips/{clip_id}', { params, body: { name: to } }))
      clips.value = clips.value.map((each) => (each.id === clip.id ? renamed : each))
    })
  }

  async function remove(clip: Clip): Promise<void> {
    const params = { path: { clip_id: clip.id } }
    if (!(await notices.attempt(() => ask(api.DELETE('/api/clips/{clip_id}', { params }))))) return
    const place = clips.value.indexOf(clip)
    clips.value = clips.value.filter((each) => each.id !== clip.id)
    notices.sayGone(`“${clip.name}” is off the Shelf.`, async () => {
      const back = await ask(api.POST('/api/clips/{clip_id}/restore', { params }))
      clips.value = clips.value.toSpliced(place, 0, back)
    })
  }

  return { piece, clips, show, keep, rename, remove }
})
