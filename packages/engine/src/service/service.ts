import type { SourceProblem } from '../read/source-problem.ts'
import { SourceError, type Progress } from '../source/row-source.ts'
import { errorOf, isRecord } from '../work/checked.ts'
import { CancelledError } from '../work/work.ts'
import { EventStream } from './event-stream.ts'
import { BatchedChanges, type Change, type ChangeAnswer } from './batched-changes.ts'
import type { ServiceOptions } from './service-options.ts'
import { databaseWork, preparingIn, reasonIn, rowIn, type SaidOfRow } from './answer-text.ts'
import { ARROW_STREAM } from './schema.ts'
import { Silence } from './silence.ts'
import { Turns } from './turns.ts'

/** An address longer than this is sent as the body of a question: servers and what stands between them cut it. */
const MOST_ADDRESS = 6000
/** Pauses before a question that could not be put is put again. */
const PAUSES_MS = [300, 1200, 4000]
const PATIENCE_S = 60
/** Questions on their way: services turn away who asks too many at once. */
const MOST_AT_ONCE = 8
/** Rows that are changed at once: each by itself, or many in one request. */
const FEW_CHANGES = 4
const MANY_CHANGES = 100
/** Links to further records that are followed. */
const MOST_PAGES = 10_000
/** The service, or what stands before it, waited too long for the answer. */
export const TOO_SLOW = 504

/** Answers after which asking again may help. */
const PASSING = new Set([408, 425, 429, 502, 503, TOO_SLOW])

/** What is taken for an answer. Metadata come as XML where a service knows no other way. */
const TAKEN =
  'application/json;odata.metadata=minimal;IEEE754Compatible=true, application/xml;q=0.1, */*;q=0.01'

/** Answers to whoever has to sign in. */
const SIGNING_IN = new Set([401, 403])

export type Params = Readonly<Record<string, string | undefined>>

export interface Answer {
  /** Empty where the answer is an Arrow stream. */
  readonly text: string
  readonly stream: Uint8Array | null
  readonly headers: Headers
  readonly ms: number
}

interface Exchanged extends Omit<Answer, 'headers'> {
  readonly response: Response
}

/** What a service answers to it. */
export interface Sent extends SaidOfRow {
  readonly status: number
  /** Tells the row from what it was before; null: the service has no such thing. */
  readonly tag: string | null
  /** What a refusal comes to. */
  readonly problem: SourceProblem
}

/** The service is making its rows ready, and tells how far it is. */
export class PreparingError extends Error {
  readonly progress: Progress
  constructor(progress: Progress) {
    super(progress.doing)
    this.progress = progress
  }
}

/** Puts questions to one service. All of them only read, so that each can be put again when the line failed. */
export class Service {
  readonly name: string
  private readonly options: ServiceOptions
  private readonly onLine: (problem: SourceProblem | null) => void
  private readonly root: URL
  private readonly turns = new Turns(MOST_AT_ONCE)
  private batches: BatchedChanges | null = null
  /** Whether the line fails, as far as was told. */
  private failing = false

  /** `onLine`: hears when the line begins to fail, and when it does so no more. */
  constructor(options: ServiceOptions, onLine: (problem: SourceProblem | null) => void = () => {}) {
    this.options = options
    this.onLine = onLine
    this.root = new URL(`${options.address.replace(/\/+$/, '')}/`, globalThis.location?.href)
    this.name = options.name ?? this.root.host
  }

  /** The answer to a question as JSON. Rejects with `SourceError`, or `CancelledError`. */
  async json(path: string, params: Params, signal?: AbortSignal): Promise<Record<string, unknown>> {
    const { text } = await this.ask(path, params, signal)
    const problem: SourceProblem = { code: 'service-unreadable', service: this.name, what: path }
    let body: unknown
    try {
      body = JSON.parse(text)
    } catch {
      throw new SourceError(problem)
    }
    if (!isRecord(body)) throw new SourceError(problem)
    return body
  }

  /** All records of an answer, those behind its links included. */
  async all(path: string, params: Params, signal?: AbortSignal): Promise<readonly Record<string, unknown>[]> {
    const records: Record<string, unknown>[] = []
    let at = 0
    for (let link: unknown = null; ; at++) {
      const given: Params = typeof link === 'string' ? paramsIn(link) : params
      const body = await this.json(path, given, signal)
      if (Array.isArray(body.value)) records.push(...body.value.filter(isRecord))
      link = body['@nextLink'] ?? body['@odata.nextLink']
      if (typeof link !== 'string') return records
      if (at > MOST_PAGES)
        throw new SourceError({ code: 'service-unreadable', service: this.name, what: path })
    }
  }

  /** Rows as Arrow streams, those behind its links included; null: the service answers otherwise after all. */
  async arrow(path: string, params: Params, signal?: AbortSignal): Promise<readonly Uint8Array[] | null> {
    const streams: Uint8Array[] = []
    for (let given = params; ;) {
      const { stream, headers } = await this.ask(path, given, signal, {
        accept: `${ARROW_STREAM}, ${TAKEN}`,
      })
      if (!stream) return null
      streams.push(stream)
      const next = /<([^>]*)>\s*;\s*rel="?next"?/.exec(headers.get('link') ?? '')
      if (!next) return streams
      if (streams.length > MOST_PAGES)
        throw new SourceError({ code: 'service-unreadable', service: this.name, what: path })
      given = paramsIn(next[1])
    }
  }

  /** How many rows pass. */
  async count(rows: string, params: Params, signal?: AbortSignal): Promise<number> {
    if (this.isLong(`${rows}/$count`, params)) {
      // Only records can be asked for in the body of a question: none of them, but how many there are.
      const body = await this.json(rows, { ...params, $count: 'true', $top: '0' }, signal)
      return this.sureNumber(body['@count'] ?? body['@odata.count'], rows)
    }
    const { text } = await this.ask(`${rows}/$count`, params, signal, { patient: false })
    return this.sureNumber(text.replace(/^\uFEFF/, '').trim() || null, rows)
  }

  private sureNumber(given: unknown, what: string): number {
    const value = given === null || given === undefined ? NaN : Number(given)
    if (Number.isFinite(value)) return value
    throw new SourceError({ code: 'service-unreadable', service: this.name, what })
  }

  /** `patient`: what took the service too long is asked again. */
  async ask(
    path: string,
    params: Params,
    signal?: AbortSignal,
    { accept = TAKEN, patient = true }: { readonly accept?: string; readonly patient?: boolean } = {},
  ): Promise<Answer> {
    for (let tried = 0; ; tried++) {
      try {
        const answer = await this.askOnce(path, params, signal, accept)
        this.tellLine(null)
        return answer
      } catch (error) {
        if (signal?.aborted) throw new CancelledError()
        if (!(error instanceof SourceError) || !mayPassSoon(error.problem, patient)) throw error
        // A single question that is lost is put again without a word.
        if (tried > 0) this.tellLine(error.problem)
        const pause = PAUSES_MS.at(tried)
        if (pause === undefined) throw error
        await delay(pause, signal)
      }
    }
  }

  /**
   * Has something changed. It is not put again by itself: whoever asks must first look what came of it. Answers also with
   * what the service refuses; rejects where the line fails, or where one must sign in.
   */
  async send(change: Change, signal?: AbortSignal): Promise<Sent> {
    const batched = (await this.batches?.send(change, signal)) ?? null
    const { status, tag, text } = batched ?? (await this.sendAlone(change, signal))
    const problem = this.refusal(status, text)
    // Who may not change a row has signed in all the same.
    if (mayPass(problem) && status !== 403) throw new SourceError(problem)
    this.tellLine(null)
    return { status, tag, ...rowIn(text), problem }
  }

  /** From now on requests about rows that come at the same time go as one. */
  useBatches(): void {
    this.batches = new BatchedChanges((body, signal) => this.putBatch(body, signal))
  }

  /** How many rows it is worth to have under way. */
  get changesAtOnce(): number {
    return this.batches ? MANY_CHANGES : FEW_CHANGES
  }

  private async putBatch(body: string, signal: AbortSignal): Promise<string | null> {
    const headers = { prefer: 'continue-on-error' }
    const { status, text } = await this.sendAlone({ method: 'POST', path: '$batch', body, headers }, signal)
    if (status >= 200 && status < 300) return text
    const problem = this.refusal(status, text)
    if (mayPass(problem) || (status >= 500 && status !== 501)) throw new SourceError(problem)
    // It did not say no to a change but to all of them in one.
    this.batches = null
    return null
  }

  private async sendAlone(
    { method, path, body, headers }: Change,
    signal?: AbortSignal,
  ): Promise<ChangeAnswer> {
    const request = new Request(new URL(path, this.root).href, {
      method,
      headers: {
        ...this.headers,
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(body === undefined ? {} : { body }),
    })
    const { response, text } = await this.exchange(request, path, signal)
    return { status: response.status, tag: response.headers.get('etag'), text }
  }

  private refusal(status: number, text: string): SourceProblem {
    return { code: 'service-refused', service: this.name, status, reason: reasonIn(text) }
  }

  /**
   * Hears events of the service until it ends the stream; resolves then, with whether there was one. Rejects where the line
   * fails. Takes no turn from questions: it stays open.
   */
  async listen(path: string, onEvent: () => void, signal: AbortSignal): Promise<boolean> {
    const request = new Request(new URL(path, this.root).href, {
      headers: { ...this.headers, accept: 'text/event-stream' },
      signal,
    })
    const response = await (this.options.fetch ?? fetch)(request)
    const isStream = response.headers.get('content-type')?.startsWith('text/event-stream') === true
    if (!response.ok || !isStream || !response.body) {
      await response.body?.cancel()
      return false
    }
    const events = new EventStream()
    const reader = response.body.pipeThrough(new TextDecoderStream()).getReader()
    for (;;) {
      const { done, value } = await reader.read()
      if (done) return true
      if (events.read(value).length > 0) onEvent()
    }
  }

  /** Whether the service answers just now. */
  async isThere(rows: string, signal: AbortSignal): Promise<boolean> {
    try {
      await this.askOnce(rows, { $top: '1' }, signal)
      this.tellLine(null)
      return true
    } catch {
      return false
    }
  }

  /** Tells once that the line fails, and once that it does so no more. */
  tellLine(problem: SourceProblem | null): void {
    if (this.failing === (problem !== null)) return
    this.failing = problem !== null
    this.onLine(problem)
  }

  private async askOnce(path: string, params: Params, signal?: AbortSignal, accept = TAKEN): Promise<Answer> {
    const asked = decodeURIComponent(`${path}${this.queryOf(params)}`.replaceAll('+', ' '))
    const request = this.requestFor(path, params, accept)
    const { response, text, stream, ms } = await this.exchange(request, asked, signal)
    const preparing = response.status === 202 ? preparingIn(text) : null
    if (preparing) throw new PreparingError(preparing)
    if (!response.ok) throw new SourceError(this.refusal(response.status, text))
    return { text, stream, headers: response.headers, ms }
  }

  /** Sends a request, when it is its turn, and waits for the whole answer. `asked`: what meters are told of it. */
  private exchange(given: Request, asked: string, signal?: AbortSignal): Promise<Exchanged> {
    return this.turns.take(() => this.exchangeNow(given, asked, signal), signal)
  }

  private async exchangeNow(given: Request, asked: string, signal?: AbortSignal): Promise<Exchanged> {
    const started = performance.now()
    const silence = new Silence(this.options.patience ?? PATIENCE_S, signal)
    try {
      const response = await (this.options.fetch ?? fetch)(new Request(given, { signal: silence.signal }))
      const isArrow = response.headers.get('content-type')?.startsWith(ARROW_STREAM) === true
      const stream = isArrow ? new Uint8Array(await response.arrayBuffer()) : null
      const text = isArrow ? '' : await response.text()
      const ms = performance.now() - started
      this.options.onAsked?.({
        path: asked,
        ms,
        database: databaseWork(response.headers.get('server-timing')),
        bytes: stream?.length ?? text.length,
        status: response.status,
      })
      return { response, text, stream, ms }
    } catch (error) {
      if (signal?.aborted) throw new CancelledError()
      const reason = silence.isOver ? silence.reason : errorOf(error).message
      throw new SourceError({ code: 'service-not-reached', service: this.name, reason })
    } finally {
      silence.end()
    }
  }

  private get headers(): Record<string, string> {
    return {
      accept: TAKEN,
      'odata-maxversion': '4.01',
      ...this.options.headers,
    }
  }

  private requestFor(path: string, params: Params, accept: string): Request {
    const query = this.queryOf(params)
    const headers = { ...this.headers, accept }
    const address = new URL(path, this.root).href
    if (!this.isLong(path, params)) return new Request(address + query, { headers })
    return new Request(`${address}/$query`, {
      method: 'POST',
      body: query.slice(1),
      headers: { ...headers, 'content-type': 'text/plain' },
    })
  }

  private isLong(path: string, params: Params): boolean {
    return this.root.href.length + path.length + this.queryOf(params).length > MOST_ADDRESS
  }

  private queryOf(params: Params): string {
    const given = Object.entries(params).filter((pair): pair is [string, string] => pair[1] !== undefined)
    if (given.length === 0) return ''
    return `?${given.map(([name, value]) => `${name}=${encodeURIComponent(value)}`).join('&')}`
  }
}

/** What a link to further records asks; it leads to the same place. */
const paramsIn = (link: string): Params => Object.fromEntries(new URL(link, 'https://service').searchParams)

/** Whether a question may be answered later: also where whoever asks must sign in first. */
export const mayPass = (problem: SourceProblem): boolean =>
  problem.code === 'service-not-reached' ||
  (problem.code === 'service-refused' && (PASSING.has(problem.status) || SIGNING_IN.has(problem.status)))

/** Whether it helps to ask again at once. */
const mayPassSoon = (problem: SourceProblem, patient: boolean): boolean =>
  mayPass(problem) &&
  !(
    problem.code === 'service-refused' &&
    (SIGNING_IN.has(problem.status) || (!patient && problem.status === TOO_SLOW))
  )

/** Resolves after a while; rejects with `CancelledError` where it is given up. */
export function delay(ms: number, signal?: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(resolve, ms)
    signal?.addEventListener(
      'abort',
      () => {
        clearTimeout(timer)
        reject(new CancelledError())
      },
      { once: true },
    )
  })
}
