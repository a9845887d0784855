import { isRecord } from '../work/checked.ts'
import { CancelledError } from '../work/work.ts'

/** Changes of one request at most, and characters of their bodies. */
const MOST = 100
const MOST_TEXT = 400_000

/** A request about a row, as it is sent. */
export interface Change {
  readonly method: 'GET' | 'PATCH' | 'POST' | 'DELETE'
  readonly path: string
  /** JSON. */
  readonly body?: string
  readonly headers?: Readonly<Record<string, string>>
}

/** What a service answers to one. */
export interface ChangeAnswer {
  readonly status: number
  readonly tag: string | null
  readonly text: string
}

interface Waiting {
  readonly change: Change
  readonly signal: AbortSignal | undefined
  readonly resolve: (answer: ChangeAnswer | null) => void
  readonly reject: (error: unknown) => void
}

/** Puts a batch, as JSON, and answers with what came; null: the service takes no batches after all, and did nothing. */
export type PutBatch = (body: string, signal: AbortSignal) => Promise<string | null>

/** Gathers requests that come at the same time into one (OData JSON 4.01, 19), each with its own answer. */
export class BatchedChanges {
  private readonly put: PutBatch
  private waiting: Waiting[] = []

  constructor(put: PutBatch) {
    this.put = put
  }

  /** Null: nothing was done, and it is to be sent by itself. */
  send(change: Change, signal?: AbortSignal): Promise<ChangeAnswer | null> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ change, signal, resolve, reject })
      // All that go on by what has just been answered come before this does.
      if (this.waiting.length === 1) setTimeout(() => this.flush(), 0)
    })
  }

  private flush(): void {
    const all = this.waiting
    this.waiting = []
    for (const part of partsOf(all.filter(isWanted))) void this.putPart(part)
  }

  private async putPart(part: readonly Waiting[]): Promise<void> {
    if (part.length === 1) {
      part[0].resolve(null)
      return
    }
    const given = new AbortController()
    const giveUp = (): void => {
      if (part.every(({ signal }) => signal?.aborted)) given.abort()
    }
    for (const { signal } of part) signal?.addEventListener('abort', giveUp, { once: true })
    try {
      const text = await this.put(batchText(part), given.signal)
      const answers = text === null ? null : answersIn(text)
      for (const [at, { resolve }] of part.entries())
        resolve(answers ? (answers.get(String(at)) ?? LOST) : null)
    } catch (error) {
      for (const { reject } of part) reject(error)
    } finally {
      for (const { signal } of part) signal?.removeEventListener('abort', giveUp)
    }
  }
}

/** A service that leaves an answer out is taken for one that was too busy: what came of it must be looked at. */
const LOST: ChangeAnswer = { status: 503, tag: null, text: '' }

function isWanted({ signal, reject }: Waiting): boolean {
  if (!signal?.aborted) return true
  reject(new CancelledError())
  return false
}

function partsOf(all: readonly Waiting[]): Waiting[][] {
  const parts: Waiting[][] = []
  let length = Infinity
  for (const one of all) {
    const own = one.change.body?.length ?? 0
    const part = parts.at(-1)
    if (!part || part.length === MOST || length + own > MOST_TEXT) {
      parts.push([one])
      length = own
    } else {
      part.push(one)
      length += own
    }
  }
  return parts
}

/** Bodies are taken over as they are written: numbers in them may have more digits than a double. */
const batchText = (part: readonly Waiting[]): string =>
  `{"requests":[${part
    .map(({ change: { method, path, body, headers = {} } }, at) => {
      const own = { id: String(at), method: method.toLowerCase(), url: path, headers }
      return `${JSON.stringify(own).slice(0, -1)}${body === undefined ? '' : `,"body":${body}`}}`
    })
    .join(',')}]}`

function answersIn(text: string): Map<string, ChangeAnswer> {
  let body: unknown
  try {
    body = JSON.parse(text)
  } catch {
    body = null
  }
  const list: readonly unknown[] = isRecord(body) && Array.isArray(body.responses) ? body.responses : []
  const found = list.filter(isRecord).map(({ id, status, headers, body: told }) => {
    const text = told === undefined ? '' : typeof told === 'string' ? told : JSON.stringify(told)
    return [String(id), { status: Number(status), tag: tagIn(headers), text }] as const
  })
  return new Map(found)
}

function tagIn(headers: unknown): string | null {
  if (!isRecord(headers)) return null
  const found = Object.entries(headers).find(([name]) => name.toLowerCase() === 'etag')
  return typeof found?.[1] === 'string' ? found[1] : null
}
