/** Playing, undo and redo of what is open: a clip where one is, else the pattern. */
import { computed } from 'vue'
import { useClip } from '@/clip/clip'
import { useRound } from '@/clip/round'
import { barAndBeat } from '@/clip/told'
import { usePattern } from '@/pattern/pattern'
import { usePlayer } from '@/sound/player'

export function useTransport() {
  const clip = useClip()
  const round = useRound()
  const pattern = usePattern()
  const player = usePlayer()
  const inClip = computed(() => clip.id !== 0)
  const playing = computed(() => (inClip.value ? round.playing : player.playing))
  const history = computed(() => (inClip.value ? clip.history : pattern.history))
  const toggle = () => (inClip.value ? round.toggle() : player.toggle())
  const undo = () => void (history.value.undo && (inClip.value ? clip.undo() : pattern.undo()))
  const redo = () => void (history.value.redo && (inClip.value ? clip.redo() : pattern.redo()))
  /** Where the clip sounds, as bar and beat. */
  const clipPlace = computed(() => {
    if (!clip.view) return ''
    const { bar, beat } = barAndBeat(clip.view, round.playing ? round.beat : (clip.round?.[0] ?? 0))
    return `bar ${bar} · beat ${beat}`
  })
  return { inClip, playing, history, toggle, undo, redo, clipPlace }
}
