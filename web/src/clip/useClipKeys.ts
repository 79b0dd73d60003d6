/** Keys that change an open clip; what they are, for the list of shortcuts. */
import type { ClipEdit, ClipView } from '@/api/client'
import { useMusicKeys } from '@/app/keyboard'
import { useClip } from './clip'

export const CLIP_SHORTCUTS = [
  { keys: '← →', does: 'the note before and after; with Shift, choose on the way' },
  { keys: '↑ ↓', does: 'the nearest note of another lane' },
  { keys: 'Alt+← →, Alt+↑ ↓', does: 'move the chosen notes by a step, or by a degree' },
  { keys: '[  ]', does: 'shorten and lengthen them by a step' },
  { keys: ',  .', does: 'softer and louder by 5' },
  { keys: 'Enter', does: 'add a note after the chosen one' },
  { keys: 'Delete', does: 'delete them' },
  { keys: 'Ctrl+C, X, V, A', does: 'copy, cut, paste, choose all' },
  { keys: '+  −', does: 'closer and wider' },
  { keys: 'B', does: 'brackets around what is chosen, or none' },
  { keys: 'Escape', does: 'choose nothing; forget a tool; close the clip' },
]

interface Look {
  zoom: (times: number) => void
  show: (beat: number) => void
  close: () => void
}

export function useClipKeys({ zoom, show, close }: Look): void {
  const clip = useClip()
  let clipboard: { notes: ClipView['notes']; from: ClipView } | null = null

  const notes = () => clip.state?.view.notes ?? []
  function go(to: number, more: boolean): void {
    const note = notes()[to]
    if (!note) return
    clip.choose(more ? [...clip.chosen, to] : [to])
    last = to
    show(note[0])
  }
  let last = -1
  /** The note that keys walk from. */
  const here = () => (clip.chosen.includes(last) ? last : (clip.chosen.at(-1) ?? -1))
  function walk(by: number, more: boolean): void {
    const from = here()
    const lane = notes()[from]?.[4]
    if (lane === undefined) return go(by > 0 ? 0 : notes().length - 1, false)
    for (let place = from + by; place >= 0 && place < notes().length; place += by) {
      if (notes()[place]?.[4] === lane) return go(place, more)
    }
  }
  function climb(by: number, more: boolean): void {
    const from = notes()[here()]
    if (!from) return walk(1, false)
    const lanes = notes().map((note) => note[4])
    for (let lane = from[4] + by; lane >= 0 && lane <= Math.max(...lanes); lane += by) {
      const near = notes().reduce((best, note, place) =>
        note[4] === lane && (best < 0 || Math.abs(note[0] - from[0]) < Math.abs((notes()[best]?.[0] ?? 0) - from[0]))
          ? place
          : best, -1)
      if (near >= 0) return go(near, more)
    }
  }
  function onChosen(edit: (chosen: number[]) => ClipEdit): void {
    if (clip.chosen.length && !clip.trying) void clip.commit([edit(clip.chosen)])
  }
  const move = (later: number, degrees: number) =>
    onChosen((chosen) => ({ do: 'move_notes', notes: chosen, later, degrees, semitones: 0, copy_them: false }))
  const lengthen = (by: number) => onChosen((chosen) => ({ do: 'lengthen_notes', notes: chosen, by }))
  const louder = (by: number) => onChosen((chosen) => ({ do: 'louden_notes', notes: chosen, by, to: null }))
  const remove = () => onChosen((chosen) => ({ do: 'remove_notes', notes: chosen }))

  function add(): void {
    const { view } = clip.state ?? {}
    if (!view || clip.trying) return
    const from = notes()[here()]
    const lane = view.lanes.findIndex(({ kind }) => kind !== 'control')
    const [start, length, pitch, velocity, row] = from ?? [
      -clip.step, clip.step, view.lanes[lane]?.kind === 'pitched' ? 60 : 36, 96, lane,
    ]
    const at = Math.floor(start / clip.step + 1e-9) * clip.step + clip.step
    const into = view.lanes[row]
    if (into && at < view.beats) {
      void clip.commit([{ do: 'add_notes', notes: [{ start: at, length, pitch, velocity, lane: into.id }] }])
    }
  }
  function copy(): void {
    const from = clip.state?.view
    if (from && clip.chosen.length) {
      clipboard = { from, notes: clip.chosen.map((place) => notes()[place]).filter((note) => note !== undefined) }
    }
  }
  /** Paste at the left bracket, or a grid step after what is chosen; in lanes of the same name. */
  function paste(): void {
    const { view } = clip.state ?? {}
    const first = clipboard?.notes[0]
    if (!view || !clipboard || !first || clip.trying) return
    const after = Math.max(0, ...clip.chosen.map((place) => (notes()[place]?.[0] ?? 0) + clip.step))
    const at = clip.round?.[0] ?? Math.ceil(after / clip.step - 1e-6) * clip.step
    const base = Math.floor(first[0] / clip.step + 1e-6) * clip.step
    const { from } = clipboard
    const made = clipboard.notes.flatMap(([start, length, pitch, velocity, row, tune]) => {
      const lane = view.lanes.find(({ name }) => name === from.lanes[row]?.name)
      const place = at + start - base
      if (!lane || place < 0 || place >= view.beats) return []
      return [{ start: place, length, pitch, velocity, lane: lane.id, tune }]
    })
    if (made.length) void clip.commit([{ do: 'add_notes', notes: made }])
  }
  function bracket(): void {
    const chosen = clip.chosen.map((place) => notes()[place]).filter((note) => note !== undefined)
    if (clip.round || !chosen.length) return void (clip.round = null)
    const from = Math.floor((chosen[0]?.[0] ?? 0) / clip.step + 1e-6) * clip.step
    const to = Math.ceil(Math.max(...chosen.map(([start]) => start)) / clip.step + 1e-6) * clip.step
    clip.round = [from, Math.min(clip.state?.view.beats ?? to, Math.max(from + clip.step, to))]
  }
  function giveUp(): void {
    if (clip.trying) clip.forgetTool()
    else if (clip.chosen.length) clip.choose([])
    else close()
  }

  /** Wherever the focus is. */
  const anywhere: Record<string, () => void> = {
    '[': () => lengthen(-clip.step), ']': () => lengthen(clip.step), ',': () => louder(-5), '.': () => louder(5),
    '+': () => zoom(0.5), '-': () => zoom(2), b: bracket, Escape: giveUp,
  }
  /** Where no other control takes them. */
  const walking: Record<string, (more: boolean) => void> = {
    ArrowLeft: (more) => walk(-1, more), ArrowRight: (more) => walk(1, more), ArrowUp: (more) => climb(-1, more),
    ArrowDown: (more) => climb(1, more),
    Enter: () => (clip.trying ? clip.layIn() : add()), Delete: remove, Backspace: remove,
  }
  const moving: Record<string, () => void> = {
    ArrowLeft: () => move(-clip.step, 0), ArrowRight: () => move(clip.step, 0), ArrowUp: () => move(0, 1),
    ArrowDown: () => move(0, -1),
  }
  const commands: Record<string, () =>
    void> = { a: () => clip.choose(notes().map((_, place) => place)), c: copy, x: () => (copy(), remove()), v: paste }
  useMusicKeys(({ key, shift, alt, command, free }) => {
    // Text that is marked is copied as text.
    if (command) return free && !(key === 'c' && String(getSelection())) ? commands[key] : null
    if (alt) return free ? moving[key] : null
    const go = free ? walking[key] : undefined
    return anywhere[key] ?? (go && (() => go(shift)))
  })
}
