/** What comes in by MIDI: keys, the sustain pedal, controllers that words are tied to, and a clock to follow. */
import { onScopeDispose } from 'vue'
import { useKeys } from '@/keys/useKeys'
import { useOrder } from '@/order/order'
import { usePattern } from '@/pattern/pattern'
import { onReceived, settings } from '@/ports/access'
import { CLOCK, CONTINUE, CONTROL, NOTE_OFF, NOTE_ON, POSITION, START, STOP } from '@/ports/messages'
import { usePlayer } from '@/sound/player'
import { ClockIn } from './clockIn'
import { useTies } from './ties'

const SUSTAIN = 64
/** The tempo is looked at every so many clock messages. */
const EVERY = 6

export function useMidiIn(): void {
  const keys = useKeys()
  const player = usePlayer()
  const pattern = usePattern()
  const order = useOrder()
  const { turned } = useTies()
  const clock = new ClockIn()

  function follow([status = 0, a = 0, b = 0]: readonly number[], time: number): void {
    if (status === POSITION) pattern.turnTo((a + (b << 7)) / 4)
    else if (status === START || status === CONTINUE) {
      clock.begin()
      if (!player.playing) void player.play()
    } else if (status === STOP) {
      player.stop()
      player.external = null
    } else if (status === CLOCK) {
      clock.tick(time)
      if (clock.count % EVERY) return
      const tempo = player.playing ? clock.followed(player.beatsPlayed()) : clock.tempo()
      if (tempo !== null) player.external = Math.round(tempo * 100) / 100
    }
  }
  const deafen = onReceived((bytes, time, port) => {
    const [status = 0, a = 0, b = 0] = bytes
    if (status >= 0xf0) {
      if (port === settings.value.follow) follow(bytes, time)
      return
    }
    const [kind, channel] = [status & 0xf0, (status & 15) + 1]
    if (order.shown && (kind === NOTE_ON || kind === NOTE_OFF)) return // notes go to patterns there
    if (kind === NOTE_ON && b > 0) {
      if (!turned({ kind: 'key', channel, number: a }, b)) keys.press(a, b, false, time)
    } else if (kind === NOTE_ON || kind === NOTE_OFF) keys.release(a, time)
    else if (kind === CONTROL && !turned({ kind: 'cc', channel, number: a }, b) && a === SUSTAIN) keys.setPedal(b >= 64)
  })
  onScopeDispose(deafen)
}
