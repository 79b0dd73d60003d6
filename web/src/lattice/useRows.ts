/** How the lattice's room is divided among its lanes, and which lanes are opened taller. */
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import type { Lane } from '@/api/client'
import { byTouch } from '@/app/longPress'
import { shareRoom, type Size } from '@/app/shareRoom'
import { usePattern } from '@/pattern/pattern'

const GAP = 4
/** The share that a lane of each kind takes of the room, and its bounds in pixels. */
const SIZES = {
  drum: { share: 1, least: 35, most: 96 },
  pitched: { share: 1.7, least: 46, most: 150 },
  control: { share: 1.1, least: 38, most: 96 },
}
const TALLER = { share: 3.2, least: 150, most: 320 }
/** What a head needs under a finger. */
const LEAST_TOUCHED = 48
const MOST_KEPT = 200

const opened = useLocalStorage<string[]>('jolly-taller', [])

/** Which lanes are opened taller, remembered in this browser. */
export function useTaller() {
  const pattern = usePattern()
  const key = (lane: string) => `${pattern.id}/${lane}`
  const isTaller = (lane: string) => opened.value.includes(key(lane))
  function toggle(lane: string): void {
    const others = opened.value.filter((each) => each !== key(lane))
    opened.value = others.length < opened.value.length ? others : [...others.slice(-MOST_KEPT), key(lane)]
  }
  return { isTaller, toggle }
}

const touched = (size: Size): Size => ({ ...size, least: Math.max(size.least, LEAST_TOUCHED) })

export function useRows(lanes: () => Lane[], room: () => number) {
  const { isTaller } = useTaller()
  const heights = computed(() => {
    const usual = (lane: Lane) => (byTouch.value ? touched(SIZES[lane.kind]) : SIZES[lane.kind])
    const sizes = lanes().map((lane) => (isTaller(lane.id) ? TALLER : usual(lane)))
    return shareRoom(sizes, room() - GAP * sizes.length)
  })
  return { heights }
}
