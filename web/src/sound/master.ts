/**
 * The way out of all sounds: room above them, a limiter for what is loud together, and a last curve that
 * no sample gets beyond. The volume is the listener's alone and remembered in this browser.
 */
import { useLocalStorage } from '@vueuse/core'

/** Sounds are as loud as this before the limiter, so that several fit above each other. */
export const HEADROOM = 0.55
/** Up to here samples pass as they are; above they are bent, and end below `CEILING`. */
const BEND = 0.8
const CEILING = 0.98
const POINTS = 8193

/** The listener's volume, 0 to 1. */
export const volume = useLocalStorage('jolly-volume', 0.8)

/** How loud a volume sounds: half way is about half as loud, all of it is all. */
export const loudness = (share: number): number => Math.min(1, Math.max(0, share)) ** 2

/** Straight up to BEND, then an even bend (tanh) that never reaches CEILING; for input from -4 to 4. */
export function ceilingCurve(): Float32Array<ArrayBuffer> {
  const curve = new Float32Array(POINTS)
  for (let i = 0; i < POINTS; i += 1) {
    const x = ((i / (POINTS - 1)) * 2 - 1) * 4
    const over = Math.abs(x) - BEND
    const bent = over <= 0 ? Math.abs(x) : BEND + (CEILING - BEND) * Math.tanh(over / (CEILING - BEND))
    curve[i] = Math.sign(x) * bent
  }
  return curve
}

export interface Master {
  input: GainNode
  setVolume: (share: number) => void
}

/** The way out on a context, real or offline, up to its destination. */
export function makeMaster(context: BaseAudioContext, share = 1): Master {
  const input = context.createGain()
  input.gain.value = HEADROOM
  const level = context.createGain()
  level.gain.value = loudness(share)
  const limiter = context.createDynamicsCompressor()
  limiter.threshold.value = -6
  limiter.knee.value = 4
  limiter.ratio.value = 16
  limiter.attack.value = 0.002
  limiter.release.value = 0.09
  // A shaper takes what lies between -1 and 1: from -4 to 4 is brought there first.
  const quarter = context.createGain()
  quarter.gain.value = 0.25
  const ceiling = context.createWaveShaper()
  ceiling.curve = ceilingCurve()
  input.connect(limiter)
  limiter.connect(quarter)
  quarter.connect(ceiling)
  ceiling.connect(level)
  level.connect(context.destination)
  return {
    input,
    setVolume: (to) => level.gain.setTargetAtTime(loudness(to), context.currentTime, 0.02),
  }
}
