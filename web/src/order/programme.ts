/** Where an order stands while it plays: which block, and which of its pattern's own beats. */
import type { OrderView, ShownBlock } from '@/api/client'
import { ratio } from '@/app/ratio'

export interface Place {
  block: number
  /** The order's own beat that sounds. */
  at: number
  /** The beat of the block's pattern that sounds. */
  own: number
  /** So many beats of the order remain in the block. */
  left: number
}

/** The stretch of the order's beats that goes round; null: it is played to its end. */
export function roundOf({ blocks, between }: Pick<OrderView, 'blocks' | 'between'>): [number, number] | null {
  const [first, last] = [blocks[between?.[0] ?? -1], blocks[between?.[1] ?? -1]]
  return first && last ? [first.at, last.at + last.beats] : null
}

/** The order's beat after so many beats of playing from one of its beats on. */
export function beatAfter(view: OrderView, from: number, beats: number): number {
  const round = roundOf(view)
  const at = from + beats
  if (!round || from >= round[1] - 1e-9 || at < round[1] - 1e-9) return at
  return round[0] + ((at - round[0] + 1e-9) % (round[1] - round[0])) - 1e-9
}

/** Where the order stands at one of its beats; null after its end. */
export function placeAt(view: OrderView, at: number): Place | null {
  const block = view.blocks.findIndex((each) => at < each.at + each.beats - 1e-9)
  const found = view.blocks[block]
  if (!found) return null
  return { block, at, own: ownBeat(found, at), left: found.at + found.beats - at }
}

/**
 * Where a block is in an order that has become another: blocks have no names, but what is as before at either end was
 * not changed.
 */
export function followed(before: OrderView, after: OrderView, block: number): number {
  const alike = ({ pattern, start, speed, edits }: ShownBlock) => JSON.stringify([pattern, start, speed, edits])
  const [was, is] = [before.blocks.map(alike), after.blocks.map(alike)]
  if (was.slice(0, block + 1).every((each, place) => each === is[place])) return block
  const shifted = block + is.length - was.length
  if (was.slice(block).every((each, place) => each === is[shifted + place])) return shifted
  const places = is.flatMap((each, place) => (each === was[block] ? [place] : []))
  return places.sort((a, b) => Math.abs(a - block) - Math.abs(b - block))[0] ?? block
}

const ownBeat = (block: ShownBlock, at: number) => block.start + (at - block.at) * ratio(block.speed)

/** The next beat of a grid at or after a beat. */
export const nextOn = (beat: number, grid: number) => (Math.ceil(beat / grid - 1e-6) || 0) * grid
