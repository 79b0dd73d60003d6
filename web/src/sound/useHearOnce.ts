/** With the transport stopped: hearing one drum, or once what a lane plays. */
import { useLocalStorage } from '@vueuse/core'
import { STATED } from '@/generated/stated'
import { usePattern } from '@/pattern/pattern'
import { levelOf } from './levels'
import { hush, now, sound, soundNow, soundsWith } from './output'
import { sounding } from './sounding'
import { soundAt } from './strikeView'

export function useHearOnce() {
  const pattern = usePattern()
  /** Whether a changed lane is heard once on release. */
  const hearing = useLocalStorage('jolly-hear-changes', false)

  /** Hear one drum, now. */
  async function audition(note: number): Promise<void> {
    await soundsWith([{ by: STATED.firstKit, pitch: note }])
    soundNow({ pitched: false, by: STATED.firstKit, set: {}, pitch: note, channel: 16 }, 0.4)
  }

  /** After a change: hear the chosen lane once, if the switch says so. */
  function hearChange(): void {
    if (hearing.value && pattern.chosen) void hearLane(pattern.chosen)
  }

  /** Hear what a lane plays in the pass that is shown. */
  async function hearLane(laneId: string): Promise<void> {
    const view = pattern.view
    const lane = view?.lanes.find((each) => each.id === laneId)
    if (!view || !lane || sounding.value) return
    await soundsWith(
      lane.kind === 'drum' ? lane.drawn.notes.map(([start, , pitch]) => ({ ...soundAt(lane, start), pitch })) : [],
    )
    hush()
    const from = pattern.start
    const at = now() + 0.1
    const beat = 60 / view.tempo
    for (const [start, length, pitch, velocity, tune] of lane.drawn.notes) {
      if (start < from || start >= from + view.frame_beats) continue
      sound({
        ...soundAt(lane, start), pitched: lane.kind === 'pitched', lane: laneId, pitch, tune, channel: lane.channel, velocity,
        time: at + (start - from) * beat, seconds: length * beat, level: levelOf(pattern.id, lane.id),
      })
    }
  }
  /** Hear a chord, close and from middle C up, with the voice of the chosen lane. */
  async function hearChord(classes: readonly number[]): Promise<void> {
    await soundsWith([])
    const bass = 48 + (classes[0] ?? 0)
    const voice = pattern.lane?.kind === 'pitched' ? pattern.lane.sound : { by: 'pluck', set: {} }
    for (const each of classes) {
      soundNow({ ...voice, pitched: true, pitch: bass + ((each - bass + 120) % 12), channel: 16 }, 0.9)
    }
  }
  /** Hear a key with the sound of the chosen lane, until what is returned is called. */
  async function hearKey(pitch: number, velocity: number): Promise<() => void> {
    const lane = pattern.lane
    const pitched = lane?.kind === 'pitched'
    const voice = lane && lane.kind !== 'control' ? lane.sound : { by: STATED.firstKit, set: {} }
    await soundsWith(pitched ? [] : [{ ...voice, pitch }])
    const stop = sound({
      ...voice, pitched, lane: `key ${pitch}`, pitch, channel: lane?.channel ?? 16, velocity, time: now() + 0.005,
      seconds: 30, level: levelOf(pattern.id, lane?.id ?? ''),
    })
    return () => stop?.(now())
  }
  return { hearKey, hearing, audition, hearChange, hearChord, hearLane }
}
