/** Pieces as files: saved, one or all, and brought in again. */
import { api, Refusal, type Schemas } from '@/api/client'
import { insist, newKey } from '@/api/insist'
import { useNotices } from '@/app/notices'
import { useProgress } from '@/app/progress'
import { STATED } from '@/generated/stated'

/** What files are offered for. */
export const PIECE_FILES = '.zip,.json,application/zip,application/json'

/** Where a file of these pieces is downloaded from; of all, where none is named. */
export const saveAddress = (pieces: number[] = []) => `/api/pieces.zip?pieces=${pieces.join(',')}`

export function usePieceFiles(done: () => Promise<unknown>) {
  const notices = useNotices()
  const progress = useProgress()

  async function send(file: File): Promise<Schemas['ArrivedOut'][]> {
    if (file.size > STATED.pieceFileBytes) {
      throw new Refusal(`a file of pieces takes up to ${STATED.pieceFileBytes / 2 ** 20} MB.`, 422)
    }
    const params = { query: { key: newKey() } }
    const body = file as unknown as string
    return insist(
      () => api.POST('/api/piece-files', {
        params, body, bodySerializer: (each) => each, headers: { 'Content-Type': 'application/octet-stream' },
      }),
    )
  }
  /** Bring in files, one after another; each is a piece or several, or recipes as the command line writes them. */
  async function bring(files: File[]): Promise<void> {
    const refused: string[] = []
    const made = await progress.each('Bringing in', files, async (file) => {
      try {
        return await send(file)
      } catch (problem) {
        refused.push(`“${file.name}”: ${problem instanceof Refusal ? problem.message : 'it cannot be read.'}`)
        return []
      }
    })
    await done()
    const names = made.flat().map(({ name }) => `“${name}”`)
    const said = names.length
      ? `${names.slice(0, 3).join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''} came in.`
      : ''
    notices.say([said, ...refused.slice(0, 2)].filter(Boolean).join(' '))
  }
  return { bring }
}
