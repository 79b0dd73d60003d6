/** Fills: made of what plays, or a clip that plays as one; each is shown where it comes, and can be heard there. */
import { nextTick } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Clip, type Edit } from '@/api/client'
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'

type AddFill = Extract<Edit, { do: 'add_fill' }>
/** A fill that is made comes in the last of so many passes. */
const EVERY = 4
const THROWS = 1000

export function useFills() {
  const notices = useNotices()
  const pattern = usePattern()
  const player = usePlayer()
  const router = useRouter()

  /** From a beat before a place on. */
  async function hear(place: number): Promise<void> {
    player.stop()
    const from = Math.max(0, place - pattern.beat)
    pattern.turnTo(from)
    await pattern.look()
    await player.play([], from)
  }
  async function lay(edit: Edit, every: number, bars: number, what: string): Promise<void> {
    if (!(await pattern.commit([edit]))) return
    const begin = every * pattern.frame - bars * pattern.bar
    if (!player.playing) pattern.turnTo(begin)
    notices.say(`${what} in every ${every}th pass.`, { label: 'Hear it', run: () => void hear(begin) })
  }
  /** Stir the last bar of every fourth pass, otherwise each time that it is asked for. */
  const make = () => notices.attempt(() => lay(
    { do: 'make_fill', every: EVERY, throw: Math.floor(Math.random() * THROWS) }, EVERY, 1, 'The last bar is a fill',
  ))
  const playAsFill = (clip: Clip) => notices.attempt(async () => {
    if (router.currentRoute.value.query.clip) await router.push({ query: {} })
    await nextTick()
    const asked = { pattern: pattern.id, revision: pattern.revision }
    const told: AddFill = await ask(api.POST('/api/clips/{clip_id}/fill', { params: { path: { clip_id: clip.id } }, body: asked }))
    await lay(told, told.every ?? EVERY, told.bars ?? 1, `“${clip.name}” plays as a fill`)
  })
  return { make, playAsFill }
}
