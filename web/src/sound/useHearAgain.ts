/** Hearing passes of the Trail again: once, in turns to compare them, or one over and over. */
import { ref } from 'vue'
import { api, ask, type ClipView } from '@/api/client'
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'
import { secondsTo } from './pace'
import { forgetStruck, hush, LEAD_IN, now, onTick, soundsWith } from './output'
import { begin, end, sounding, type Sounding } from './sounding'
import { drumsOf, strikePaced } from './strikes'

/** Notes are scheduled so many seconds before they sound; nothing can change them any more. */
const AHEAD = 1.2

export function useHearAgain() {
  const pattern = usePattern()
  const notices = useNotices()
  /** The passes that are being heard. */
  const again = ref<number[]>([])
  let heard: ClipView[] = []
  let next = { time: 0, place: 0 }
  let last: number | undefined
  /** When each turn of a pass begins; the first, as soon as it is asked for. */
  let turns: { time: number; pass: number | undefined }[] = []
  const here: Sounding = {
    what: 'passes', stop: endAgain, pass: () => turns.findLast(({ time }) => time <= now())?.pass ?? null,
  }

  /** Hear passes note for note: two in turns until stopped, one once, or, with `stay`, over and over. */
  async function hearAgain(passes: number[], stay = false): Promise<void> {
    endAgain()
    turns = [{ time: -Infinity, pass: passes[0] }]
    begin(here)
    await soundsWith([])
    try {
      heard = await Promise.all(passes.map((pass) => ask(api.GET('/api/patterns/{pattern_id}/trail/{pass_id}', {
        params: { path: { pattern_id: pattern.id, pass_id: pass } },
      }))))
    } catch (problem) {
      end(here)
      notices.trouble(problem)
      return
    }
    await soundsWith(heard.flatMap(drumsOf))
    if (sounding.value !== here) return // stopped before it began
    next = { time: now() + LEAD_IN, place: 0 }
    last = stay || passes.length > 1 ? undefined : passes.length
    forgetStruck()
    again.value = passes
    tick()
  }
  function endAgain(): void {
    end(here)
    if (!again.value.length) return
    again.value = []
    hush()
  }
  function tick(): void {
    if (!again.value.length) return
    while (next.time < now() + AHEAD) {
      if (next.place === last) {
        if (now() >= next.time) endAgain()
        return
      }
      const pass = heard[next.place % heard.length]
      if (!pass) return
      turns = [...turns.slice(-3), { time: next.time, pass: again.value[next.place % heard.length] }]
      strikePaced(pass, 0, pass.beats, next.time, { owner: pattern.id })
      next = { time: next.time + secondsTo(pass, pass.beats), place: next.place + 1 }
    }
  }
  onTick(tick)
  return { again, hearAgain, endAgain }
}
