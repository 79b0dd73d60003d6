/** Hearing a shared pattern, pass after pass, as its views come; nothing of it is stored. */
import { onScopeDispose, ref, shallowRef } from 'vue'
import type { View } from '@/api/client'
import { announce } from '@/app/announce'
import { hush, LEAD_IN, now, onTick, soundsWith } from '@/sound/output'
import { begin, end, sounding, type Sounding } from '@/sound/sounding'
import { drumsIn, Standing, strikeView, type Heard } from '@/sound/strikeView'

/** Notes are scheduled so many seconds before they sound. */
const AHEAD = 0.4
/** What is not there in time is waited for. */
const TOO_LATE = 0.05

/** `passOf`: the view of a pass, from 0; `trouble`: what is done where it cannot be had. */
export function useSharedPlayer(passOf: (pass: number) => Promise<View>, trouble: (problem: unknown) => void) {
  const playing = ref(false)
  /** The pass that sounds, and the beat of it as of the last tick. */
  const heard = shallowRef<{ pass: number; view: View } | null>(null)
  const beat = ref(0)
  const standing = new Standing()
  const known = new Map<number, View>()
  const asked = new Set<number>()
  let begun: { time: number; pass: number; view: View }[] = []
  let next = { time: 0, pass: 0 }
  let until = 0 // of the pass that is being scheduled, in its own beats
  const here: Sounding = { what: 'pattern', stop }

  async function play(): Promise<void> {
    if (playing.value) return
    begin(here)
    try {
      const first = await ask(0)
      await soundsWith(drumsIn(first))
    } catch (problem) {
      end(here)
      return trouble(problem)
    }
    if (sounding.value !== here || playing.value) return // stopped before it began
    standing.clear()
    begun = []
    next = { time: now() + LEAD_IN, pass: 0 }
    playing.value = true
    announce('Playing')
    tick()
  }
  function stop(): void {
    end(here)
    if (!playing.value) return
    playing.value = false
    heard.value = null
    announce('Stopped')
    hush()
  }
  async function ask(pass: number): Promise<View> {
    asked.add(pass)
    const view = known.get(pass) ?? await passOf(pass)
    known.set(pass, view)
    return view
  }
  /** How a pass that begins at a time is heard. */
  const heardFrom = (view: View, time: number): Heard => {
    const seconds = 60 / view.tempo
    return { owner: 0, beatOf: (own) => own, timeOf: (own) => time + (own - view.start) * seconds, scale: 1, seconds }
  }
  function tick(): void {
    if (!playing.value) return
    const last = begun.at(-1)
    const horizon = now() + AHEAD
    if (last) {
      const { view, time } = last
      const to = Math.min(view.end, view.start + ((horizon - time) * view.tempo) / 60)
      if (to > until) {
        const how = heardFrom(view, time)
        standing.turnIn(view, until, to, how)
        strikeView(view, until, to, how)
        until = to
      }
    }
    if (!last || until >= last.view.end - 1e-9) beginNext(horizon)
    follow()
  }
  function beginNext(horizon: number): void {
    if (next.time > horizon) return
    const view = known.get(next.pass)
    if (!view) {
      if (!asked.has(next.pass)) ask(next.pass).catch((problem: unknown) => (stop(), trouble(problem)))
      return
    }
    const time = Math.max(next.time, now() + TOO_LATE)
    begun = [...begun.slice(-1), { time, pass: next.pass, view }]
    until = view.start
    standing.begin(view, view.start, heardFrom(view, time))
    next = { time: time + ((view.end - view.start) * 60) / view.tempo, pass: next.pass + 1 }
    void ask(next.pass).catch(() => asked.delete(next.pass))
    known.delete(next.pass - 3)
    asked.delete(next.pass - 3)
    tick()
  }
  function follow(): void {
    const at = begun.findLast(({ time }) => time <= now())
    if (!at) return
    if (heard.value?.pass !== at.pass) heard.value = { pass: at.pass, view: at.view }
    beat.value = at.view.start + ((now() - at.time) * at.view.tempo) / 60
  }
  function forget(): void {
    stop()
    known.clear()
    asked.clear()
  }
  const off = onTick(tick)
  onScopeDispose(() => {
    forget()
    off()
  })
  return { playing, heard, beat, play, stop, forget }
}
