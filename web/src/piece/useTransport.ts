/** Play, undo and redo: of what is open, a clip or the order or the pattern; stop: of whatever is heard. */
import { computed } from 'vue'
import { useClip } from '@/clip/clip'
import { useRound } from '@/clip/round'
import { barAndBeat } from '@/clip/told'
import { useOrder } from '@/order/order'
import { usePlaying } from '@/order/playing'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'
import { sounding } from '@/sound/sounding'

export function useTransport() {
  const clip = useClip()
  const order = useOrder()
  const orderPlayer = usePlaying()
  const round = useRound()
  const pattern = usePattern()
  const player = usePlayer()
  const inClip = computed(() => clip.id !== 0)
  const inOrder = computed(() => order.shown && !inClip.value)
  /** What stands in place of the lattice, if something does: it is what play begins, and what undo takes back. */
  const open = computed(() => inClip.value
    ? { what: 'clip' as const, history: clip.history, play: round.play, undo: clip.undo, redo: clip.redo }
    : inOrder.value
      ? { what: 'order' as const, history: order.history, play: orderPlayer.play, undo: order.undo, redo: order.redo }
      : {
        what: 'pattern' as const, history: pattern.history, play: player.play, undo: pattern.undo, redo: pattern.redo,
      })
  const playing = computed(() => sounding.value !== null)
  /** What the bar tells the place of: what is heard, else what is on the screen. */
  const told = computed(() => (
    sounding.value && sounding.value.what !== 'passes' ? sounding.value.what : open.value.what
  ))
  const history = computed(() => open.value.history)
  const toggle = () => (sounding.value ? sounding.value.stop() : void open.value.play())
  const undo = () => void (history.value.undo && open.value.undo())
  const redo = () => void (history.value.redo && open.value.redo())
  /** Where the clip sounds, as bar and beat. */
  const clipPlace = computed(() => {
    const view = clip.view ?? round.heard
    if (!view) return ''
    const { bar, beat } = barAndBeat(view, round.playing ? round.beat : (clip.round?.[0] ?? 0))
    return `bar ${bar} · beat ${beat}`
  })
  return { inOrder, told, playing, history, toggle, undo, redo, clipPlace }
}
