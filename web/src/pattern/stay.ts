/** Stay: repeating a pass. Nothing is stored of it, yet undo and redo reach it. */
import { ref } from 'vue'
import type { State } from '@/api/client'
import { announce } from '@/app/announce'
import { letGo } from '@/app/hand'
import type { Sight } from './sight'

/** Stay was turned while the pattern stood at this revision; `to` is what it became. */
interface Turned {
  revision: number
  to: boolean
}

export type Stay = ReturnType<typeof useStay>

export function useStay({ revision, staying, look }: Sight) {
  const done = ref<Turned[]>([])
  const undone = ref<Turned[]>([])
  const here = (turned: Turned | undefined) => (turned?.revision === revision.value ? turned : undefined)
  const wordOf = (turned: Turned) => (turned.to ? 'Stay' : 'Flow')

  /** What undo and redo would do, where a turn of Stay was the last thing. */
  function over(stored: State['history']): State['history'] {
    const [back, forth] = [here(done.value.at(-1)), here(undone.value.at(-1))]
    return { undo: back ? wordOf(back) : stored.undo, redo: forth ? wordOf(forth) : stored.redo }
  }

  /** Repeat this pass, or let the passes go on. */
  function toggleStay(): void {
    letGo()
    staying.value = !staying.value
    announce(staying.value ? 'Stay: this pass is repeated' : 'Flow: the passes go on')
    done.value = [...done.value, { revision: revision.value, to: staying.value }]
    undone.value = []
    void look()
  }

  /** Undo or redo a turn of Stay, if that was the last thing that was done. */
  function turnBack(way: 'undo' | 'redo'): boolean {
    const [from, to] = way === 'undo' ? [done, undone] : [undone, done]
    const turned = here(from.value.at(-1))
    if (!turned) return false
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, turned]
    staying.value = way === 'undo' ? !turned.to : turned.to
    void look()
    return true
  }

  function forgetUndone(): void {
    undone.value = []
  }
  function forget(): void {
    done.value = undone.value = []
  }
  return { over, toggleStay, turnBack, forgetUndone, forget }
}
