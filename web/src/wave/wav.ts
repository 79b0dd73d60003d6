/** Samples as WAV files: RIFF with linear PCM of 16 or 24 bits, two sides (Microsoft and IBM, 1991). */
export const BITS = [16, 24] as const
export type Bits = (typeof BITS)[number]
const HEAD = 44
/** In bytes; a RIFF file tells its size in 32 bits. */
export const MOST_WAV = 2 ** 32 - HEAD

/** The head of a file with so many frames. */
export function wavHead(frames: number, rate: number, bits: Bits): Uint8Array<ArrayBuffer> {
  const frame = (2 * bits) / 8
  const view = new DataView(new ArrayBuffer(HEAD))
  const word = (at: number, letters: string) =>
    [...letters].forEach((letter, i) => view.setUint8(at + i, letter.charCodeAt(0)))
  word(0, 'RIFF')
  view.setUint32(4, HEAD - 8 + frames * frame, true)
  word(8, 'WAVEfmt ')
  view.setUint32(16, 16, true)
  view.setUint16(20, 1, true)
  view.setUint16(22, 2, true)
  view.setUint32(24, rate, true)
  view.setUint32(28, rate * frame, true)
  view.setUint16(32, frame, true)
  view.setUint16(34, bits, true)
  word(36, 'data')
  view.setUint32(40, frames * frame, true)
  return new Uint8Array(view.buffer)
}

/** Whole numbers as the bytes of samples. */
export function pcm(samples: Int32Array, bits: Bits): Uint8Array<ArrayBuffer> {
  const wide = bits / 8
  const bytes = new Uint8Array(samples.length * wide)
  for (let i = 0, at = 0; i < samples.length; i += 1) {
    const sample = samples[i] ?? 0
    for (let byte = 0; byte < wide; byte += 1) bytes[at++] = (sample >> (8 * byte)) & 0xff
  }
  return bytes
}

/**
 * Several rows of samples, -1 to 1, times `gain`, as whole numbers that make together what all of them would be as one:
 * each is rounded from sum to sum, so that it is within one of its own, and no roundings add up.
 */
export function quantised(rows: readonly Float32Array[], gain: number, bits: Bits): Int32Array[] {
  const most = 2 ** (bits - 1)
  const length = rows[0]?.length ?? 0
  const sums = new Float64Array(length)
  const before = new Int32Array(length)
  return rows.map((row) => {
    const whole = new Int32Array(length)
    for (let i = 0; i < length; i += 1) {
      sums[i] = (sums[i] ?? 0) + (row[i] ?? 0) * gain * most
      const sum = Math.round(sums[i] ?? 0)
      whole[i] = sum - (before[i] ?? 0)
      before[i] = sum
    }
    return whole
  })
}
