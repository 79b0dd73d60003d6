/**
 * Riding a lane: while it plays, it slides through step lengths and becomes more or less human. What is tried out is a
 * rate path for each round of the frame, and a path takes over from the one before only where both have played the
 * same so far: so what was heard in a round is, note for note, what can be laid into the recipe afterwards.
 */
import { computed, onScopeDispose, ref, watch } from 'vue'
import type { Edit, View } from '@/api/client'
import { usePattern } from '@/pattern/pattern'
import { handover } from '@/sound/handover'
import { usePlayer } from '@/sound/player'
import { agree } from './agree'

export const PACES = ['1/8', '1/12', '1/16', '1/24', '1/32', '1/48', '1/64']
/** Into so many parts a beat is divided that the cells of every pace have whole ones. */
const GRID = 48
/** A first pace takes over on a quarter of a beat. */
const FIRST_ON = GRID / 4
/** So many seconds after what is scheduled the next pace begins: the answer is there by then. */
const LEAD = 0.1
/** Each time that it was not, so many beats more, up to a bound. */
const LATER = 0.25
const LATEST = 2
/** So many seconds before the end of a round the next one is asked for. */
const ROUND_LEAD = 0.8
const RETRY_MS = 40
/** Where nothing comes of it for long, less often. */
const REST_MS = 400

interface Feel {
  step: string
  human: number
}
/** In parts of a beat from the frame's start. */
interface Stretch extends Feel {
  from: number
  to: number
}
/** What was ridden in a pass. */
export interface Round {
  /** Its number, from 0. */
  pass: number
  stretches: Stretch[]
}

export function useRide(lane: () => string) {
  const pattern = usePattern()
  const player = usePlayer()
  /** Whether a hand rides; a ride is heard until the recipe has taken over again. */
  const riding = ref(false)
  const heard = ref(false)
  const ridden = ref<Round[]>([])
  /** Which of the rounds is laid in. */
  const chosen = ref(0)
  let rounds: Round[] = []
  let wish: Feel | null = null
  let asking = false
  let later = 0

  const frame = () => Math.round((pattern.view?.frame_beats ?? 4) * GRID)
  const passAt = (beat: number) => Math.floor((beat * GRID) / frame() + 1e-9)
  const beatsIn = (seconds: number) => (seconds * (pattern.view?.tempo ?? 120)) / 60
  const edits = (path: Stretch[]): Edit[] => [{
    do: 'lay_path', lane: lane(), path: path.map(({ from, to, step, human }) => ({
      start: `${from}/${GRID}`, beats: `${to - from}/${GRID}`, step, human,
    })),
  }]
  const before = (stretches: Stretch[], at: number) => stretches.filter(({ from }) => from < at)
    .map((stretch) => ({ ...stretch, to: Math.min(stretch.to, at) }))

  /** The round that is heard at a beat: where the frame came round unasked, its path goes round with it. */
  function roundAt(beat: number): Round | undefined {
    const last = rounds.at(-1)
    for (let pass = (last?.pass ?? Infinity) + 1; last && pass <= passAt(beat); pass += 1) {
      rounds.push({ pass, stretches: last.stretches })
    }
    return rounds.at(-1)
  }
  /** The first beginnings of cells of a view from a beat on, in parts of a beat from the start of its pass. */
  function cellsFrom(view: View, beat: number): number[] {
    const [round, start] = [rounds.at(-1), passAt(beat) * frame()]
    const cells = view.lanes.find(({ id }) => id === lane())?.drawn.cells ?? []
    const places = cells.map((cell) => cell * GRID - start)
    // A lane that is shifted has its cells so much later than its path says.
    const anchor = round?.stretches.at(-1)?.from ?? 0
    const shift = places.map((place) => place - anchor).reduce(
      (near, apart) => (Math.abs(apart) < Math.abs(near) ? apart : near), Infinity,
    )
    return places.map((place) => Math.round(place - (Number.isFinite(shift) ? shift : 0)))
      .filter((place) => place >= beat * GRID - start - 1e-6 && place < frame())
  }

  /** Take this pace and this human from the next cell on. */
  function steer(step: string, human: number): void {
    if (!player.playing) return
    if (!riding.value && !heard.value) rounds = []
    riding.value = true
    wish = { step, human }
    void drive()
  }
  async function drive(): Promise<void> {
    if (asking) return
    asking = true
    later = 0
    try {
      while (riding.value && wish && player.playing && !isNow(wish)) {
        if (!(await turnTo(wish))) await new Promise((done) => setTimeout(done, later < LATEST ? RETRY_MS : REST_MS))
      }
    } finally {
      asking = false
    }
  }
  const isNow = ({ step, human }: Feel) => {
    const last = rounds.at(-1)?.stretches.at(-1)
    return last?.step === step && last.human === human
  }

  /** Try to take a pace: it resolves to whether its path has taken over. */
  async function turnTo(feel: Feel): Promise<boolean> {
    const { view } = pattern
    if (!view) return false
    const soon = player.scheduledBeat() + beatsIn(LEAD) + later
    const pass = passAt(soon)
    const round = roundAt(player.scheduledBeat())
    if (round && round.pass !== pass) return false // the next round is asked for by itself
    const at = round
      ? cellsFrom(view, soon)[0]
      : Math.ceil((soon * GRID - pass * frame()) / FIRST_ON) * FIRST_ON
    if (at === undefined || at >= frame()) return false
    const stretches = [...before(round?.stretches ?? [], at), { from: at, to: frame(), ...feel }]
    const seen = await pattern.foresee(edits(stretches))
    const now = player.scheduledBeat()
    const begin = (pass * frame()) / GRID
    // Before its first pace the lane has played on without a path, which has to begin after what is scheduled.
    const inTime = seen && riding.value && passAt(now) === pass && pattern.view
      && (round ? agree(pattern.view, seen.view, begin, now) : now <= begin + at / GRID + 1e-9)
    if (!inTime || !pattern.take(seen)) {
      later = Math.min(LATEST, later + LATER)
      return false
    }
    later = 0
    handover.value = null
    if (round) round.stretches = stretches
    else {
      rounds.push({ pass, stretches })
      heard.value = true
    }
    return true
  }

  /** Shortly before the end of a round: in the next one the pace that holds goes on from its start. */
  let foreseeing = false
  async function goRound(): Promise<void> {
    const scheduled = player.scheduledBeat()
    const round = roundAt(scheduled)
    const feel = round?.stretches.at(-1)
    if (!round || !feel || handover.value || foreseeing) return
    const end = ((round.pass + 1) * frame()) / GRID
    if (end - scheduled > beatsIn(ROUND_LEAD)) return
    foreseeing = true
    try {
      const stretches = [{ ...feel, from: 0, to: frame() }]
      const seen = await pattern.foresee(edits(stretches))
      if (!seen || !heard.value || !isNow(feel) || player.scheduledBeat() >= end - 1e-9) return
      handover.value = {
        at: end,
        take: () => void (pattern.take(seen) && rounds.push({ pass: round.pass + 1, stretches })),
      }
    } finally {
      foreseeing = false
    }
  }
  watch(() => player.beat, () => heard.value && void goRound())

  /** Let go: the recipe is as before, and what was ridden waits to be laid in. */
  async function letGo(): Promise<void> {
    if (!riding.value) return
    riding.value = false
    wish = null
    if (!heard.value) return
    const seen = await pattern.foresee([])
    if (riding.value) return // taken up again meanwhile
    const [now, view] = [player.scheduledBeat(), pattern.view]
    const round = roundAt(now)
    // What has begun is as long as it was heard: the path goes on to the cell after the next.
    const end = view && round?.pass === passAt(now) ? cellsFrom(view, now)[1] : undefined
    heard.value = false
    handover.value = null
    if (!seen || !pattern.take(seen)) void pattern.preview([])
    if (round && end !== undefined) round.stretches = before(round.stretches, end)
    ridden.value = rounds.filter(({ stretches }) => stretches.length)
    const long = ridden.value.map(lasting)
    chosen.value = long.lastIndexOf(Math.max(...long))
  }
  const lasting = ({ stretches }: Round) => stretches.reduce((sum, { from, to }) => sum + to - from, 0)
  async function layIn(): Promise<void> {
    const round = ridden.value[chosen.value]
    if (round && await pattern.commit(edits(round.stretches))) ridden.value = []
  }
  onScopeDispose(() => {
    if (!heard.value) return
    heard.value = false
    handover.value = null
    void pattern.preview([])
  }, true)

  const beats = (parts: number) => Number((parts / GRID).toFixed(2))
  const words = computed(() => ridden.value.map(({ stretches }) =>
    stretches.map(({ step, from, to }) => `${step} for ${beats(to - from)}`).join(', ')))
  return { riding, ridden, chosen, words, steer, letGo, layIn }
}
