import type { Answered, SqlEngine } from '../engine/engine.ts'
import { QuestionError, type QuestionProblem } from '../language/problem.ts'
import { readQuery, type Query } from '../language/query.ts'
import { countStatement } from '../statement/statement.ts'
import { metadataDocument } from '../tables/metadata-document.ts'
import type { ServedTable } from '../tables/served-table.ts'
import { problemText, statusOf } from '../words/problem-text.ts'
import { DeepPlaces, type PlaceLimits } from './deep-places.ts'
import { openTable, type Access, type OpenTable } from './access.ts'

/** A table or view that is to be served. */
export interface TableGiven {
  /** Its name in addresses: letters, digits and low lines. */
  readonly name: string
  /** Its name in the database, by parts; default: the same. */
  readonly source?: readonly string[]
  /** The columns that name a row. */
  readonly key: readonly string[]
}

export interface ServeLimits {
  /** Rows of one answer; what is left is told by a link. Default 10,000. */
  readonly rows?: number
  /** Seconds that a question may take. Default 30. */
  readonly seconds?: number
  /** Questions that are answered at once; more are turned away. Default 32. */
  readonly questions?: number
  /** How rows far behind the first are found; default: from 50,000 on, by places 5,000 rows apart, kept for a minute. */
  readonly places?: Partial<PlaceLimits>
}

export interface ServeOptions {
  readonly engine: SqlEngine
  readonly tables: readonly TableGiven[]
  /** The path at which it is mounted: `/rows`. Default: the root. */
  readonly path?: string
  /** What is open to whoever asks; null or left out: everything. Throw, or answer `{}`, to open nothing. */
  readonly access?: (request: Request) => Access | null | Promise<Access | null>
  readonly limits?: ServeLimits
  /** How far the rows are that are being made ready; null: they are. Asked before each question. */
  readonly preparing?: () => Preparing | null
}

/** Rows that are being made ready. */
export interface Preparing {
  /** What is being done, in a few words. */
  readonly doing: string
  readonly done: number
  readonly of: number
}

/** Answers a request of the web's standard shape. */
export type Handler = (request: Request) => Promise<Response>

const PLACES: PlaceLimits = { from: 50_000, step: 5000, keptMs: 60_000 }
const NAME = /^[A-Za-z_]\w{0,127}$/
const HEADERS = { 'OData-Version': '4.01', 'cache-control': 'no-store' }

/**
 * A handler that answers OData v4.01 over tables of an engine: one statement a question, nothing is worked out here. The
 * tables' columns are looked up at the first question.
 */
export function serveTables({
  engine,
  tables: given,
  path = '',
  access,
  preparing,
  limits = {},
}: ServeOptions): Handler {
  for (const { name } of given)
    if (!NAME.test(name)) throw new RangeError(`A table cannot be called “${name}” in addresses.`)
  const { rows: mostRows = 10_000, seconds = 30, questions = 32 } = limits
  const places = new DeepPlaces(engine, { ...PLACES, ...limits.places })
  let tables: Promise<readonly ServedTable[]> | null = null
  let asked = 0

  const lookUp = (): Promise<readonly ServedTable[]> => {
    tables ??= Promise.all(
      given.map(async ({ name, source = [name], key }) => ({
        name,
        source,
        key,
        ...(await engine.describe(source)),
      })),
    )
    // What failed once is tried again.
    tables.catch(() => (tables = null))
    return tables
  }

  /** Throws where the question cannot be answered. */
  async function answer(request: Request, signal: AbortSignal): Promise<Response> {
    const url = new URL(request.url)
    const route = routeOf(url, path)
    const isQuery = route.at(-1) === '$query'
    if (request.method !== (isQuery ? 'POST' : 'GET'))
      throw new QuestionError({ code: 'method-not-allowed', method: request.method })
    const may = (await access?.(request)) ?? null
    const awaited = preparing?.()
    if (awaited) throw new QuestionError({ code: 'preparing', ...awaited })
    const known = await lookUp()
    if (route.length === 0) return json(serviceDocument(known, may))
    const [name, ...rest] = route
    if (name === '$metadata' && rest.length === 0) {
      const open = known
        .filter(table => !may || Object.hasOwn(may, table.name))
        .map(table => openTable(known, table.name, may).table)
      return json(metadataDocument(open, engine.dialect))
    }
    const open = openTable(known, name, may)
    const params = isQuery ? new URLSearchParams(await textOf(request)) : url.searchParams
    const query = readQuery(params)
    const last = rest.join('/')
    if (last === '$count') return await countAnswer(open, query, signal)
    if (last === '' || last === '$query') return await rowsAnswer(open, query, params, url, signal)
    throw new QuestionError({ code: 'no-such-table', name: last.slice(0, 100) })
  }

  async function countAnswer(open: OpenTable, query: Query, signal: AbortSignal): Promise<Response> {
    const started = performance.now()
    const count = await engine.count(countStatement({ ...open, query }, engine.dialect), signal)
    return new Response(String(count), {
      headers: { ...HEADERS, ...timing(started), 'content-type': 'text/plain' },
    })
  }

  async function rowsAnswer(
    open: OpenTable,
    query: Query,
    params: URLSearchParams,
    url: URL,
    signal: AbortSignal,
  ): Promise<Response> {
    const started = performance.now()
    const wanted = query.top ?? Infinity
    const top = Math.min(wanted, mostRows)
    const statement = await places.statement({ ...open, query }, top, signal)
    const counted = query.count
      ? engine.count(countStatement({ ...open, query }, engine.dialect), signal)
      : Promise.resolve(null)
    const [rows, count] = await Promise.all([top === 0 ? [] : engine.rows(statement, signal), counted])
    const more = rows.length === top && wanted > top && top > 0
    return json(
      {
        '@context': `$metadata#${open.table.name}`,
        ...(count === null ? {} : { '@count': count }),
        value: rows.map(row => recordOf(statement.columns, row)),
        ...(more ? { '@nextLink': nextLink(url, params, query.skip + top, wanted - top) } : {}),
      },
      timing(started),
    )
  }

  return async request => {
    if (asked >= questions) return problemAnswer({ code: 'too-busy' })
    asked++
    const limit = AbortSignal.timeout(seconds * 1000)
    const given = new AbortController()
    const giveUp = (): void => given.abort()
    for (const signal of [request.signal, limit]) signal.addEventListener('abort', giveUp, { once: true })
    try {
      return await answer(request, given.signal)
    } catch (error) {
      if (limit.aborted) return problemAnswer({ code: 'too-slow', seconds })
      if (request.signal.aborted) return problemAnswer({ code: 'given-up' })
      // Whatever else an engine says may hold statements, names and paths.
      return problemAnswer(error instanceof QuestionError ? error.problem : { code: 'failed' })
    } finally {
      request.signal.removeEventListener('abort', giveUp)
      asked--
    }
  }
}

/** The parts of the address behind where the handler is mounted. */
function routeOf({ pathname }: URL, path: string): string[] {
  const base = path.replace(/\/+$/, '')
  if (!pathname.startsWith(base)) throw new QuestionError({ code: 'no-such-table', name: '' })
  try {
    return pathname.slice(base.length).split('/').filter(Boolean).map(decodeURIComponent)
  } catch {
    throw new QuestionError({ code: 'no-such-table', name: '' })
  }
}

const MOST_BODY = 1 << 20

async function textOf(request: Request): Promise<string> {
  if (Number(request.headers.get('content-length') ?? 0) > MOST_BODY)
    throw new QuestionError({ code: 'too-long' })
  const text = await request.text()
  if (text.length > MOST_BODY) throw new QuestionError({ code: 'too-long' })
  return text
}

const timing = (started: number): Record<string, string> => ({
  'server-timing': `db;dur=${(performance.now() - started).toFixed(1)}`,
})

const recordOf = (names: readonly string[], row: readonly Answered[]): Record<string, unknown> =>
  Object.fromEntries(names.map((name, i) => [name, sayable(row[i])]))

/** JSON has no infinity; the protocol has words for it. */
function sayable(value: Answered): Answered {
  if (typeof value !== 'number' || Number.isFinite(value)) return value
  return Number.isNaN(value) ? 'NaN' : value > 0 ? 'INF' : '-INF'
}

const serviceDocument = (tables: readonly ServedTable[], access: Access | null): object => ({
  '@context': '$metadata',
  value: tables
    .filter(({ name }) => !access || Object.hasOwn(access, name))
    .map(({ name }) => ({ name, kind: 'EntitySet', url: name })),
})

function nextLink(url: URL, params: URLSearchParams, skip: number, top: number): string {
  const next = new URLSearchParams(params)
  next.delete('skip')
  next.delete('top')
  next.set('$skip', String(skip))
  if (Number.isFinite(top)) next.set('$top', String(top))
  return `${url.pathname.replace(/\/\$query$/, '')}?${next.toString()}`
}

const json = (body: object, headers: Record<string, string> = {}): Response =>
  new Response(JSON.stringify(body), {
    headers: { ...HEADERS, 'content-type': 'application/json;odata.metadata=minimal', ...headers },
  })

const problemAnswer = (problem: QuestionProblem): Response => {
  const { code, ...facts } = problem
  return new Response(
    JSON.stringify({ error: { code, message: problemText(problem), details: [], facts } }),
    {
      status: statusOf(problem),
      headers: {
        ...HEADERS,
        'content-type': 'application/json',
        ...(code === 'preparing' || code === 'too-busy' ? { 'retry-after': '1' } : {}),
      },
    },
  )
}
