/** The clock that ports are sent: it begins with start and the position, and has 24 messages a beat. */
import { portsInUse, settings } from '@/ports/access'
import { CLOCK, CLOCKS_A_BEAT, CONTINUE, position, START } from '@/ports/messages'
import { sendToAll } from '@/ports/sender'
import { milliseconds } from './output'
import type { TimeMap } from './timeMap'

/** Send what falls into the beats [from, to) of the time line, of which `map` knows when they sound. */
export function sendClocks(map: TimeMap, from: number, to: number): void {
  if (!settings.value.clock || !portsInUse().length) return
  const { shift } = map.last
  if (from <= 0) {
    sendToAll(position(shift), milliseconds(map.timeOf(0)) - 2)
    sendToAll([shift > 0 ? CONTINUE : START], milliseconds(map.timeOf(0)) - 1)
  }
  for (let i = Math.ceil(from * CLOCKS_A_BEAT - 1e-6); i < to * CLOCKS_A_BEAT - 1e-6; i += 1) {
    sendToAll([CLOCK], milliseconds(map.timeOf(i / CLOCKS_A_BEAT)))
  }
}
