/** Hearing the open clip: round and round over all of it, or between its brackets, as it is edited. */
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import type { ClipView } from '@/api/client'
import { announce } from '@/app/announce'
import { forgetStruck, hush, LEAD_IN, now, onTick, prepare, soundsWith, strike, turn } from '@/sound/output'
import { useClip } from './clip'

/** Notes are scheduled so many seconds before they sound. */
const AHEAD = 0.3

export const useRound = defineStore('round', () => {
  const clip = useClip()
  const playing = ref(false)
  /** The beat of the clip that sounds, as of the last tick. */
  const beat = ref(0)
  const stretch = computed<[number, number]>(() => clip.round ?? [0, clip.view?.beats ?? 1])
  let begun = { time: 0, beat: 0 } // when the place `beat` of the stretch sounds
  let until = 0 // beats since then that are scheduled

  const drums = (view: ClipView) => view.lanes.flatMap((lane) => lane.kind === 'drum' ? Object.keys(lane.drums).map((pitch) => ({ ...lane.sound, pitch: Number(pitch) })) : [])

  async function play(): Promise<void> {
    const { view } = clip
    if (!view || playing.value) return
    await soundsWith(drums(view))
    forgetStruck()
    begun = { time: now() + LEAD_IN, beat: stretch.value[0] }
    until = 0
    playing.value = true
    announce('Playing')
    tick()
  }
  function stop(): void {
    if (!playing.value) return
    playing.value = false
    announce('Stopped')
    hush()
  }
  const toggle = () => (playing.value ? stop() : void play())

  /** The place in the clip after so many beats of playing, round and round in a stretch. */
  function placeAt(beats: number, [from, to] = stretch.value): number {
    const long = to - from
    return from + ((((begun.beat - from + beats) % long) + long) % long)
  }
  const elapsed = () => ((now() - begun.time) * (clip.view?.tempo ?? 120)) / 60
  /** The beat of the clip that sounds at this very moment. */
  const beatNow = () => placeAt(Math.max(0, elapsed()))

  function tick(): void {
    const { view } = clip
    if (!playing.value || !view) return
    const horizon = elapsed() + (AHEAD * view.tempo) / 60
    beat.value = beatNow()
    while (until < horizon - 1e-9) {
      const place = placeAt(until)
      const long = Math.min(horizon - until, stretch.value[1] - place)
      schedule(view, place, place + long, begun.time + (until * 60) / view.tempo)
      until += Math.max(long, 1e-6)
    }
  }
  function schedule(view: ClipView, from: number, to: number, time: number): void {
    const seconds = 60 / view.tempo
    for (const [at, number, value, row] of view.changes) {
      const lane = view.lanes[row]
      if (lane && at >= from - 1e-9 && at < to - 1e-9) {
        turn({ owner: 0, lane: lane.id, channel: lane.channel, number, value, beat: at, time: time + (at - from) * seconds })
      }
    }
    for (const [start, length, pitch, velocity, row] of view.notes) {
      if (start < from - 1e-9 || start >= to - 1e-9) continue
      const lane = view.lanes[row]
      if (!lane) continue
      strike({
        ...lane.sound, owner: 0, pitched: lane.kind === 'pitched', lane: lane.id, pitch, velocity, channel: lane.channel, beat: until + start - from, length,
        time: time + (start - from) * seconds, seconds: length * seconds, level: 100,
      })
    }
  }
  onTick(tick)
  watch(() => clip.id, stop)
  watch(() => clip.view, (view) => view && playing.value && prepare(drums(view)))
  // Other brackets: it goes on from where it is, or from their start.
  watch(stretch, ([from, to], before) => {
    if (!playing.value || (from === before[0] && to === before[1])) return
    const at = placeAt(Math.max(0, elapsed()), before)
    begun = { time: now(), beat: at >= from && at < to ? at : from }
    until = (AHEAD * (clip.view?.tempo ?? 120)) / 60
  })
  return { playing, beat, beatNow, play, stop, toggle }
})
