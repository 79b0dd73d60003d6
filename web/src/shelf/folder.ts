/** The folder on the musician's disk that the open piece's Shelf keeps in step, where the browser can. */
import { createStore, del, entries, get, set } from 'idb-keyval'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, ask, Refusal } from '@/api/client'
import { many } from '@/app/many'
import { useNotices } from '@/app/notices'
import { bringInStep, deleteFile, type Files } from './inStep'
import { useShelf } from './shelf'

interface Kept {
  folder: FileSystemDirectoryHandle
  files: Files
}
/** `step`: as it is; `let in`: the browser asks anew after a while; `trouble`: something is in the way. */
type Standing = 'step' | 'writing' | 'let in' | 'trouble'

export const foldersWork = () => 'showDirectoryPicker' in window
/** By the number of the piece. */
const folders = createStore('jolly-folders', 'folders')
/** One tab at a time, and one piece: two may keep one folder in step. */
const byItself = <T>(what: () => Promise<T>) => navigator.locks.request('folders', what)
const MAY_WRITE = { mode: 'readwrite' } as const

/** What is in the way, and what to do about it. */
function toldOf(problem: unknown, folder: string): string {
  const kind = problem instanceof DOMException ? problem.name : ''
  if (kind === 'NotFoundError') return `The folder “${folder}” is not there any more: choose it anew, or another.`
  if (kind === 'QuotaExceededError') return `There is no room left where “${folder}” is: make some, then try again.`
  if (kind === 'NotAllowedError' || kind === 'NoModificationAllowedError') {
    return `Nothing may be written into “${folder}” now: close what holds its files, or choose another folder.`
  }
  if (problem instanceof Refusal) return problem.message
  console.error(problem)
  return `“${folder}” could not be written to: try again, or choose another folder.`
}

export const useFolder = defineStore('folder', () => {
  const notices = useNotices()
  const shelf = useShelf()
  const kept = shallowRef<Kept | null>(null)
  const standing = ref<Standing>('step')
  const told = ref('')
  const name = computed(() => kept.value?.folder.name ?? '')
  const wanted = computed(() => shelf.clips.map((clip) => ({
    id: clip.id, file: clip.file, state: `${clip.revision} ${clip.name}`,
  })))
  /** The files of clips that are off the Shelf. */
  const over = computed(() => [...kept.value?.files ?? []].filter(
    ([id]) => !shelf.clips.some((clip) => clip.id === id),
  ))

  async function bytesOf(id: number): Promise<Uint8Array<ArrayBuffer>> {
    const params = { path: { clip_id: id } }
    const blob = (await ask(api.GET('/api/clips/{clip_id}/midi', { params, parseAs: 'blob' }))) as Blob
    return new Uint8Array(await blob.arrayBuffer())
  }
  /** Do something with the folder of the open piece, as it was kept last: also another tab may keep it in step. */
  async function alone(what: (of: Kept, remember: () => Promise<void>) => Promise<void>): Promise<void> {
    const piece = shelf.piece
    await byItself(async () => {
      const now = await get<Kept>(piece, folders)
      if (!now || piece !== shelf.piece) return
      await what(now, async () => {
        await set(piece, now, folders)
        if (piece === shelf.piece) kept.value = { ...now }
      })
    })
  }
  /** The files in a folder that are clips' of other pieces. */
  async function ofOthers(folder: FileSystemDirectoryHandle): Promise<string[]> {
    const all = (await entries<number, Kept>(folders)).filter(([at]) => at !== shelf.piece)
    const same = await Promise.all(all.map(([, other]) => other.folder.isSameEntry(folder)))
    return all.flatMap(([, { files }], at) => (same[at] ? [...files.values()].map(({ name: file }) => file) : []))
  }
  function inTheWay(problem: unknown): void {
    standing.value = 'trouble'
    told.value = toldOf(problem, name.value)
  }
  let again = false
  async function bring(): Promise<void> {
    if (!kept.value) return
    if (standing.value === 'writing') {
      again = true
      return
    }
    const piece = shelf.piece
    standing.value = 'writing'
    try {
      let stands: Standing = 'step'
      await alone(async (now, remember) => {
        if ((await now.folder.queryPermission(MAY_WRITE)) === 'granted') {
          await bringInStep(now.folder, now.files, wanted.value, await ofOthers(now.folder), bytesOf, remember)
        } else stands = 'let in'
      })
      standing.value = stands
    } catch (problem) {
      inTheWay(problem)
    }
    if (again || piece !== shelf.piece) {
      again = false
      await bring()
    }
  }

  watch(() => shelf.piece, async (piece) => {
    kept.value = null
    const known = piece ? await get<Kept>(piece, folders).catch(() => undefined) : undefined
    if (piece !== shelf.piece || !known) return
    kept.value = known
    await bring()
  }, { immediate: true })
  watch(wanted, bring)

  /** Ask for a folder; what lies in one that was kept in step before stays there. */
  async function choose(): Promise<void> {
    const piece = shelf.piece
    const folder = await window.showDirectoryPicker({ id: 'shelf', ...MAY_WRITE }).catch((problem: unknown) => {
      // The hand that closes the window of the system is no trouble.
      if (!(problem instanceof DOMException && problem.name === 'AbortError')) notices.trouble(problem)
      return null
    })
    if (!folder || piece !== shelf.piece) return
    const before = kept.value
    if (!before || !(await before.folder.isSameEntry(folder))) {
      kept.value = { folder, files: new Map() }
      if (before) {
        notices.say(`Kept in step is “${folder.name}” now; what lies in “${before.folder.name}” stays there.`)
      }
    }
    if (await notices.attempt(() => byItself(() => set(piece, kept.value, folders)))) await bring()
  }
  /** What the browser asks after a hand has pressed something. */
  async function letIn(): Promise<void> {
    if ((await kept.value?.folder.requestPermission(MAY_WRITE)) === 'granted') await bring()
  }
  async function leave(): Promise<void> {
    const { piece } = shelf
    const files = kept.value?.files.size ?? 0
    const was = name.value
    kept.value = null
    await byItself(() => del(piece, folders))
    notices.say(`“${was}” is kept in step no more; its ${many(files, 'file')} stay there.`)
  }
  /** Delete the files of clips that are off the Shelf, or leave them to whoever wants them. */
  async function clear(deleting: boolean): Promise<void> {
    try {
      await alone(async (now, remember) => {
        for (const [id, left] of over.value) {
          if (deleting) await deleteFile(now.folder, left)
          now.files.delete(id)
        }
        await remember()
      })
    } catch (problem) {
      inTheWay(problem)
    }
  }

  return { kept, name, standing, told, over, choose, letIn, leave, clear, bring }
})
