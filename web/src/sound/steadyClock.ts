/**
 * A clock that goes on whatever becomes of the audio clock: as long as that one goes, it is followed; where it stands
 * still, the page's own takes over without a step, and hands back as soon as sound goes on.
 */

/** So long the audio clock may stand still, in seconds, before it is given up. */
export const PATIENCE = 0.2

export class SteadyClock {
  /** Whether no audio clock goes. */
  silent = true
  private audio: { readonly currentTime: number } | null = null
  /** What is to be added to the time of the page's clock, and of the audio clock. */
  private besidePage = 0
  private besideAudio = 0
  /** The last time at which the audio clock was seen to go, there and on the page's clock. */
  private seen = 0
  private seenAt = 0

  /** `page`: the page's clock, in seconds. */
  constructor(private readonly page: () => number) {}

  /** From now on this is the audio clock; until it is seen to go, the page's clock goes on. */
  attach(audio: { readonly currentTime: number }): void {
    this.check()
    if (!this.silent) this.giveUp()
    this.audio = audio
    this.seen = audio.currentTime
    this.seenAt = this.page()
  }
  /** The time, in seconds. */
  now(): number {
    return this.silent || !this.audio ? this.page() + this.besidePage : this.audio.currentTime + this.besideAudio
  }
  /** A time on the audio clock. */
  onAudio(time: number): number {
    return time - this.besideAudio
  }
  /** See whether the audio clock goes; often, as on every tick. */
  check(): void {
    if (!this.audio) return
    const { currentTime } = this.audio
    if (currentTime > this.seen) {
      if (this.silent) this.besideAudio = this.now() - currentTime
      this.silent = false
      this.seen = currentTime
      this.seenAt = this.page()
    } else if (!this.silent && this.page() - this.seenAt > PATIENCE) this.giveUp()
  }
  /** What was lost since the audio clock stood still is made up for. */
  private giveUp(): void {
    this.besidePage = this.seen + this.besideAudio - this.seenAt
    this.silent = true
  }
}
