/** Hearing the open clip: round and round over all of it, or between its brackets, as it is edited. */
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import { announce } from '@/app/announce'
import { forgetStruck, hush, LEAD_IN, now, onTick, prepare, soundsWith } from '@/sound/output'
import { useClip } from './clip'
import { drumsOf, strikeStretch } from '@/sound/strikes'

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

  async function play(): Promise<void> {
    const { view } = clip
    if (!view || playing.value) return
    await soundsWith(drumsOf(view))
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
      strikeStretch(view, place, place + long, begun.time + (until * 60) / view.tempo, until)
      until += Math.max(long, 1e-6)
    }
  }
  onTick(tick)
  watch(() => clip.id, stop)
  watch(() => clip.view, (view) => view && playing.value && prepare(drumsOf(view)))
  // Other brackets: it goes on from where it is, or from their start.
  watch(stretch, ([from, to], before) => {
    if (!playing.value || (from === before[0] && to === before[1])) return
    const at = placeAt(Math.max(0, elapsed()), before)
    begun = { time: now(), beat: at >= from && at < to ? at : from }
    until = (AHEAD * (clip.view?.tempo ?? 120)) / 60
  })
  return { playing, beat, beatNow, play, stop, toggle }
})
