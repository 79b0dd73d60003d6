/** The MIDI ports that the browser offers, and the simulated one; which lane goes where, remembered in this browser. */
import { useLocalStorage } from '@vueuse/core'
import { shallowRef } from 'vue'
import { simulated } from './simulated'

export interface OutPort {
  id: string
  name: string
  send: (bytes: readonly number[], time: number) => void
}
export interface InPort {
  id: string
  name: string
}

export const outPorts = shallowRef<OutPort[]>([simulated])
export const inPorts = shallowRef<InPort[]>([])
/** Whether the browser can offer ports at all. */
export const canAsk = typeof navigator !== 'undefined' && 'requestMIDIAccess' in navigator
const listeners = new Set<(bytes: readonly number[], time: number, port: string) => void>()

export const settings = useLocalStorage('jolly-ports', {
  /** The port of all lanes, '' for none; and of some lanes, by pattern and lane. */
  all: '',
  lanes: {} as Record<string, string>,
  clock: true,
  /** Milliseconds by which messages leave sooner (or, below 0, later). */
  lead: 0,
  /** The port whose clock is followed, '' for none. */
  follow: '',
})

let asked: Promise<void> | null = null
/** Ask the browser for its ports; it may ask the user. */
export function ask(): Promise<void> {
  asked ??= navigator.requestMIDIAccess().then((access) => {
    const read = () => {
      outPorts.value = [simulated, ...[...access.outputs.values()].map((port) => ({
        id: port.id, name: port.name ?? 'MIDI port',
        send: (bytes: readonly number[], time: number) => port.send([...bytes], time),
      }))]
      inPorts.value = [...access.inputs.values()].map((port) => ({ id: port.id, name: port.name ?? 'MIDI port' }))
      for (const port of access.inputs.values()) {
        port.onmidimessage = (event) => event.data && receive([...event.data], event.timeStamp, port.id)
      }
    }
    access.onstatechange = read
    read()
  }).catch((problem: unknown) => {
    asked = null
    throw problem
  })
  return asked
}
/** Hand on what a port has received. */
export function receive(bytes: readonly number[], time: number, port: string): void {
  listeners.forEach((listen) => listen(bytes, time, port))
}
/** Hear what ports receive, until what is returned is called. */
export function onReceived(listen: (bytes: readonly number[], time: number, port: string) => void): () => void {
  listeners.add(listen)
  return () => listeners.delete(listen)
}
/** The port that a lane's notes go to. */
export function portOf(lane: string): OutPort | null {
  const id = settings.value.lanes[lane] ?? settings.value.all
  return outPorts.value.find((port) => port.id === id) ?? null
}
/** All ports that something goes to. */
export const portsInUse = (): OutPort[] =>
  outPorts.value.filter(({ id }) => id === settings.value.all || Object.values(settings.value.lanes).includes(id))
