/** The typed way to the server: every call's shape comes from the OpenAPI document. */
import createClient from 'openapi-fetch'
import type { components, paths } from '@/generated/api'

export type Schemas = components['schemas']
export type View = Schemas['View']
export type InParts = Schemas['InParts']
export type Lane = Schemas['ShownLane']
export type Drawn = Schemas['DrawnLane']
export type Sentence = Schemas['Sentence']
export type Slot = Schemas['Slot']
export type Shape = NonNullable<Schemas['FollowPath']['shape']>
export type Strand = Schemas['ShownStrand']
export type KeepIn = Schemas['KeepIn']
export type State = Schemas['StateOut']
export type Piece = Schemas['PieceOut']
export type PieceWhole = Schemas['PieceWhole']
export type Pattern = Schemas['PatternOut']
export type Clip = Schemas['ClipOut']
export type ClipState = Schemas['ClipState']
export type ClipView = Schemas['ClipView']
export type ClipEdit = Schemas['ClipEditIn']['edits'][number]
export type ClipTried = Schemas['Tried']
export type OrderState = Schemas['OrderState']
export type OrderView = Schemas['OrderView']
export type OrderEdit = Schemas['OrderEditIn']['edits'][number]
export type ShownBlock = Schemas['ShownBlock']
export type Thumb = Schemas['Thumb']
export type TrailPass = Schemas['TrailOut']
export type Edit = NonNullable<Schemas['EditIn']['edits']>[number]
export type Cuttings = Schemas['CuttingsOut']
export type Throw = Schemas['OfferedThrow']
export type Strip = Schemas['Strip']
export type HeardPass = Schemas['HeardPass']

function csrfToken(): string {
  return /(?:^|;\s*)csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? ''
}

/** A server that has not answered for so long counts as away; a file takes its time on the way there. */
const PATIENCE_MS = 8000
const PATIENCE_WITH_FILES_MS = 300_000
const isFile = ({ headers, url }: Request) =>
  /^(application\/octet-stream|audio\/)/.test(headers.get('Content-Type') ?? '') ||
  /\/(midi|taken|clips\.zip)$/.test(new URL(url).pathname)

export const api = createClient<paths>({
  baseUrl: '/',
  fetch: (request) => fetch(request, {
    signal: AbortSignal.any([
      request.signal, AbortSignal.timeout(isFile(request) ? PATIENCE_WITH_FILES_MS : PATIENCE_MS),
    ]),
  }),
})

api.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrfToken())
    return request
  },
})

/** What the server refused, in the one sentence that it gave; `status` 0 means it is away. */
export class Refusal extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly body?: unknown,
  ) {
    super(message)
  }
  /** Whether trying the same again later may work. */
  get away(): boolean {
    return this.status === 0 || this.status >= 502
  }
}

export interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** The data of a call, or a Refusal. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch {
    throw new Refusal('The server is away; what you made is kept here until it is back.', 0)
  }
  if (!answer.response.ok) {
    const detail = (answer.error as { detail?: unknown } | undefined)?.detail
    const unsaid = answer.response.status === 413
      ? 'That is larger than anything that can be read here.'
      : 'The server could not do that; try it once more.'
    // By its id whoever runs the server finds what went wrong.
    const id = answer.response.status >= 500 ? answer.response.headers.get('X-Request-Id') : null
    const message = (typeof detail === 'string' ? detail : unsaid) + (id ? ` (request ${id})` : '')
    throw new Refusal(message, answer.response.status, answer.error)
  }
  return answer.data as T
}
