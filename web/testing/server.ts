/** A server for tests of the page: each call waits until the test answers it. */
import { vi } from 'vitest'

export interface Call {
  method: string
  path: string
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- bodies are of many kinds
  body: any
  /** Answer it, and let the page go on with that. */
  answer: (data: unknown, status?: number) => Promise<void>
  /** The network is gone. */
  lose: () => Promise<void>
  /** Whether the page has given it up. */
  givenUp: boolean
}

/** Let everything go on that waits for no answer. */
export const settle = () => new Promise<void>((resolve) => setTimeout(resolve))

export class FakeServer {
  /** The calls that are not answered yet, oldest first. */
  readonly open: Call[] = []

  constructor() {
    vi.stubGlobal('fetch', (request: Request, init?: RequestInit) => this.take(request, init?.signal))
  }
  private async take(request: Request, signal?: AbortSignal | null): Promise<Response> {
    const text = await request.text()
    return new Promise((resolve, reject) => {
      signal?.addEventListener('abort', () => {
        call.givenUp = true
        reject(new DOMException('', 'AbortError'))
      })
      const call: Call = {
        method: request.method,
        path: new URL(request.url, 'http://page/').pathname.replace('/api/', ''),
        body: text ? JSON.parse(text) : null,
        answer: (data, status = 200) => {
          resolve(new Response(JSON.stringify(data), { status, headers: { 'Content-Type': 'application/json' } }))
          return settle()
        },
        lose: () => {
          reject(new TypeError('Failed to fetch'))
          return settle()
        },
        givenUp: false,
      }
      this.open.push(call)
    })
  }
  /** The next call to a path that ends so, taken from those that wait. */
  async next(end: string): Promise<Call> {
    const at = await vi.waitFor(() => {
      const found = this.open.findIndex(({ path }) => path.endsWith(end))
      if (found < 0) {
        throw new Error(`No call to …${end}, but to ${this.open.map(({ path }) => path).join(', ') || 'nothing'}`)
      }
      return found
    }, { interval: 2 })
    const [call] = this.open.splice(at, 1)
    if (!call) throw new Error('It is gone.')
    return call
  }
}
