/** With the transport stopped: hearing one drum, or once what a lane plays. */
import { useLocalStorage } from '@vueuse/core'
import { usePattern } from '@/pattern/pattern'
import { levelOf } from './levels'
import { hush, kitWith, now } from './output'

/** silent: whether nothing else is playing. */
export function useHearOnce(silent: () => boolean) {
  const pattern = usePattern()
  /** Whether a changed lane is heard once on release. */
  const hearing = useLocalStorage('jolly-hear-changes', false)

  /** Hear one drum, now. */
  async function audition(note: number): Promise<void> {
    const kit = await kitWith([note])
    kit.play(note, 16, 100, now() + 0.03, 0.4)
  }

  /** After a change: hear the chosen lane once, if the switch says so. */
  function hearChange(): void {
    if (hearing.value && pattern.chosen) void hearLane(pattern.chosen)
  }

  /** Hear what a lane plays in the pass that is shown. */
  async function hearLane(laneId: string): Promise<void> {
    const view = pattern.view
    const lane = view?.lanes.find((each) => each.id === laneId)
    if (!view || !lane || !silent()) return
    const kit = await kitWith(lane.drawn.notes.map(([, , pitch]) => pitch))
    hush()
    const from = pattern.start
    const at = now() + 0.1
    const beat = 60 / view.tempo
    for (const [start, length, pitch, velocity] of lane.drawn.notes) {
      if (start < from || start >= from + view.frame_beats) continue
      kit.play(pitch, lane.channel, velocity, at + (start - from) * beat, length * beat, levelOf(pattern.id, lane.id))
    }
  }
  return { hearing, audition, hearChange }
}
