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
/** So many views are kept. */
const MOST_KNOWN = 4

/** A pass, from 0; what is too much for one view comes in parts. */
export interface Part {
  pass: number
  part: number
}
const after = ({ pass, part }: Part, { shortened }: View): Part => (
  shortened ? { pass, part: part + 1 } : { pass: pass + 1, part: 0 }
)
const nameOf = ({ pass, part }: Part) => `${pass}/${part}`

/** `viewOf`: the view of a part of a pass; `trouble`: what is done where it cannot be had. */
export function useSharedPlayer(viewOf: (part: Part) => Promise<View>, trouble: (problem: unknown) => void) {
  const playing = ref(false)
  /** What sounds, and the beat of it as of the last tick. */
  const heard = shallowRef<View | null>(null)
  const beat = ref(0)
  const standing = new Standing()
  let known = new Map<string, View>()
  const asked = new Set<string>()
  let begun: { time: number; view: View }[] = []
  let next: Part & { time: number } = { time: 0, pass: 0, part: 0 }
  let until = 0 // of what is being scheduled, in its own beats
  const here: Sounding = { what: 'pattern', stop }

  async function play(): Promise<void> {
    if (playing.value) return
    begin(here)
    try {
      const first = await ask({ pass: 0, part: 0 })
      await soundsWith(drumsIn(first))
    } catch (problem) {
      end(here)
      return trouble(problem)
    }
    if (sounding.value !== here || playing.value) return // stopped before it began
    standing.clear()
    begun = []
    next = { time: now() + LEAD_IN, pass: 0, part: 0 }
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
  async function ask(part: Part): Promise<View> {
    const name = nameOf(part)
    asked.add(name)
    const kept = known // what is forgotten while it comes is not kept for what plays next
    const view = kept.get(name) ?? await viewOf(part)
    kept.set(name, view)
    return view
  }
  /** How a view that begins at a time is heard. */
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
    const view = known.get(nameOf(next))
    if (!view) {
      if (!asked.has(nameOf(next))) ask(next).catch((problem: unknown) => (stop(), trouble(problem)))
      return
    }
    const time = Math.max(next.time, now() + TOO_LATE)
    begun = [...begun.slice(-1), { time, view }]
    until = view.start
    standing.begin(view, view.start, heardFrom(view, time))
    next = { time: time + ((view.end - view.start) * 60) / view.tempo, ...after(next, view) }
    const soon = next
    void ask(soon).catch(() => asked.delete(nameOf(soon)))
    for (const name of [...known.keys()].slice(0, -MOST_KNOWN)) {
      known.delete(name)
      asked.delete(name)
    }
    tick()
  }
  function follow(): void {
    const at = begun.findLast(({ time }) => time <= now())
    if (!at) return
    if (heard.value !== at.view) heard.value = at.view
    beat.value = at.view.start + ((now() - at.time) * at.view.tempo) / 60
  }
  function forget(): void {
    stop()
    known = new Map()
    asked.clear()
  }
  const off = onTick(tick)
  onScopeDispose(() => {
    forget()
    off()
  })
  return { playing, heard, beat, play, stop, forget }
}
