/**
 * What leaves by MIDI ports. Messages wait here until shortly before their time, so that stop can still
 * take back what has not left; each note that was begun is ended, whatever happens.
 */
import { ALL_NOTES_OFF, control, noteOff, noteOn, STOP } from './messages'
import { portsInUse, settings, type OutPort } from './access'

interface Waiting {
  time: number
  /** Of two at one time: ends before controllers, controllers before beginnings. */
  rank: number
  port: OutPort
  bytes: number[]
  key?: string
}
/** Messages leave so many milliseconds before their time. */
const SOON = 120

let waiting: Waiting[] = []
const sounding = new Map<string, { port: OutPort; channel: number; pitch: number }>()

const keyOf = (port: OutPort, channel: number, pitch: number) => `${port.id}/${channel}/${pitch}`
function put(next: Waiting): void {
  waiting.push({ ...next, time: next.time - settings.value.lead })
}

/** Send a note at a time, in milliseconds, for so long. */
export function sendNote(
  port: OutPort, note: { channel: number; pitch: number; velocity: number }, time: number, milliseconds: number,
): void {
  const key = keyOf(port, note.channel, note.pitch)
  put({ time, rank: 2, port, bytes: noteOn(note.channel, note.pitch, note.velocity), key })
  put({ time: time + milliseconds, rank: 0, port, bytes: noteOff(note.channel, note.pitch), key })
}
export function sendControl(
  port: OutPort, channel: number, number: number | string, value: number, time: number,
): void {
  put({ time, rank: 1, port, bytes: control(channel, number, value) })
}
/** Clock, start, position: to every port that is in use. */
export function sendToAll(bytes: number[], time: number): void {
  for (const port of portsInUse()) put({ time, rank: 1, port, bytes })
}

/** Let go what is due. */
export function flush(): void {
  // A hidden page has no steady clock: nothing leaves until it is seen again.
  if (document.hidden) waiting = []
  if (!waiting.length) return
  const until = performance.now() + SOON
  const due = waiting.filter(({ time }) => time <= until).sort((a, b) => a.time - b.time || a.rank - b.rank)
  waiting = waiting.filter(({ time }) => time > until)
  for (const message of due) {
    const { port, bytes, key, rank, time } = message
    const [status = 0, pitch = 0] = bytes
    if (key !== undefined && rank === 0 && !sounding.delete(key)) continue
    if (key !== undefined && rank === 2) {
      const channel = (status & 15) + 1
      // A note begins while the same still sounds: that ends first, and its own end is dropped.
      if (sounding.has(key)) {
        port.send(noteOff(channel, pitch), time)
        const end = waiting.findIndex((each) => each.key === key && each.rank === 0)
        if (end >= 0 && waiting.filter((each) => each.key === key && each.rank === 0).length > 1) waiting.splice(end, 1)
      }
      sounding.set(key, { port, channel, pitch })
    }
    port.send(bytes, time)
  }
}
/** End everything now: notes that sound, and what waits. What is sent next begins later than what has left already. */
export function silence(stop = false): void {
  waiting = []
  // After what has already left for a moment to come.
  const time = performance.now() + SOON
  for (const { port, channel, pitch } of sounding.values()) port.send(noteOff(channel, pitch), time)
  const channels = new Map<OutPort, Set<number>>()
  for (const { port, channel } of sounding.values()) channels.set(port, (channels.get(port) ?? new Set()).add(channel))
  for (const [port, used] of channels) for (const channel of used) port.send(control(channel, ALL_NOTES_OFF, 0), time)
  sounding.clear()
  if (stop) for (const port of portsInUse()) port.send([STOP], time)
}
document.addEventListener('visibilitychange', () => document.hidden && silence())
window.addEventListener('pagehide', () => silence(true))
