/**
 * The musician's own recordings: taken in from a file, and brought back as samples. Each goes by the SHA-256 of its
 * bytes.
 */
import { api, ask, Refusal } from '@/api/client'
import { insist } from '@/api/insist'
import { STATED } from '@/generated/stated'

/** How a lane plays a recording; see OwnSound in the recipe's schema. */
export interface Recording {
  file: string
  /** Percent of its length. */
  start?: number
  end?: number
  /** Semitones. */
  tune?: number
  /** Milliseconds. */
  fade_in?: number
  fade_out?: number
}

/** What files are offered for. */
export const ACCEPTED = '.wav,.flac,.ogg,.mp3,audio/wav,audio/flac,audio/ogg,audio/mpeg'
const RATE = 44_100
const LONGEST_NAME = 80

/** The samples of a file; rejects where the browser finds no sound in it. */
const decoded = (bytes: ArrayBuffer): Promise<AudioBuffer> => new OfflineAudioContext(2, 1, RATE).decodeAudioData(bytes)

/** Keep a file with what is one's own, once the server is there; a Refusal says in a sentence why it cannot be. */
export async function keepRecording(file: File): Promise<{ file: string; name: string }> {
  if (file.size > STATED.recordingBytes) {
    throw new Refusal(
      `“${file.name}” is larger than ${STATED.recordingBytes / 2 ** 20} MB; make it smaller and drop it once more.`,
      422,
    )
  }
  const bytes = await file.arrayBuffer()
  try {
    await decoded(bytes.slice(0))
  } catch {
    throw new Refusal(`“${file.name}” is no sound that can be read here; drop a WAV, FLAC, OGG or MP3 file.`, 422)
  }
  const digest = [
    ...new Uint8Array(await crypto.subtle.digest('SHA-256', bytes)),
  ].map((byte) => byte.toString(16).padStart(2, '0')).join('')
  await insist(() => api.PUT('/api/sounds/{digest}', {
    params: { path: { digest } }, body: new Blob([bytes]) as unknown as string,
    bodySerializer: (body) => body, headers: { 'Content-Type': 'application/octet-stream' },
  }))
  return { file: digest, name: file.name.trim().slice(0, LONGEST_NAME) || 'sound' }
}

let address = '/api/sounds'
/** Where recordings are asked for from now on: one's own, or those of what is shared. */
export const recordingsFrom = (from: string) => void (address = from)

/** The samples of a recording; null where it is not kept here, a rejection where the server is away. */
export async function recordingSamples(digest: string): Promise<AudioBuffer | null> {
  try {
    const own = `${address}/{digest}` as '/api/sounds/{digest}'
    const bytes = await ask(api.GET(own, { params: { path: { digest } }, parseAs: 'arrayBuffer' }))
    return await decoded(bytes as unknown as ArrayBuffer)
  } catch (problem) {
    if (problem instanceof Refusal && problem.away) throw problem
    return null
  }
}
