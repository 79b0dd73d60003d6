/** Notes rendered without being heard, through the same kit and the same way out, so that they can be measured. */
import { Kit } from '@/drum/kit'
import { makeMaster } from './master'

export interface Struck {
  pitch: number
  channel: number
  velocity: number
  /** In seconds from the start. */
  time: number
  seconds: number
}

const RATE = 44_100

/** The samples of these notes over so many seconds. */
async function render(notes: Struck[], seconds: number): Promise<Float32Array> {
  const context = new OfflineAudioContext(1, Math.ceil(seconds * RATE), RATE)
  const kit = new Kit(makeMaster(context).input)
  await kit.prepare(notes.map((note) => note.pitch))
  for (const note of notes) kit.play(note.pitch, note.channel, note.velocity, note.time, note.seconds)
  return (await context.startRendering()).getChannelData(0)
}

declare global {
  interface Window {
    jollyRender?: typeof render
  }
}

/** Offer it to tests and measurements, which lay a list for notes on the page first. */
export function offerRendering(): void {
  if (window.jollyScheduled) window.jollyRender = render
}
