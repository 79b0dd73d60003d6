/** What makes buffers: a context of the browser's, or the sound library's. */
type Maker = Pick<BaseAudioContext, 'createBuffer' | 'sampleRate'>
const noises = new WeakMap<Maker, AudioBuffer>()

/** A second of even noise, the same each time. */
export function evenNoise(context: Maker): AudioBuffer {
  let buffer = noises.get(context)
  if (!buffer) {
    buffer = context.createBuffer(1, context.sampleRate, context.sampleRate)
    const samples = buffer.getChannelData(0)
    let seed = 1
    for (let i = 0; i < samples.length; i += 1) {
      seed = (seed * 16_807) % 2_147_483_647
      samples[i] = (seed / 2_147_483_647) * 2 - 1
    }
    noises.set(context, buffer)
  }
  return buffer
}
