/** A port that is always there: it writes down what it is sent, to be read and saved; and a clock to follow. */
import { shallowRef } from 'vue'
import { CLOCK, CLOCKS_A_BEAT, START, STOP } from './messages'

export interface Received {
  /** In milliseconds, on the browser's own clock. */
  time: number
  bytes: readonly number[]
  /** So many milliseconds before its time it was handed over. */
  ahead: number
}
const MOST = 20_000

/** What the simulated port has received, the newest last. */
export const received = shallowRef<readonly Received[]>([])
let kept: Received[] = []

export const simulated = {
  id: 'simulated',
  name: 'simulated port',
  send(bytes: readonly number[], time: number): void {
    kept.push({ time, bytes, ahead: time - performance.now() })
    if (kept.length > MOST) kept = kept.slice(-MOST / 2)
  },
  /** Show what has come since. */
  show(): void {
    received.value = [...kept].sort((a, b) => a.time - b.time)
  },
  forget(): void {
    kept = []
    received.value = []
  },
}

/** A clock of another program, as it may come: at a tempo, with so much jitter in milliseconds. */
export class SimulatedClock {
  private timer = 0
  private next = 0
  constructor(private readonly receive: (bytes: readonly number[], time: number) => void) {}
  start(tempo: number, jitter = 0): void {
    this.stop()
    this.next = performance.now()
    this.receive([START], this.next)
    const tick = () => {
      const now = performance.now()
      while (this.next <= now) {
        this.receive([CLOCK], this.next + (Math.random() - 0.5) * 2 * jitter)
        this.next += 60_000 / tempo / CLOCKS_A_BEAT
      }
    }
    this.timer = window.setInterval(tick, 5)
  }
  stop(): void {
    if (this.timer) this.receive([STOP], performance.now())
    window.clearInterval(this.timer)
    this.timer = 0
  }
}
