// @vitest-environment happy-dom
/** What notes from keys become, mode by mode. */
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, test, vi } from 'vitest'
import { reactive } from 'vue'
import type { Edit } from '@/api/client'
import { lettersPlay } from '@/app/keyboard'
import { useNotices } from '@/app/notices'
import { useChords } from './chords'
import { useKeys } from './useKeys'

const { open } = vi.hoisted(() => ({ open: { pattern: {} as Pattern, player: {} as Player } }))
interface Pattern {
  id: number
  chosen: string | null
  also: string[]
  lane: object
  view: {
    frame_beats: number; sentence: object; chosen: {
      lane: string; sentence: object; strands: object[]; arpeggio: { held: object[] } | null,
    },
  }
  start: number
  span: number
  step: number
  steps: number[]
  tried: Edit[]
  preview: ReturnType<typeof vi.fn>
  commit: ReturnType<typeof vi.fn>
}
interface Player {
  playing: boolean
  at: number
  beatNow: () => number
  scheduledBeat: () => number
  hearKey: ReturnType<typeof vi.fn>
  hearChange: () => void
}
vi.mock('@/pattern/pattern', () => ({ usePattern: () => open.pattern }))
vi.mock('@/sound/player', () => ({ usePlayer: () => open.player }))

const drawn = { cells: [0, 0.25, 0.5, 0.75], steps: [0, 1, 2, 3], lengths: 0.25, hits: [], cycles: [0] }
const committed = () => open.pattern.commit.mock.lastCall?.[0] as Edit[]
const tried = () => open.pattern.preview.mock.lastCall?.[0] as Edit[]
const stops: number[] = []

let keys: ReturnType<typeof useKeys>
beforeEach(() => {
  localStorage.clear()
  stops.length = 0
  const pattern: Pattern = reactive({
    id: 7, chosen: 'fern', also: ['mist'],
    lane: { id: 'fern', steps: 4, drawn, scale: { root: 2, notes: [0, 2, 3, 5, 7, 9, 10] } }, start: 0, span: 4, step: 1,
    steps: [], tried: [],
    view: {
      frame_beats: 4, sentence: { clauses: [] }, chosen: { lane: 'fern', sentence: { clauses: [] }, strands: [], arpeggio: null },
    },
    preview: vi.fn(() => Promise.resolve()),
    commit: vi.fn(([edit]: Edit[]) => {
      if (edit?.do === 'hold') open.pattern.view.chosen.arpeggio = { held: edit.notes }
      return Promise.resolve(true)
    }),
  })
  open.pattern = pattern
  open.player = reactive({
    playing: false, at: 0, beatNow: () => open.player.at, scheduledBeat: () => open.player.at, hearChange: vi.fn(),
    hearKey: vi.fn((pitch: number) => Promise.resolve(() => stops.push(pitch))),
  })
  setActivePinia(createPinia())
  lettersPlay.value = true // the drawer is open
  keys = useKeys()
})

test('a key is heard from press to release, once however often it repeats', async () => {
  keys.press(60, 90)
  keys.press(60, 90)
  expect([open.player.hearKey.mock.calls, keys.pressed]).toEqual([[[60, 90]], [60]])
  await Promise.resolve()
  keys.release(60)
  expect([stops, keys.pressed, open.pattern.commit.mock.calls]).toEqual([[60], [], []])
  keys.press(61, 90)
  keys.release(61) // before its sound was even ready
  await Promise.resolve()
  expect(stops).toEqual([60, 61])
  keys.press(128, 90)
  expect(keys.pressed, 'no such note').toEqual([])
})

test('played live over the running lane, a note lies where and as long as it was held', () => {
  keys.setMode('live')
  keys.press(60, 90)
  keys.release(60)
  expect(open.pattern.commit, 'nothing runs').not.toHaveBeenCalled()
  open.player.playing = true
  open.player.at = 1.1
  keys.press(62, 80)
  open.player.at = 1.75
  keys.release(62)
  expect(committed()).toEqual([
    { do: 'play_in', lane: 'fern', notes: [{ pitch: 62, velocity: 80, at: 1.1, length: expect.closeTo(0.65) }] },
  ])
})

test('step by step, a lane is filled from its first step on, wherever the screen is', async () => {
  keys.setMode('steps')
  open.pattern.step = 3
  for (const pitch of [60, 64]) keys.press(pitch, 90)
  keys.release(60)
  expect(open.pattern.commit).not.toHaveBeenCalled()
  keys.release(64)
  const notes = [60, 64].map((pitch) => ({ pitch, velocity: 90, at: 0, length: 1 }))
  const filled = { do: 'play_step', lane: 'fern', tie: false, begin: false, notes: [] as object[] }
  expect(committed()).toEqual([{ ...filled, step: 0, notes }])
  await vi.waitFor(() => expect(open.pattern.step).toBe(1))
  void keys.stepping.fill([])
  expect(committed()).toEqual([{ ...filled, step: 1 }])
  void keys.stepping.fill([], true)
  expect(committed()).toEqual([{ ...filled, step: 2, tie: true }])
  keys.stepping.move(-1)
  expect(keys.stepping.words).toBe('step 3 of 4')
  // Another lane has a place of its own, and is not begun from nothing because this one is.
  keys.stepping.restart(true)
  expect(keys.stepping.words).toBe('step 1 of 4')
  open.pattern.chosen = 'mist'
  void keys.stepping.fill([])
  expect(committed()).toEqual([{ ...filled, lane: 'mist', step: 0 }])
  open.pattern.chosen = 'fern'
  void keys.stepping.fill([])
  expect(committed()).toEqual([{ ...filled, step: 0, begin: true }])
  open.pattern.commit.mockResolvedValueOnce(false)
  await keys.stepping.fill([])
  expect(keys.stepping.words, 'what was refused is still to come').toBe('step 2 of 4')
})

test('only pitches: a row begins with the first and grows, and goes round where one is there', () => {
  keys.setMode('steps')
  keys.stepping.row = true
  const play = (pitch: number) => {
    keys.press(pitch, 90)
    keys.release(pitch)
    const [edit] = committed()
    return edit?.do === 'play_pitch' && [edit.place, edit.begin]
  }
  expect([play(60), play(62), play(64), keys.stepping.words]).toEqual([[0, true], [1, false], [2, false], 'pitch 4'])
  open.pattern.view.chosen.strands = [{ kind: 'degree', values: [0, 1, 2] }]
  keys.stepping.restart(false)
  expect([play(60), play(62), play(64), play(65)]).toEqual([[0, false], [1, false], [2, false], [0, false]])
  void keys.stepping.fill([])
  expect(useNotices().current?.text).toMatch('no rests')
})

test('fast hands overlap: a note after the other is no chord, and one held with it is', () => {
  const struck: number[][] = []
  const chords = useChords((notes) => struck.push(notes.map(({ pitch }) => pitch)))
  const hand = (...all: [pitch: number, down: number, up: number][]) => {
    struck.length = 0
    const held = new Set<number>()
    const times = all.flatMap(([pitch, from, to]) => [[from, 1, pitch], [to, 0, pitch]] as const)
    for (const [at, goesDown, pitch] of times.sort((a, b) => a[0] - b[0])) {
      if (goesDown) {
        chords.down(pitch, 90, at, held.size === 0)
        held.add(pitch)
      } else {
        held.delete(pitch)
        chords.up(pitch, at, held.size === 0)
      }
    }
    return struck
  }
  // Twenty a second, each held into the next.
  expect(hand([60, 0, 80], [62, 50, 130], [64, 100, 180])).toEqual([[60], [62], [64]])
  expect(hand([60, 0, 300], [64, 20, 310], [67, 30, 290]), 'together').toEqual([[60, 64, 67]])
  expect(hand([60, 0, 900], [64, 120, 800], [67, 250, 950]), 'one by one').toEqual([[60, 64, 67]])
  expect(hand([60, 0, 40], [62, 60, 100])).toEqual([[60], [62]])
})

test('held notes feed the arpeggio: latched they stay, else they go with the last key or the pedal', async () => {
  const held = (...notes: number[]) =>
    [{ do: 'hold', lane: 'fern', notes: notes.map((note) => ({ note, velocity: 90 })), adding: false }]
  keys.setMode('hold')
  keys.press(60, 90)
  keys.press(64, 90)
  expect(committed()).toEqual(held(60, 64))
  keys.releaseAll()
  keys.press(67, 90)
  expect(committed(), 'a new hand, new notes').toEqual(held(67))
  keys.releaseAll()
  keys.adding = true
  keys.press(71, 90)
  expect(committed()).toEqual(held(67, 71))
  keys.releaseAll()
  await vi.waitFor(() => expect(open.pattern.view.chosen.arpeggio?.held).toHaveLength(2))
  // The drawer is closed and opened: nothing is forgotten, and keys are only heard meanwhile.
  lettersPlay.value = false
  keys.press(50, 90)
  keys.release(50)
  lettersPlay.value = true
  expect([keys.mode, keys.held.map(({ note }) => note)]).toEqual(['hold', [67, 71]])
  keys.press(67, 90)
  expect(committed(), 'a held key that is pressed again is let go').toEqual(held(71))
  keys.releaseAll()
  keys.adding = false
  keys.press(74, 90, true)
  expect(committed(), 'a mouse adds').toEqual(held(71, 74))
  keys.releaseAll()
  // Another lane holds nothing of it.
  open.pattern.chosen = 'mist'
  keys.press(60, 90, true)
  expect(committed()).toEqual(held(60).map((edit) => ({ ...edit, lane: 'mist' })))
  keys.releaseAll()
  open.pattern.chosen = 'fern'
  await vi.waitFor(() => expect(keys.held).toHaveLength(1))
  keys.latched = keys.adding = false
  keys.press(60, 90)
  expect(tried()).toEqual(held(60))
  keys.setPedal(true)
  keys.release(60)
  expect(tried(), 'the pedal holds').toEqual(held(60))
  keys.setPedal(false)
  expect(tried()).toEqual([])
})

test('keys move the chosen lanes by their distance from the middle, until they are let go', () => {
  keys.setMode('degrees')
  keys.press(57, 90)
  expect(tried()).toEqual(['fern', 'mist'].map((lane) => ({ do: 'move_pitch', lane, degrees: -3, semitones: 0 })))
  expect(open.player.hearKey).not.toHaveBeenCalled()
  keys.release(57)
  expect(tried()).toEqual([])
  keys.setMode('semitones')
  keys.press(127, 90)
  expect(tried()[0], 'as far as a lane may be moved').toMatchObject({ degrees: 0, semitones: 48 })
})

test('keys draw a scale: in, out, and never without its root', () => {
  keys.setMode('scale')
  keys.press(63, 90)
  expect(
    committed().map((edit) => edit.do === 'set' && [edit.lane, edit.slot, edit.value]),
  ).toEqual([[null, 'key.scale', 'own'], [null, 'key.notes', [0, 1, 2, 3, 5, 7, 9, 10]]])
  keys.press(64, 90)
  expect(committed()[1]).toMatchObject({ value: [0, 3, 5, 7, 9, 10] })
  keys.press(62, 90)
  expect(useNotices().current?.text).toMatch('The root is always in its scale')
  open.pattern.lane = { id: 'pump', drawn, scale: null }
  keys.press(65, 90)
  expect(useNotices().current?.text).toMatch('Choose a melody')
})

test('saved arpeggios are called up from C upward while a key is held', () => {
  keys.saved = [{ order: 'up' }, { order: 'down' }]
  keys.setMode('call')
  keys.press(61, 90)
  expect(tried()).toEqual([{ do: 'arpeggio', lane: 'fern', arpeggio: { order: 'down' } }])
  keys.press(66, 90)
  expect(open.pattern.preview, 'nothing is saved there').toHaveBeenCalledOnce()
  keys.releaseAll()
  expect(tried()).toEqual([])
})
