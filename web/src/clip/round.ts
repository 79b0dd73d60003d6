/** Hearing the open clip: round and round over all of it, or between its brackets, as it is edited. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import type { ClipView } from '@/api/client'
import { announce } from '@/app/announce'
import { forgetStruck, hush, LEAD_IN, now, onTick, prepare, soundsWith } from '@/sound/output'
import { useClip } from './clip'
import { beatBefore } from './told'
import { paceAt } from '@/sound/pace'
import { begin, end, sounding, type Sounding } from '@/sound/sounding'
import { drumsOf, strikeStretch } from '@/sound/strikes'
import { TimeMap } from '@/sound/timeMap'

/** Notes are scheduled so many seconds before they sound. */
const AHEAD = 0.3

export const useRound = defineStore('round', () => {
  const clip = useClip()
  const playing = ref(false)
  /** The beat of the clip that sounds, as of the last tick. */
  const beat = ref(0)
  /** The clip that is heard: as it is edited; one that was closed meanwhile goes on as it was. */
  const heard = shallowRef<ClipView | null>(null)
  let between: [number, number] | null = null
  let of = 0
  const stretch = computed<[number, number]>(() => (clip.id ? clip.round : between) ?? [
    0, (clip.view ?? heard.value)?.beats ?? 1,
  ])
  const here: Sounding = { what: 'clip', stop }
  /** From the audio clock to beats since play was pressed, and with what is added to them to the clip's own. */
  let map = new TimeMap({ time: 0, beat: 0, tempo: 120, shift: 0 })
  let until = 0 // beats since play was pressed that are scheduled

  async function play(): Promise<void> {
    const { view } = clip
    if (!view || playing.value) return
    begin(here)
    await soundsWith(drumsOf(view))
    if (sounding.value !== here || playing.value) return // stopped before it began
    forgetStruck()
    heard.value = view
    of = clip.id
    const [whole] = stretch.value
    // What a tool would do is heard from a beat before it.
    const from = clip.trying && !clip.round ? Math.max(whole, beatBefore(view, clip.trying.begins)) : whole
    map = new TimeMap({ time: now() + LEAD_IN, beat: 0, tempo: paceAt(view, from).tempo, shift: from })
    until = 0
    playing.value = true
    announce('Playing')
    tick()
  }
  function stop(): void {
    end(here)
    if (!playing.value) return
    playing.value = false
    announce('Stopped')
    hush()
  }
  /** The beat of the clip that sounds at this very moment. */
  function beatNow(): number {
    const time = now()
    const { shift } = map.now(time)
    return Math.max(0, map.beatAt(time)) + shift
  }

  function tick(): void {
    const view = heard.value
    if (!playing.value || !view) return
    const horizon = map.beatAt(now() + AHEAD)
    beat.value = beatNow()
    while (until < horizon - 1e-9) {
      const [from, to] = stretch.value
      // At the end, and where the brackets were moved away, it goes on from their start.
      let place = until + map.last.shift
      if (place >= to - 1e-6 || place < from - 1e-6) map.turn(until, { shift: (place = from) - until })
      const pace = paceAt(view, place)
      if (pace.tempo !== map.last.tempo) map.turn(until, { tempo: pace.tempo })
      const long = Math.min(horizon - until, to - place, Math.max(pace.until - place, 1e-6))
      strikeStretch(view, place, place + long, map.timeOf(until), until, { tempo: pace.tempo })
      until += Math.max(long, 1e-6)
    }
  }
  onTick(tick)
  watch(() => clip.id, (id) => id && id !== of && stop())
  watch(() => [clip.view, clip.round] as const, ([view, round]) => {
    if (!view || !playing.value || clip.id !== of) return
    heard.value = view
    between = round
    prepare(drumsOf(view))
  }, { flush: 'sync' })
  return { playing, beat, heard, beatNow, play, stop }
})
