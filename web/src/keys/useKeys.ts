/**
 * Notes from keys, wherever they are pressed: on the screen, on the computer keyboard, on a MIDI keyboard.
 * They are heard at once, and written as the mode says: over the running lane, step by step, or held for
 * the lane's arpeggio.
 */
import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import type { Edit } from '@/api/client'
import { lettersPlay } from '@/app/keyboard'
import { useNotices } from '@/app/notices'
import { usePattern } from '@/pattern/pattern'
import { slotsOf } from '@/pattern/slots'
import { toldOf } from '@/pattern/toldOf'
import { usePlayer } from '@/sound/player'
import { useChords, type Struck } from './chords'
import { useStepping } from './stepping'

export type Mode = 'play' | 'live' | 'steps' | 'hold' | 'order' | 'degrees' | 'semitones' | 'scale' | 'call'
interface Down {
  velocity: number
  at: number
  /** What keys did when it was pressed, and the lane that was chosen. */
  does: Mode
  lane: string | null
  stop: (() => void) | null
}
interface Held {
  note: number
  velocity: number
}
type Saved = Record<string, unknown>

export const useKeys = defineStore('keys', () => {
  const pattern = usePattern()
  const player = usePlayer()
  const notices = useNotices()
  /** What keys do while their drawer is open; else they are only heard. */
  const mode = ref<Mode>('play')
  const acting = computed<Mode>(() => (lettersPlay.value ? mode.value : 'play'))
  /** Whether held notes stay when the keys are let go, and whether new ones add to them. */
  const latched = ref(true)
  const adding = ref(false)
  /** Whether the sustain pedal is let alone. */
  const pedalAlone = useLocalStorage('jolly-pedal-alone', false)
  const down = ref(new Map<number, Down>())
  const pedal = ref(false)
  /** Arpeggios that keys can call up, from C upward. */
  const saved = useLocalStorage<Saved[]>('jolly-arpeggios', [])
  /** The note that does not move a lane: those above and below it do, by their distance. */
  const CENTRE = 60
  const pressed = computed(() => [...down.value.keys()])
  const stepping = useStepping(computed(() => acting.value === 'steps'))
  const chords = useChords((notes) => void (acting.value === 'order' ? writeOrder(notes) : stepping.fill(notes)))
  /** The lane whose order the next key begins from nothing. */
  const beginning = ref('')
  /** What is held as it was just said, until the recipe says so itself. */
  const said = ref<{ of: string; notes: Held[] } | null>(null)
  const here = () => `${pattern.id}/${pattern.chosen}`
  /** The notes that the chosen lane's arpeggio holds. */
  const held = computed<Held[]>(() => {
    if (said.value?.of === here()) return said.value.notes
    const stored = toldOf(pattern.view, pattern.chosen)?.arpeggio?.held as Partial<Held>[] | undefined
    return (stored ?? []).filter((each): each is Held => each.note !== undefined)
  })

  const lane = () => pattern.chosen
  const commit = (...edits: Edit[]) => pattern.commit(edits)
  /** What keys do to the chosen lane: they are only heard where it plays no notes, and that is said. */
  function does(): Mode {
    const writes = ['live', 'steps', 'hold', 'order'].includes(acting.value)
    if (!writes || pattern.lane?.kind !== 'control') return acting.value
    notices.say(`${pattern.lane.name} moves a controller; choose a lane that plays notes.`)
    return 'play'
  }
  function preview(...edits: Edit[]): void {
    if (!edits.length) said.value = null
    void pattern.preview(edits)
  }

  /** `alone`: by a hand that cannot press several keys at once, as a mouse. `at`: when, in milliseconds. */
  function press(pitch: number, velocity: number, alone = false, at = performance.now()): void {
    if (down.value.has(pitch) || pitch < 0 || pitch > 127) return
    const mode = does()
    const quiet = mode === 'degrees' || mode === 'semitones' || mode === 'call' || (mode === 'hold' && player.playing)
    const none = down.value.size === 0
    const note: Down = { velocity, at: player.beatNow(), stop: null, does: mode, lane: lane() }
    down.value = new Map(down.value).set(pitch, note)
    if (!quiet) void player.hearKey(heardAs(pitch), velocity).then((stop) => {
      if (down.value.get(pitch) === note) note.stop = stop
      else stop()
    })
    if (mode === 'steps' || mode === 'order') chords.down(pitch, velocity, at, none)
    if (mode === 'hold') hold(pitch, velocity, none && !alone)
    if (mode === 'degrees' || mode === 'semitones') move(pitch - CENTRE)
    if (mode === 'call') call(pitch)
    if (mode === 'scale') draw(pitch)
  }
  function release(pitch: number, at = performance.now()): void {
    const note = down.value.get(pitch)
    if (!note) return
    const left = new Map(down.value)
    left.delete(pitch)
    down.value = left
    note.stop?.()
    const { does: mode, lane: id } = note
    if (!id) return
    if (mode === 'live' && player.playing) {
      const length = Math.max(0.02, player.beatNow() - note.at)
      void commit({
        do: 'play_in', lane: id, notes: [{ pitch, velocity: note.velocity, at: Math.max(0, note.at), length }],
      })
    }
    if (mode === 'steps' || mode === 'order') chords.up(pitch, at, left.size === 0)
    if (left.size) return
    if (mode === 'hold' && !latched.value && !pedal.value) preview()
    if (mode === 'degrees' || mode === 'semitones' || mode === 'call') preview()
  }
  /** A note is held; with `stays`, one that is held already is let go. `anew`: by a new hand. */
  function hold(pitch: number, velocity: number, anew: boolean): void {
    const id = lane()
    if (!id) return
    const others = held.value.filter(({ note }) => note !== pitch)
    const letsGo = latched.value && others.length < held.value.length
    const replaces = anew && !adding.value && !(pedal.value && !pedalAlone.value)
    const notes = letsGo ? others : [...(replaces ? [] : others), { note: pitch, velocity }]
    const now = (said.value = { of: here(), notes })
    const edit: Edit = { do: 'hold', lane: id, notes, adding: false }
    if (!latched.value) return preview(edit)
    void commit(edit).finally(() => {
      if (said.value === now) said.value = null
    })
  }
  /** What sounds for a drum that the lane walks over. */
  function heardAs(pitch: number): number {
    const pool = toldOf(pattern.view, pattern.chosen)?.pool
    return pool?.heard[pool.row.indexOf(pitch)] ?? pitch
  }
  /** The next entry of the order in which the lane walks: what is played, or a rest or a hold. */
  async function writeOrder(notes: Struck[], hold = false): Promise<void> {
    const id = lane()
    if (!id) return
    const [pool, name] = [toldOf(pattern.view, id)?.pool, pattern.lane?.name]
    if (pool === null) return notices.say(`${name} has no arpeggio, whose order this would be; add one to it first.`)
    if (pool && !pool.row.length) return notices.say(`${name} has nothing to walk over yet; hold some notes first.`)
    const begin = beginning.value === here()
    beginning.value = ''
    await commit({ do: 'write_order', lane: id, notes: notes.map(({ pitch }) => pitch), hold, begin })
  }
  const beginOrder = () => (beginning.value = beginning.value === here() ? '' : here())
  const begins = computed(() => beginning.value === here())
  // What is pressed while a lane is left is not the next one's.
  watch(() => [pattern.id, pattern.chosen], chords.forget)
  function move(by: number): void {
    const id = lane()
    if (!id) return
    const [degrees, semitones] = mode.value === 'degrees'
      ? [Math.max(-64, Math.min(64, by)), 0]
      : [0, Math.max(-48, Math.min(48, by))]
    preview(...[id, ...pattern.also].map((each): Edit => ({ do: 'move_pitch', lane: each, degrees, semitones })))
  }
  /** Put a note into the scale that the chosen lane stands on, its own or the pattern's, or take it out. */
  function draw(pitch: number): void {
    const scale = pattern.lane?.scale
    if (!scale) return notices.say('Choose a melody: its scale is the one that is drawn.')
    const above = (pitch - scale.root + 120) % 12
    if (above === 0) return notices.say('The root is always in its scale; the word for the root moves it.')
    const notes = scale.notes.includes(above)
      ? scale.notes.filter((note) => note !== above)
      : [...scale.notes, above].sort((a, b) => a - b)
    const own = slotsOf(pattern.view?.chosen?.sentence.clauses ?? []).some(({ slot }) => slot === 'key.scale')
    const set = (slot: string, value: unknown): Edit =>
      ({ do: 'set', lane: own ? lane() : null, slot, value, also: [] })
    void commit(set('key.scale', 'own'), set('key.notes', notes))
  }
  function call(pitch: number): void {
    const id = lane()
    const arpeggio = saved.value[pitch % 12]
    if (id && arpeggio) preview({ do: 'arpeggio', lane: id, arpeggio })
  }
  /** The pedal holds like a hand, unless it is let alone. */
  function setPedal(to: boolean): void {
    if (pedalAlone.value || pedal.value === to) return
    pedal.value = to
    if (!to && acting.value === 'hold' && !latched.value && !down.value.size) preview()
  }
  function releaseAll(): void {
    for (const pitch of down.value.keys()) release(pitch)
  }
  function setMode(to: Mode): void {
    releaseAll()
    mode.value = to
  }
  return {
    mode, setMode, held, latched, adding, pedal, pedalAlone, setPedal, pressed, saved, press, release, releaseAll,
    stepping, heardAs, writeOrder, beginOrder, begins,
  }
})
