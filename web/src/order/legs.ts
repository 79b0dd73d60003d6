/** Legs of the time line are struck, sent, and laid on the Trail pass by pass. */
import type { Edit, HeardPass, View } from '@/api/client'
import { clickIn } from '@/sound/click'
import { sendClocks } from '@/sound/clockOut'
import { ratio } from '@/app/ratio'
import { HeardPasses, snap } from '@/sound/heardPasses'
import { forgetStruck, LEAD_IN, now } from '@/sound/output'
import { Standing, strikeView, type Heard } from '@/sound/strikeView'
import { TimeMap } from '@/sound/timeMap'
import type { Leg } from './courses'
import { nextOn } from './programme'
import type { Score, Scores } from './scores'

/** What is not there so many seconds before it should sound is passed over. */
const TOO_LATE = 0.06
const LEAST_PASS = 1
export const STEP = 0.25

interface Filing {
  scores: Scores
  /** The revision that a pattern stands at. */
  head: (pattern: number) => number
  /** What hands that hold something change of a pattern. */
  handEdits: (view: View) => Edit[]
  /** A pass was heard; it is filed under the pattern that it began with. */
  onHeard: (pattern: number, pass: HeardPass, whole: boolean) => void
}

export class Legs {
  map = new TimeMap({ time: 0, beat: 0, tempo: 120, shift: 0 })
  /** Everything before this beat of the time line is scheduled. */
  until = 0
  private run: { score: Score; own: number; at: number; speed: string } | null = null
  private filed = { pattern: 0, number: 0 }
  private heard = new HeardPasses(() => undefined)
  private readonly standing = new Standing()

  constructor(private readonly filing: Filing) {}

  forget(): void {
    this.until = 0
    this.run = null
    this.standing.clear()
    forgetStruck()
  }
  begin(tempo: number): void {
    this.map = new TimeMap({ time: now() + LEAD_IN, beat: 0, tempo, shift: 0 })
    this.heard = new HeardPasses((pass, whole) => {
      const { pattern, number } = this.filed
      this.filing.onHeard(pattern, { key: crypto.randomUUID(), number, ...pass }, whole)
    })
  }
  /** The beat of the time line that is heard now. */
  get beat(): number {
    return Math.max(0, this.map.beatAt(now()))
  }
  scoreOf({ pattern, edits }: Leg, more: Edit[] = []): Score {
    const { scores, head } = this.filing
    return scores.of(pattern, head(pattern), more.length ? [...edits, ...more] : edits)
  }
  /** The view of a leg that holds its beat; it is asked for where there is none yet. */
  viewOf(leg: Leg): View | null {
    return this.filing.scores.view(this.scoreOf(leg), leg.own)
  }
  /** The pass that is being heard, as far as it is. */
  soFar(): Omit<HeardPass, 'key'> | null {
    const view = this.run && this.filing.scores.view(this.run.score, this.run.own)
    const pass = view ? this.heard.soFar(Math.min(this.until, this.map.beatAt(now())), view.bar_beats) : null
    return pass && { number: this.filed.number, ...pass }
  }

  /** Play a leg as far as `to` on the time line; false where it is not known yet. */
  play(leg: Leg, to: number): boolean {
    const { scores, handEdits } = this.filing
    const speed = ratio(leg.speed)
    const { own } = leg
    const plain = this.scoreOf(leg)
    const under = scores.view(plain, own)
    const changes = under ? handEdits(under) : []
    const changed = changes.length ? this.scoreOf(leg, changes) : plain
    // Until what a hand changes is there, what was goes on.
    const other = changed === plain ? under : scores.view(changed, own)
    const [score, view] = other ? [changed, other] : [plain, under]
    if (!view) return this.passOver(to)
    const at = this.until
    const frame = view.frame_beats
    const passEnd = leg.repeats ? Infinity : at + ((Math.floor(own / frame + 1e-9) + 1) * frame - own) / speed
    const stepEnd = at + (nextOn(own + 1e-6, STEP) - own) / speed
    const handsEnd = changed === score ? Infinity : Math.max(stepEnd, at + 1e-3)
    const stop = Math.min(to, passEnd, at + (view.end - own) / speed, handsEnd)
    if (view.tempo !== this.map.last.tempo) this.map.turn(at, { tempo: view.tempo })
    const goesOn: Heard = {
      owner: leg.pattern, beatOf: (beat) => at + (beat - own) / speed, timeOf: (beat) => this.map.timeOf(beat),
      scale: 1 / speed, seconds: 60 / view.tempo / speed,
    }
    this.goOn(leg, score, view, goesOn)
    const last = snap(own + (stop - at) * speed)
    sendClocks(this.map, at, stop)
    clickIn(view.meter, own, last, goesOn)
    this.standing.turnIn(view, own, last, goesOn)
    strikeView(view, own, last, goesOn)
    this.until = Math.max(stop, at + 1e-9)
    if (!leg.repeats && stop >= Math.min(passEnd, leg.end) - 1e-9) this.breakPass(stop, frame / speed)
    return true
  }
  /** What is heard is another score, or another place in it, than would have come by itself. */
  private goOn(leg: Leg, score: Score, view: View, heard: Heard): void {
    const { run, until } = this
    const expected = run && run.own + (until - run.at) * ratio(run.speed)
    if (run?.score === score && run.speed === leg.speed && Math.abs((expected ?? 0) - leg.own) <= 1e-6) return
    if (this.heard.start === until || run === null) {
      this.filed = { pattern: leg.pattern, number: Math.floor(leg.own / view.frame_beats + 1e-9) }
    }
    this.heard.goOn(score.source, until, leg.own, leg.speed)
    this.run = { score, own: leg.own, at: until, speed: leg.speed }
    this.standing.begin(view, leg.own, heard)
  }
  /** What is not known in time is silent; false: it may still come in time. */
  private passOver(to: number): boolean {
    if (this.map.timeOf(this.until) > now() + TOO_LATE) return false
    const stop = Math.min(to, this.until + STEP)
    this.breakPass(this.until)
    this.until = stop
    this.heard.closePass(stop)
    return true
  }
  /** What is heard before belongs to a pass of its own; a whole one lasts `frame` beats. */
  breakPass(at: number, frame = Infinity): void {
    this.heard.closeSegment(at)
    if (at > this.heard.start + 1e-9) this.heard.closePass(at, frame)
    this.run = null
  }
  close(at: number): void {
    this.heard.closeSegment(at)
    if (at - this.heard.start >= LEAST_PASS) this.heard.closePass(at)
  }
}
