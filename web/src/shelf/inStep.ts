/**
 * A folder kept in step with clips: each clip is one file in it. What others laid there is never touched: a file is
 * the clip's as long as it is as it was left here, and one of the very same bytes may become it.
 */

export interface Wanted {
  id: number
  /** The name of its file, where no other has it. */
  file: string
  /** Tells one state of what is in its file from another. */
  state: string
}
/** A file as it was left here. */
export interface Left {
  /** Its name in the folder, and the one that was wanted. */
  name: string
  wanted: string
  state: string
  size: number
  modified: number
}
/** The files that are a clip's, by its number. */
export type Files = Map<number, Left>

/** Other systems write letters in another way, and some take capitals for small letters. */
const plain = (name: string) => name.normalize('NFC').toLowerCase()

const found = async (folder: FileSystemDirectoryHandle, name: string): Promise<File | null> => {
  try {
    return await (await folder.getFileHandle(name)).getFile()
  } catch (problem) {
    // One whose place a folder has is none that could be written.
    if (problem instanceof DOMException && ['NotFoundError', 'TypeMismatchError'].includes(problem.name)) return null
    throw problem
  }
}
const isAsLeft = (file: File | null, left: Left) => file?.size === left.size && file.lastModified === left.modified

async function isSame(file: File, bytes: Uint8Array): Promise<boolean> {
  if (file.size !== bytes.length) return false
  const there = new Uint8Array(await file.arrayBuffer())
  return there.every((byte, place) => byte === bytes[place])
}

async function write(
  folder: FileSystemDirectoryHandle, name: string, bytes: Uint8Array<ArrayBuffer>, isNew: boolean,
): Promise<File> {
  const handle = await folder.getFileHandle(name, { create: isNew })
  try {
    // What is written takes the file's place only once it is whole.
    const stream = await handle.createWritable()
    try {
      await stream.write(bytes)
      await stream.close()
    } catch (problem) {
      await stream.abort().catch(() => {})
      throw problem
    }
  } catch (problem) {
    if (isNew) await folder.removeEntry(name).catch(() => {})
    throw problem
  }
  return handle.getFile()
}

/**
 * Bring a folder in step: every wanted clip has its file there, under its name or the next that is free, with what is
 * in it now. `files` is changed as files are written, and `told` after each; where one cannot be written, it rejects,
 * and those before it stand. `ofOthers`: the names of files that are clips' of other pieces.
 */
export async function bringInStep(
  folder: FileSystemDirectoryHandle, files: Files, wanted: readonly Wanted[], ofOthers: readonly string[],
  bytesOf: (id: number) => Promise<Uint8Array<ArrayBuffer>>, told: () => Promise<void>,
): Promise<void> {
  const taken = new Set<string>()
  for await (const name of folder.keys()) taken.add(plain(name))
  const isOfOthers = (id: number, name: string) => ofOthers.some((other) => plain(other) === plain(name)) ||
    [...files].some(([other, left]) => other !== id && plain(left.name) === plain(name))

  for (const { id, file, state } of wanted) {
    const left = files.get(id)
    const there = left ? await found(folder, left.name) : null
    const ours = left && isAsLeft(there, left) ? left : null
    if (ours?.state === state && ours.wanted === file) continue
    const isOurs = (name: string) => ours !== null && plain(ours.name) === plain(name)
    const bytes = await bytesOf(id)
    const keep = async (name: string, written: File) => {
      taken.add(plain(name))
      files.set(id, { name, wanted: file, state, size: written.size, modified: written.lastModified })
      if (ours && !isOurs(name)) {
        await folder.removeEntry(ours.name)
        taken.delete(plain(ours.name))
      }
      await told()
    }
    if (ours?.wanted === file) {
      await keep(ours.name, await write(folder, ours.name, bytes, false))
      continue
    }
    const [, stem = file, ending = ''] = /^(.*?)(\.[^.]*)?$/.exec(file) ?? []
    for (let number = 1; ; number += 1) {
      const name = number === 1 ? file : `${stem} ${number}${ending}`
      const other = taken.has(plain(name)) && !isOurs(name)
      const like = other && !isOfOthers(id, name) ? await found(folder, name) : null
      if (like && (await isSame(like, bytes))) await keep(name, like)
      else if (!other) {
        // Where capitals are small letters, what is called anew so would be one file with what it was.
        if (ours && isOurs(name)) await folder.removeEntry(ours.name)
        await keep(name, await write(folder, name, bytes, true))
      } else continue
      break
    }
  }
}

/** Delete a clip's file, if it is as it was left. */
export async function deleteFile(folder: FileSystemDirectoryHandle, left: Left): Promise<void> {
  if (isAsLeft(await found(folder, left.name), left)) await folder.removeEntry(left.name)
}
