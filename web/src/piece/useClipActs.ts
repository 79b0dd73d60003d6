/** What can be done with a clip as a whole, wherever it is shown. */
import { useRouter } from 'vue-router'
import { api, ask, type Clip, type Pattern } from '@/api/client'
import { insist, newKey } from '@/api/insist'
import { useNotices } from '@/app/notices'
import type { Entry } from '@/app/PickMenu.vue'
import { usePiece } from '@/pieces/piece'
import { beside } from '@/sound/beside'
import { usePlayer } from '@/sound/player'
import { prepare } from '@/sound/output'
import { drumsOf } from '@/sound/strikes'
import { useFills } from './useFills'

/** `draw` asks how a clip is to be drawn as a picture. */
export function useClipActs(draw: (clip: Clip) => void) {
  const notices = useNotices()
  const piece = usePiece()
  const player = usePlayer()
  const router = useRouter()
  const fills = useFills()

  /** Show a pattern that was made. */
  async function show(pattern: Pattern | null | undefined, remarks: string[]): Promise<void> {
    if (!pattern) return
    piece.patterns = [...piece.patterns, pattern]
    await router.push({ name: 'piece', params: { piece: piece.id, pattern: pattern.id } })
    notices.say(`“${pattern.name}” is a pattern now. ${remarks.join(' ')}`)
  }
  const makeLanes = (clip: Clip) => notices.attempt(async () => {
    const params = { path: { clip_id: clip.id } }
    const body = { key: newKey() }
    const told = await insist(() => api.POST('/api/clips/{clip_id}/lanes', { params, body }))
    await show(told.pattern, told.remarks)
  })
  const openRecipe = (clip: Clip) => notices.attempt(async () => {
    const params = { path: { clip_id: clip.id } }
    const body = { key: newKey() }
    const made = await insist(() => api.POST('/api/clips/{clip_id}/recipe', { params, body }))
    await show(made, [])
  })
  /** Hear a clip with the pattern from the next bar on, or in place of the lanes that it came from. */
  const hear = (clip: Clip, instead: boolean) => notices.attempt(async () => {
    const { view } = await ask(api.GET('/api/clips/{clip_id}/state', { params: { path: { clip_id: clip.id } } }))
    beside.value = { id: clip.id, view, instead, from: null }
    if (router.currentRoute.value.query.clip) await router.push({ query: {} })
    if (player.playing) prepare(drumsOf(view))
    else await player.play(drumsOf(view))
  })
  const endHearing = () => (beside.value = null)

  /** The entries of a clip's menu that make something of it or let it be heard. */
  function entries(clip: Clip): Entry[] {
    const now = beside.value?.id === clip.id ? beside.value : null
    return [
      now && !now.instead
        ? { title: 'Hear it no more', run: endHearing }
        : { title: 'Hear with the pattern', about: 'from the next bar on', run: () => void hear(clip, false) },
      now?.instead ? { title: 'Hear its lanes again', run: endHearing } : {
        title: 'Hear in place of its lanes', about: 'those are silent meanwhile', run: () => void hear(clip, true),
      },
      { title: 'Play it as a fill', about: 'in the last of every 4 passes', run: () => void fills.playAsFill(clip) },
      { title: 'Make lanes of it', about: 'as a new pattern', apart: true, run: () => void makeLanes(clip) },
      {
        title: 'Open its recipe', about: clip.recipe ? 'the lanes as they were then' : 'it came in as notes',
        disabled: !clip.recipe, run: () => void openRecipe(clip),
      },
      { title: 'Draw as a picture …', run: () => draw(clip) },
    ]
  }
  return { entries }
}
