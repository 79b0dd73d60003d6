/**
 * The pattern on the screen: what is seen of it, what is chosen in it, its changes, Stay and the weave,
 * each in a file of its own.
 */
import { defineStore } from 'pinia'
import { api, ask, type State } from '@/api/client'
import { usePatternChanges } from './changes'
import { useChoice } from './choice'
import { letGo } from '@/app/hand'
import { LEAST_BEATS, useSight, VIEW_BARS } from './sight'
import { useStay } from './stay'
import { useWeave } from './weave'

export const usePattern = defineStore('pattern', () => {
  const sight = useSight()
  const { id, name, revision, seen, view, chosen, lane, beat, bar, frame, viewBars, span, start, staying, gone } = sight
  const { look, preview, foresee, take, quiet, choose, turnTo, tried, kept, bringBack } = sight
  const { forgetChoice, ...choice } = useChoice(sight)
  const stay = useStay(sight)
  const { settled, ...changes } = usePatternChanges(sight, stay)
  const { stopWeaving, ...weave } = useWeave(sight)

  /** Open a pattern; the chosen lane stays chosen if it is there too. All else is as on a fresh page. */
  async function open(pattern: number): Promise<void> {
    letGo()
    await settled()
    stay.forget()
    gone.value = false
    tried.value = []
    start.value = 0
    if (pattern !== id.value) {
      viewBars.value = VIEW_BARS
      staying.value = false
    }
    forgetChoice()
    stopWeaving()
    const body = { start: 0, end: 8 * LEAST_BEATS, chosen: chosen.value }
    const params = { path: { pattern_id: pattern } }
    // What was changed while the answer was on its way is newer than it: then it is asked for again.
    let known: number | undefined
    let state: State
    do {
      known = sight.newest.get(pattern)
      state = await ask(api.POST('/api/patterns/{pattern_id}/state', { params, body }))
    } while (sight.newest.get(pattern) !== known)
    sight.show(state)
    await look()
  }

  function setBars(bars: number): void {
    stopWeaving()
    sight.setBars(bars)
  }

  return {
    id, name, revision, seen, view, chosen, lane, beat, bar, frame, viewBars, span, start, staying, gone,
    tried, open, kept, bringBack, settled,
    look, preview, foresee, take, quiet, choose, turnTo, setBars, toggleStay: stay.toggleStay, ...choice,
    ...changes, ...weave,
  }
})
