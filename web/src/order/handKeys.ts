/** The keys that hands play the order with, and what they are, for the list of shortcuts. */
import { useEventListener } from '@vueuse/core'
import { onScopeDispose } from 'vue'
import type { OrderEdit } from '@/api/client'
import { useMusicKeys } from '@/app/keyboard'
import { usePiece } from '@/pieces/piece'
import { onReceived } from '@/ports/access'
import { NOTE_OFF, NOTE_ON } from '@/ports/messages'
import { useOrder } from './order'
import { usePlaying } from './playing'

/** A key for each of the first twenty patterns, as it is printed. */
export const PATTERN_KEYS = [...'1234567890QWERTYUIOP']
const CODES = PATTERN_KEYS.map((key) => (/\d/.test(key) ? `Digit${key}` : `Key${key}`))
/** The note of a MIDI keyboard for the first pattern; the next have those above it. */
export const FIRST_NOTE = 36
export const HELD_KEYS = { repeat: 'Z', higher: 'X', lower: 'C', silence: 'V' } as const
const HELD = Object.entries(HELD_KEYS) as [keyof typeof HELD_KEYS, string][]

export const ORDER_SHORTCUTS = [
  { keys: 'Space', does: 'play from the chosen block, and stop' },
  { keys: 'K', does: 'keep the last whole pass that was heard; when stopped, the whole order' },
  { keys: '← →', does: 'the block before and after' },
  { keys: 'Alt+← →', does: 'move the block' },
  { keys: '[  ]', does: 'shorten and lengthen it' },
  { keys: 'D, Delete', does: 'duplicate it, take it out' },
  { keys: 'B', does: 'brackets around the block, or none; with Shift, as far as it' },
  { keys: 'Enter', does: 'edit its pattern while the order waits' },
  { keys: '1 – 0, Q – P', does: 'go to a pattern; with Shift the other of “to stay” and “only while held”' },
  { keys: 'A', does: 'back to the order' },
  { keys: 'Z  X  C  V', does: 'while held: repeat, higher, lower, silence' },
  { keys: 'Escape', does: 'close the order' },
]

export function useOrderKeys({ edit, close }: { edit: () => void; close: () => void }): void {
  const order = useOrder()
  const player = usePlaying()
  const piece = usePiece()
  const down = new Map<string, () => void>() // what letting go of a key does

  function onBlock(change: (place: number) => OrderEdit, then?: (place: number) => number): void {
    if (order.chosen !== null && order.block) void order.commit([change(order.chosen)], then?.(order.chosen))
  }
  function step(by: number): void {
    const last = (order.view?.blocks.length ?? 0) - 1
    if (last >= 0) order.choose(Math.min(last, Math.max(0, (order.chosen ?? (by > 0 ? -1 : last + 1)) + by)))
  }
  function move(by: number): void {
    const last = (order.view?.blocks.length ?? 0) - 1
    const to = (order.chosen ?? 0) + by
    if (to >= 0 && to <= last) onBlock((block) => ({ do: 'move_block', block, to }), () => to)
  }
  function brackets(further: boolean): void {
    const [place, between] = [order.chosen, order.view?.between]
    if (place === null || !order.block) return
    const isIn = between && place >= between[0] && place <= between[1]
    const blocks: [number, number] | null = further && between
      ? [Math.min(between[0], place), Math.max(between[1], place)] : isIn ? null : [place, place]
    void order.commit([{ do: 'between', blocks }])
  }
  const length = (by: number) => () => {
    const count = (order.block?.count ?? 1) + by
    if (count >= 1 && count <= 512) onBlock((block) => ({ do: 'set_length', block, count }))
  }
  /** Wherever the focus is. */
  const anywhere: Record<string, (shift: boolean) => void> = {
    '[': length(-1), ']': length(1),
    d: () => onBlock((block) => ({ do: 'duplicate_block', block }), (block) => block + 1),
    b: brackets,
    a: player.backToOrder,
    Escape: close,
  }
  /** Where no other control takes them. */
  const walking: Record<string, () => void> = {
    ArrowLeft: () => step(-1), ArrowRight: () => step(1),
    Delete: () => onBlock((block) => ({ do: 'remove_block', block })),
    Backspace: () => onBlock((block) => ({ do: 'remove_block', block })),
    Enter: edit,
  }
  const moving: Record<string, () => void> = { ArrowLeft: () => move(-1), ArrowRight: () => move(1) }
  /** Go to a pattern by its place, to stay or while the key is held; returns what letting go does. */
  function go(place: number, other: boolean): (() => void) | null {
    const pattern = piece.patterns[place]
    if (!pattern) return null
    const onlyHeld = player.whileHeld !== other && player.playing
    player.goTo(pattern.id, onlyHeld)
    return () => onlyHeld && player.comeBack(pattern.id)
  }
  /** What pressing a key begins, if it is one for hands: it returns what letting it go does. */
  function hand(code: string, shift: boolean): (() => (() => void) | null) | null {
    const place = CODES.indexOf(code)
    if (place >= 0 && piece.patterns[place]) return () => go(place, shift)
    const what = HELD.find(([, key]) => code === `Key${key}`)?.[0]
    if (!what) return null
    return () => {
      player.press(what)
      return () => player.release(what)
    }
  }

  useMusicKeys(({ key, code, shift, alt, command, repeat, free }) => {
    if (command) return null
    if (alt) return free ? moving[key] : null
    const begin = hand(code, shift)
    if (begin) {
      return () => {
        const end = repeat ? null : begin()
        if (end) down.set(code, end)
      }
    }
    const act = anywhere[key]
    return act ? () => act(shift) : free ? walking[key] : null
  })
  function letGo(code: string): void {
    down.get(code)?.()
    down.delete(code)
  }
  useEventListener(document, 'keyup', (event: KeyboardEvent) => letGo(event.code))
  // A window that is left never hears that a key was let go.
  useEventListener(window, 'blur', () => [...down.keys()].forEach(letGo))
  const notes = new Map<number, () => void>()
  onScopeDispose(onReceived(([status = 0, note = 0, velocity = 0]) => {
    const kind = status & 0xf0
    if (kind === NOTE_ON && velocity > 0) {
      const letNoteGo = go(note - FIRST_NOTE, false)
      if (letNoteGo) notes.set(note, letNoteGo)
    } else if (kind === NOTE_ON || kind === NOTE_OFF) {
      notes.get(note)?.()
      notes.delete(note)
    }
  }))
}
