/** Notes rendered without being heard, through the same sounds and the same way out, so that they can be measured. */
import { makeMaster } from './master'
import { Sounds, type Sounded } from './sounds'

/** A note with what is usual left out: a drum of the first kit. */
type Rendered = Pick<Sounded, 'pitch' | 'channel' | 'velocity' | 'time' | 'seconds'> & Partial<Sounded>
/** A controller set at a time: channel, number, value, seconds. */
type Set = [number, number | string, number, number]

const RATE = 44_100

/** The samples of these notes over so many seconds; left, and right where the sound has two sides. */
async function render(notes: Rendered[], seconds: number, sets: Set[] = [], sides = 1): Promise<Float32Array[]> {
  const context = new OfflineAudioContext(sides, Math.ceil(seconds * RATE), RATE)
  const sounds = new Sounds(makeMaster(context).input)
  const whole = notes.map((note) => ({ by: 'dry', set: {}, lane: 'test', level: 100, pitched: false, ...note }))
  await sounds.kit.prepare(whole.filter((note) => !note.pitched))
  // In the order of time, as the player schedules them: controllers before notes.
  const turns = sets.map(([channel, number, value, time]) => ({
    time, run: () => sounds.channel(channel).set(number, value, time),
  }))
  const played = whole.map((note) => ({ time: note.time, run: () => void sounds.play(note) }))
  for (const { run } of [...turns, ...played].sort((a, b) => a.time - b.time)) run()
  const audio = await context.startRendering()
  return Array.from({ length: sides }, (_, side) => audio.getChannelData(side))
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
