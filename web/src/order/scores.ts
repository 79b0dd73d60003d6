/** What patterns play, ahead of time: views of revisions with edits, asked for stretch by stretch and kept at hand. */
import type { Edit, View } from '@/api/client'
import { lookAt } from '@/pattern/inParts'
import type { Source } from '@/pattern/sight'
import { prepare } from '@/sound/output'
import { drumsIn } from '@/sound/strikeView'

/** A view is asked for over so many beats. */
const STRETCH = 32
/** So many views of each are kept; the oldest go first. */
const MOST_VIEWS = 6

export interface Score {
  pattern: number
  source: Source
}
interface Known {
  score: Score
  views: View[]
  asking: boolean
}
const keyOf = (pattern: number, { revision, edits }: Source) => JSON.stringify([pattern, revision, edits])

export class Scores {
  private readonly known = new Map<string, Known>()

  constructor(private readonly trouble: (problem: unknown) => void) {}

  /** The same object for the same revision and edits, so that it can be told from another. */
  of(pattern: number, revision: number, edits: Edit[]): Score {
    const source = { revision, edits }
    const key = keyOf(pattern, source)
    const found = this.known.get(key) ?? { score: { pattern, source }, views: [], asking: false }
    this.known.set(key, found)
    return found.score
  }
  /** The view of a score that holds one of its own beats; it is asked for where there is none yet. */
  view(score: Score, own: number): View | null {
    const entry = this.known.get(keyOf(score.pattern, score.source))
    if (!entry) return null
    const found = entry.views.find((view) => own >= view.start - 1e-9 && own < view.end - 1e-9)
    if (!found && !entry.asking) void this.ask(entry, own)
    return found ?? null
  }
  private async ask(entry: Known, own: number): Promise<void> {
    entry.asking = true
    const { pattern, source } = entry.score
    const start = Math.max(0, Math.floor(own + 1e-9))
    try {
      const view = await lookAt(pattern, { ...source, start, end: start + STRETCH, chosen: null })
      entry.views = [...entry.views, view].slice(-MOST_VIEWS)
      prepare(drumsIn(view))
    } catch (problem) {
      this.trouble(problem)
      await new Promise((resolve) => setTimeout(resolve, 2000)) // no faster than this while it cannot be had
    } finally {
      entry.asking = false
    }
  }
  forget(): void {
    this.known.clear()
  }
}
