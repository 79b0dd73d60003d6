/**
 * What was rendered, kept until all of it is there: frames that nothing is added to any more go to blobs, which a
 * browser may lay on its disk; what rings on stays at hand.
 */
import type { Sides } from './renderPart'

/** Frames as a blob keeps them: left and right in turns. */
export class Tape {
  private readonly kept: Blob[] = []
  /** From `done` on. */
  private left = new Float32Array(0)
  private right = new Float32Array(0)

  /** Add what was rendered from `at` frames after what is done on. */
  add([left, right]: Sides): void {
    if (left.length > this.left.length) {
      this.left = longer(this.left, left.length)
      this.right = longer(this.right, left.length)
    }
    for (let i = 0; i < left.length; i += 1) {
      this.left[i] = (this.left[i] ?? 0) + (left[i] ?? 0)
      this.right[i] = (this.right[i] ?? 0) + (right[i] ?? 0)
    }
  }
  /** So many frames are done. */
  finish(frames: number): void {
    this.kept.push(new Blob([interleaved(this.left, this.right, 0, frames)]))
    this.left = this.left.slice(frames)
    this.right = this.right.slice(frames)
  }
  async part(number: number): Promise<Float32Array> {
    return new Float32Array((await this.kept[number]?.arrayBuffer()) ?? new ArrayBuffer(0))
  }
  /** What rings on after all that is done, left and right in turns. */
  tail(): Float32Array {
    return interleaved(this.left, this.right, 0, this.left.length)
  }
}

function longer(samples: Float32Array, length: number): Float32Array<ArrayBuffer> {
  const more = new Float32Array(length)
  more.set(samples)
  return more
}

function interleaved(left: Float32Array, right: Float32Array, from: number, to: number): Float32Array<ArrayBuffer> {
  const both = new Float32Array(2 * (to - from))
  for (let i = from; i < to; i += 1) {
    both[2 * (i - from)] = left[i] ?? 0
    both[2 * (i - from) + 1] = right[i] ?? 0
  }
  return both
}
