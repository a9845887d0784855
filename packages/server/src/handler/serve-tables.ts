import { Budget } from '../engine/budget.ts'
import type { Described, SqlEngine } from '../engine/engine.ts'
import { parseKey } from '../language/parse-key.ts'
import { QuestionError } from '../language/problem.ts'
import { readQuery, type Query } from '../language/query.ts'
import { countStatement } from '../statement/statement.ts'
import { metadataDocument } from '../tables/metadata-document.ts'
import type { Changes } from '../tables/changes.ts'
import { propertyOf, type ServedTable } from '../tables/served-table.ts'
import { DeepPlaces, type PlaceLimits } from './deep-places.ts'
import { openTable, type Access, type OpenTable } from './access.ts'
import { arrowStream, takesArrow } from './arrow-stream.ts'
import { arrowAnswer, HEADERS, json, onlyMethod, problemAnswer, recordOf, textOf, timing } from './answers.ts'
import { batchAnswer } from './batch.ts'
import { ChangeEvents } from './change-events.ts'
import { BATCH, EVENTS, routeOf } from './route.ts'
import { RowAnswers } from './row-answers.ts'

/** A table or view that is to be served. */
export interface TableGiven {
  /** Its name in addresses: letters, digits and low lines. */
  readonly name: string
  /** Its name in the database, by parts; default: the same. */
  readonly source?: readonly string[]
  /** The columns that name a row. */
  readonly key: readonly string[]
  /** What of it may be changed; default: nothing. */
  readonly change?: Changes
}

export interface ServeLimits {
  /** Rows of one answer; what is left is told by a link. Default 10,000. */
  readonly rows?: number
  /** Bytes of values that one answer holds, as far as rows can be left to the next; default 32 MB. */
  readonly bytes?: number
  /** Seconds that a question may take. Default 30. */
  readonly seconds?: number
  /** Questions that are answered at once; more are turned away. Default 32. */
  readonly questions?: number
  /** Readers who listen for changes at once; more are turned away. Default 200. */
  readonly listeners?: number
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
  /**
   * Called once with a function that is to be called when rows were changed elsewhere than through this handler: with the
   * name of their table.
   */
  readonly changes?: (tell: (table: string) => void) => void
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
  changes,
  limits = {},
}: ServeOptions): Handler {
  for (const { name } of given)
    if (!NAME.test(name)) throw new RangeError(`A table cannot be called “${name}” in addresses.`)
  const { rows: mostRows = 10_000, bytes = 32 << 20, seconds = 30, questions = 32, listeners = 200 } = limits
  const places = new DeepPlaces(engine, { ...PLACES, ...limits.places })
  let tables: Promise<readonly ServedTable[]> | null = null
  const events = new ChangeEvents(listeners)
  const changed = (table: string): void => {
    places.forget()
    events.tell(table)
  }
  changes?.(changed)
  const rows = new RowAnswers(engine, path, changed)
  let asked = 0

  const lookUp = (): Promise<readonly ServedTable[]> => {
    tables ??= Promise.all(
      given.map(async ({ name, source = [name], key, change = {} }) => ({
        name,
        source,
        key,
        change,
        ...withNamed(await engine.describe(source), key),
      })),
    )
    // What failed once is tried again.
    tables.catch(() => (tables = null))
    return tables
  }

  /** Throws where the question cannot be answered. */
  async function answer(request: Request, signal: AbortSignal): Promise<Response> {
    const isBatch = routeOf(new URL(request.url), path).join('/') === BATCH
    return isBatch
      ? await batchAnswer(request, path, inner => answerOne(inner, signal))
      : await answerOne(request, signal)
  }

  async function answerOne(request: Request, signal: AbortSignal): Promise<Response> {
    const url = new URL(request.url)
    const route = routeOf(url, path)
    const isQuery = route.at(-1) === '$query'
    const may = (await access?.(request)) ?? null
    const awaited = preparing?.()
    if (awaited) throw new QuestionError({ code: 'preparing', ...awaited })
    const known = await lookUp()
    const [name = '', ...rest] = route
    const isOpen = (table: string): boolean => !may || Object.hasOwn(may, table)
    const row = parseKey(name, table => known.find(one => one.name === table && isOpen(table))?.key)
    if (row && rest.length === 0)
      return await rows.answer(request, openTable(known, row.table, may), row.key, signal)
    if (request.method === 'POST' && !isQuery && rest.length === 0)
      return await rows.insert(request, openTable(known, name, may), signal)
    onlyMethod(request, isQuery ? 'POST' : 'GET')
    if (route.length === 0) return json(serviceDocument(known, may))
    if (name === '$metadata' && rest.length === 0) {
      const open = known.filter(table => isOpen(table.name)).map(table => openTable(known, table.name, may))
      return json(metadataDocument(open, engine.dialect))
    }
    const open = openTable(known, name, may)
    const params = isQuery ? new URLSearchParams(await textOf(request)) : url.searchParams
    const query = readQuery(params)
    const last = rest.join('/')
    // It outlives the time that a question may take.
    if (last === EVENTS) return events.stream(open.table.name, request.signal)
    if (last === '$count') return await countAnswer(open, query, signal)
    if (last === '' || last === '$query')
      return await rowsAnswer(open, query, { params, url, arrow: takesArrow(request) }, signal)
    throw new QuestionError({ code: 'no-such-table', name: last.slice(0, 100) })
  }

  async function countAnswer(open: OpenTable, query: Query, signal: AbortSignal): Promise<Response> {
    const started = performance.now()
    const count = await engine.count(countStatement({ ...open, query }, engine.dialect), signal)
    return new Response(String(count), {
      headers: { ...HEADERS, ...timing(started, 'rows counted'), 'content-type': 'text/plain' },
    })
  }

  async function rowsAnswer(
    open: OpenTable,
    query: Query,
    { params, url, arrow }: { params: URLSearchParams; url: URL; arrow: boolean },
    signal: AbortSignal,
  ): Promise<Response> {
    const started = performance.now()
    const wanted = query.top ?? Infinity
    const top = Math.min(wanted, mostRows)
    const statement = await places.statement({ ...open, query }, top, signal)
    const counted = query.count
      ? engine.count(countStatement({ ...open, query }, engine.dialect), signal)
      : Promise.resolve(null)
    const budget = new Budget(bytes)
    const read = top === 0 ? [] : engine.rows(statement, signal, budget)
    const [found, count] = await Promise.all([read, counted])
    const told = timing(started, found.length === 1 ? '1 row' : `${found.length} rows`)
    const more = budget.isSpent || (found.length === top && wanted > top && top > 0)
    const next = more ? nextLink(url, params, query.skip + found.length, wanted - found.length) : null
    const properties = statement.columns.flatMap(name => propertyOf(open.table, name) ?? [])
    // What rows are turned into has no types that are known beforehand, and a count has no place among rows.
    if (arrow && query.apply.length === 0 && !query.count)
      return arrowAnswer(arrowStream(properties, found), next, told)
    return json(
      {
        '@context': `$metadata#${open.table.name}`,
        ...(count === null ? {} : { '@count': count }),
        value: found.map(row => recordOf(statement.columns, row)),
        ...(next === null ? {} : { '@nextLink': next }),
      },
      { ...told, vary: 'accept' },
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

/** What names rows is never missing, whether or not the database sees to that. */
const withNamed = (described: Described, key: readonly string[]): Described => ({
  ...described,
  properties: described.properties.map(property =>
    key.includes(property.name) ? { ...property, nullable: false } : property,
  ),
})

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
