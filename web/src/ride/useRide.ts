/**
 * Riding a lane: while it plays, it slides through step lengths and becomes more or less human. What is
 * tried out is a rate path, so what is heard is exactly what can be laid into the recipe afterwards.
 */
import { computed, ref } from 'vue'
import type { Edit } from '@/api/client'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'

export const PACES = ['1/8', '1/12', '1/16', '1/24', '1/32', '1/48', '1/64']
/** A new pace takes over on a quarter of a beat. */
const GRID = 4

interface Stretch {
  /** In quarters of a beat from the frame's start. */
  from: number
  to: number
  step: string
  human: number
}

export function useRide(lane: () => string) {
  const pattern = usePattern()
  const player = usePlayer()
  const riding = ref(false)
  const ridden = ref<Stretch[]>([])
  let before: Stretch[] = []
  let now: Stretch[] = []
  let pass = -1

  const frame = () => Math.round((pattern.view?.frame_beats ?? 4) * GRID)
  const edits = (path: Stretch[]): Edit[] => [
    { do: 'lay_path', lane: lane(), path: [] },
    {
      do: 'lay_path', lane: lane(), path: path.map(({ from, to, step, human }) => ({
        start: `${from}/${GRID}`, beats: `${to - from}/${GRID}`, step, human,
      })),
    },
  ]

  /** Take this pace and this human from the next quarter beat on. */
  function steer(step: string, human: number): void {
    if (!player.playing) return
    const at = Math.ceil(player.scheduledBeat() * GRID + 1e-6)
    const length = frame()
    const passing = Math.floor(at / length)
    const from = at - passing * length
    if (!riding.value) {
      before = now = []
      riding.value = true
    } else if (passing !== pass) {
      const last = now.at(-1)
      before = now
      now = last && from > 0 ? [{ ...last, from: 0, to: length }] : []
    }
    pass = passing
    const kept = now.filter((stretch) => stretch.from < from).map((stretch) => ({
      ...stretch, to: Math.min(stretch.to, from),
    }))
    const same = kept.at(-1)
    if (same && same.to === from && same.step === step && same.human === human) same.to = length
    else kept.push({ from, to: length, step, human })
    now = kept
    void pattern.preview(edits(now))
  }

  /** Let go: the recipe is as before, and what was ridden waits to be laid in. */
  function letGo(): void {
    if (!riding.value) return
    riding.value = false
    const length = frame()
    const at = Math.ceil(player.scheduledBeat() * GRID) % length
    // After this place the pass before is the last that was ridden there.
    const rest = before.filter((stretch) => stretch.to > at).map((stretch) => ({
      ...stretch, from: Math.max(stretch.from, at),
    }))
    ridden.value = rest.length
      ? [
        ...now.filter((stretch) => stretch.from < at).map((stretch) => ({ ...stretch, to: Math.min(stretch.to, at) })),
        ...rest,
      ]
      : now
    void pattern.preview([])
  }
  async function layIn(): Promise<void> {
    if (await pattern.commit(edits(ridden.value))) ridden.value = []
  }
  const words = computed(
    () => ridden.value.map((stretch) => `${stretch.step} for ${(stretch.to - stretch.from) / GRID}`).join(', '),
  )
  return { riding, ridden, words, steer, letGo, layIn }
}
