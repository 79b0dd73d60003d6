/** A sound that is dropped on a lane, or chosen for it: kept, and then what the lane is heard by. */
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'
import { keepRecording } from './recordings'

export function useDropSound() {
  const notices = useNotices()
  const pattern = usePattern()

  function hearLaneAs(lane: string, file: File): Promise<boolean> {
    return notices.attempt(async () => {
      const kept = await keepRecording(file)
      if (await pattern.commit([{ do: 'own_sound', lane, ...kept }])) {
        notices.say(`Heard as “${kept.name}”; its sentence trims, tunes and fades it.`)
      }
    })
  }
  /** Take the first file of a drop; false where it holds none. */
  function dropped(lane: string, event: DragEvent): boolean {
    const file = event.dataTransfer?.files[0]
    if (file) void hearLaneAs(lane, file)
    return file !== undefined
  }
  return { hearLaneAs, dropped }
}
