/** Playing, undo and redo of what is open: a clip where one is, else the pattern. */
import { computed } from 'vue'
import { useClip } from '@/clip/clip'
import { useRound } from '@/clip/round'
import { barAndBeat } from '@/clip/told'
import { useOrder } from '@/order/order'
import { usePlaying } from '@/order/playing'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'

export function useTransport() {
  const clip = useClip()
  const order = useOrder()
  const orderPlayer = usePlaying()
  const round = useRound()
  const pattern = usePattern()
  const player = usePlayer()
  const inClip = computed(() => clip.id !== 0)
  const inOrder = computed(() => order.shown && !inClip.value)
  /** What stands in place of the lattice, if something does. */
  const open = computed(() => inClip.value
    ? { playing: round.playing, history: clip.history, toggle: round.toggle, undo: clip.undo, redo: clip.redo }
    : inOrder.value
      ? { playing: orderPlayer.playing, history: order.history, toggle: orderPlayer.toggle, undo: order.undo, redo: order.redo }
      : { playing: player.playing, history: pattern.history, toggle: player.toggle, undo: pattern.undo, redo: pattern.redo })
  const playing = computed(() => open.value.playing)
  const history = computed(() => open.value.history)
  const toggle = () => open.value.toggle()
  const undo = () => void (history.value.undo && open.value.undo())
  const redo = () => void (history.value.redo && open.value.redo())
  /** Where the clip sounds, as bar and beat. */
  const clipPlace = computed(() => {
    if (!clip.view) return ''
    const { bar, beat } = barAndBeat(clip.view, round.playing ? round.beat : (clip.round?.[0] ?? 0))
    return `bar ${bar} · beat ${beat}`
  })
  return { inClip, inOrder, playing, history, toggle, undo, redo, clipPlace }
}
