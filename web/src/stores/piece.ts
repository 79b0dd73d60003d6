/** The piece on the screen: its patterns and its Shelf, and what Keep does. */
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api, ask, type Clip, type HeardPass, type KeepIn, type Pattern, type TrailPass } from '@/api/client'
import { insist, newKey } from '@/api/insist'
import { wasTried } from '@/app/firstMinute'
import { useNotices } from './notices'
import { usePattern } from './pattern'

export const usePiece = defineStore('piece', () => {
  const notices = useNotices()
  const pattern = usePattern()
  const id = ref(0)
  const name = ref('')
  const patterns = ref<Pattern[]>([])
  const shelf = ref<Clip[]>([])
  const trail = ref<TrailPass[]>([])
  /** The newest pass that was heard to its end. */
  const lastWhole = computed(() => trail.value.findLast((pass) => pass.beats >= pattern.frame - 1e-6) ?? null)
  const waiting: { pattern: number; heard: HeardPass }[] = []
  /** How many passes are still on their way to the Trail. */
  const unsent = ref(0)
  let sending = false

  async function open(piece: number): Promise<void> {
    const whole = await ask(api.GET('/api/pieces/{piece_id}', { params: { path: { piece_id: piece } } }))
    id.value = whole.id
    name.value = whole.name
    patterns.value = whole.patterns
    shelf.value = whole.shelf
  }

  async function openPattern(chosen: number): Promise<void> {
    await pattern.open(chosen)
    trail.value = await ask(
      api.GET('/api/patterns/{pattern_id}/trail', { params: { path: { pattern_id: chosen } } }),
    )
  }

  /** Put a pass that was just heard on the Trail; it waits here while the server is away. */
  function heard(patternId: number, pass: HeardPass): void {
    waiting.push({ pattern: patternId, heard: pass })
    unsent.value = waiting.length
    void sendPasses()
  }

  async function sendPasses(): Promise<void> {
    if (sending) return
    sending = true
    try {
      for (let next = waiting[0]; next; next = waiting[0]) {
        const { pattern: to, heard: body } = next
        await pattern.quiet()
        const params = { path: { pattern_id: to } }
        await notices.attempt(async () => {
          const entry = await insist(() => api.POST('/api/patterns/{pattern_id}/trail', { params, body }))
          if (to === pattern.id) trail.value = [...trail.value, entry].slice(-200)
        })
        waiting.shift()
        unsent.value = waiting.length
      }
    } finally {
      sending = false
    }
  }

  async function keep(body: Omit<KeepIn, 'revision'>): Promise<void> {
    const params = { path: { pattern_id: pattern.id } }
    const wanted = { revision: pattern.revision, key: newKey(), ...body }
    const of = id.value
    await notices.attempt(async () => {
      const clip = await insist(() => api.POST('/api/patterns/{pattern_id}/keep', { params, body: wanted }))
      if (of !== id.value) return
      shelf.value = [clip, ...shelf.value.filter((each) => each.id !== clip.id)]
      const kept = new Set(body.passes)
      trail.value = trail.value.map((each) => (kept.has(each.id) ? { ...each, kept: true } : each))
      wasTried('keep')
      notices.say(`Kept as “${clip.name}”.`)
    })
  }

  async function renameClip(clip: Clip, to: string): Promise<void> {
    const params = { path: { clip_id: clip.id } }
    await notices.attempt(async () => {
      const renamed = await ask(api.PATCH('/api/clips/{clip_id}', { params, body: { name: to } }))
      shelf.value = shelf.value.map((each) => (each.id === clip.id ? renamed : each))
    })
  }

  async function deleteClip(clip: Clip): Promise<void> {
    const params = { path: { clip_id: clip.id } }
    if (!(await notices.attempt(() => ask(api.DELETE('/api/clips/{clip_id}', { params }))))) return
    const place = shelf.value.indexOf(clip)
    shelf.value = shelf.value.filter((each) => each.id !== clip.id)
    notices.sayGone(`“${clip.name}” is off the Shelf.`, async () => {
      const back = await ask(api.POST('/api/clips/{clip_id}/restore', { params }))
      shelf.value = shelf.value.toSpliced(place, 0, back)
    })
  }

  return { id, name, patterns, shelf, trail, unsent, lastWhole, open, openPattern, heard, keep, renameClip, deleteClip }
})
