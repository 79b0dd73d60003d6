import { describe, expect, it } from 'vitest'
import { PATIENCE, SteadyClock } from './steadyClock'

function clocks() {
  const audio = { currentTime: 7 }
  const at = { page: 100 }
  const clock = new SteadyClock(() => at.page)
  /** So much time goes by, in which the audio clock goes, or stands still. */
  const pass = (seconds: number, goes: boolean) => {
    for (let gone = 0; gone < seconds - 1e-9; gone += 0.05) {
      at.page += 0.05
      if (goes) audio.currentTime += 0.05
      clock.check()
    }
  }
  return { clock, audio, pass }
}

describe('a steady clock', () => {
  it('goes evenly, whenever sound comes and goes', () => {
    const { clock, audio, pass } = clocks()
    const begun = clock.now()
    clock.attach(audio)
    let gone = 0
    for (const [seconds, goes] of [[1, false], [2, true], [3, false], [0.1, true], [0.5, false], [4, true]] as const) {
      pass(seconds, goes)
      gone += seconds
      expect(clock.now() - begun).toBeCloseTo(gone, 6)
      expect(clock.silent).toBe(!goes)
      if (goes) expect(clock.onAudio(clock.now())).toBeCloseTo(audio.currentTime, 6)
    }
  })
  it('waits a moment before it gives sound up, and takes another audio clock without a step', () => {
    const { clock, audio, pass } = clocks()
    clock.attach(audio)
    pass(1, true)
    const before = clock.now()
    pass(PATIENCE - 0.05, false)
    expect(clock.silent).toBe(false)
    pass(1, false)
    const other = { currentTime: 0 }
    clock.attach(other)
    expect(clock.now()).toBeCloseTo(before + 1 + PATIENCE - 0.05, 6)
    other.currentTime = 0.02
    clock.check()
    expect(clock.silent).toBe(false)
    expect(clock.now()).toBeCloseTo(before + 1 + PATIENCE - 0.05, 6)
  })
})
