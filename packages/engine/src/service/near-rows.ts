import type { FlowReport } from '../flow/request.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import { searchWords } from '../search/fold.ts'
import { PageSource } from '../source/page-source.ts'
import { isSameAnswer, readColumns, type RecordColumns } from './record-columns.ts'
import { orderText, paramsOf, type RowsQuery } from './rows-query.ts'
import { rootsOf } from './schema.ts'
import type { NearLimits } from './service-options.ts'
import type { ServiceContext } from './service-view.ts'
import { tableOfColumns } from './table-of-records.ts'

/** Ids that a table of the page can have. */
const MOST_ID = 2 ** 32 - 2

interface Asked {
  readonly request: ViewRequest
  readonly query: RowsQuery
}

/** Rows that were fetched, with what they were asked by. */
interface Kept extends Asked {
  readonly source: PageSource
  readonly rows: number
  readonly answers: RecordColumns['answers']
  readonly ms: number
}

/**
 * The rows that pass, where they are few: fetched once and answered for by the page's own engine, for as long as nothing
 * is asked that needs others. Only of services whose rows are named by a whole number, since those of the page are.
 */
export class NearRows {
  private readonly context: ServiceContext
  private readonly limits: Required<NearLimits>
  private readonly bytesPerRow: number
  private readonly onNear: () => void
  private kept: Kept | null = null
  private fetching: (Asked & { readonly given: AbortController }) | null = null

  /** `onNear`: hears that rows are here. `bytesPerRow`: of an answer of the service. */
  constructor(
    context: ServiceContext,
    limits: Required<NearLimits>,
    bytesPerRow: number,
    onNear: () => void,
  ) {
    this.context = context
    this.limits = limits
    this.bytesPerRow = bytesPerRow
    this.onNear = onNear
  }

  /**
   * The rows from which a request can be answered; null: they are not here. What the service cannot ask is asked by nobody,
   * so that answers do not depend on where the rows happen to be.
   */
  sourceFor(request: ViewRequest, query: RowsQuery): PageSource | null {
    if (Object.keys(query.problems).length > 0) return null
    return this.kept && isWithin({ request, query }, this.kept) ? this.kept.source : null
  }

  /** Whether the page does with rows that are near what the service cannot. */
  get doesMore(): boolean {
    return this.limits.more && this.isNamed
  }

  /** How many rows may be fetched. */
  get most(): number {
    return Math.min(this.limits.rows, Math.floor(this.limits.bytes / this.bytesPerRow))
  }

  /** Fetches the rows of a request; null: there are others by now. Ask only where `most` of them pass at most. */
  async get(
    request: ViewRequest,
    query: RowsQuery,
    passing: number,
    signal?: AbortSignal,
  ): Promise<PageSource | null> {
    const kept = await this.fetch({ request, query }, passing, signal)
    if (!kept) return null
    this.fetching?.given.abort()
    this.fetching = null
    this.kept = kept
    return kept.source
  }

  private get isNamed(): boolean {
    return this.context.schema.key.length === 1 && this.context.keys.isByNumber
  }

  /** How many rows are here, and how long they took to come; null: they are where they always are. */
  get report(): FlowReport['near'] {
    return this.kept ? { rows: this.kept.rows, ms: this.kept.ms } : null
  }

  /** Has the rows of a request fetched, where they are few enough. */
  consider(request: ViewRequest, query: RowsQuery, passing: number): void {
    const asked = { request, query }
    const { fetching } = this
    const isFew = passing > 0 && passing <= this.most
    if (fetching && isFew && isWithin(asked, fetching)) return
    fetching?.given.abort()
    this.fetching = null
    if (!isFew || !this.isNamed) return
    const given = new AbortController()
    this.fetching = { ...asked, given }
    void this.fetch(asked, passing, given.signal).then(
      kept => {
        if (given.signal.aborted) return
        this.fetching = null
        if (!kept) return
        // Views of rows that were here before are read for as long as they are shown.
        this.kept = kept
        this.onNear()
      },
      // Lines go on coming from the service, which tells of itself.
      () => {
        if (this.fetching?.given === given) this.fetching = null
      },
    )
  }

  /** Whether the rows that are here are others by now. */
  async differs(signal: AbortSignal): Promise<boolean> {
    const { kept } = this
    if (!kept) return false
    const { answers } = await this.columns(kept, kept.rows, signal)
    return !isSameAnswer(answers, kept.answers)
  }

  /** They may not be what they were. */
  forget(): void {
    this.fetching?.given.abort()
    this.fetching = null
    this.kept = null
  }

  close(): void {
    this.fetching?.given.abort()
    this.kept?.source.close()
    this.kept = null
  }

  private async fetch(asked: Asked, passing: number, signal?: AbortSignal): Promise<Kept | null> {
    const { schema } = this.context
    const started = performance.now()
    const columns = await this.columns(asked, passing, signal)
    const { rows, answers } = columns
    if (rows !== passing) return null
    const ids = this.idsOf(columns.values)
    if (!ids) return null
    const table = { ...tableOfColumns(schema.properties, columns), ids: { first: ids, next: MOST_ID } }
    const source = new PageSource({ kind: 'table', table })
    await source.open({ signal })
    return { ...asked, source, answers, rows, ms: performance.now() - started }
  }

  /** All rows of a request, by their key. */
  private async columns(asked: Asked, passing: number, signal?: AbortSignal): Promise<RecordColumns> {
    const { schema } = this.context
    const byKey = asked.query.order.filter(({ property }) => schema.key.includes(property.path)).slice(-1)
    return await readColumns(
      this.context,
      {
        ...paramsOf(asked.query),
        $select: rootsOf(schema).join(','),
        $orderby: orderText(
          byKey.map(key => ({ ...key, descending: false })),
          schema.key,
          false,
        ),
        // One more than were counted, so that it is seen where there are more by now.
        $top: String(passing + 1),
      },
      signal,
    )
  }

  /** Ascending, as rows of a page are numbered; null: they are not. */
  private idsOf(values: RecordColumns['values']): Uint32Array | null {
    const { key, properties } = this.context.schema
    const keys = values[properties.findIndex(({ path }) => path === key[0])]
    const ids = new Uint32Array(keys.length)
    let before = -1
    for (const [i, id] of keys.entries()) {
      if (typeof id !== 'number' || id <= before || id >= MOST_ID) return null
      ids[i] = before = id
    }
    return ids
  }
}

/** Whether all rows that meet one request meet the other, as far as is seen by what they ask. */
function isWithin({ request, query }: Asked, wider: Asked): boolean {
  for (const [column, filter] of wider.query.filters) if (query.filters.get(column) !== filter) return false
  const columns = new Set(wider.request.searchColumns)
  const words = searchWords(request.search)
  const formats = (of: ViewRequest): string => JSON.stringify(of.binding?.formats ?? {})
  const wanted = searchWords(wider.request.search)
  if (wanted.length === 0) return true
  return (
    request.searchColumns.every(column => columns.has(column)) &&
    formats(request) === formats(wider.request) &&
    wanted.every(word => words.some(longer => longer.includes(word)))
  )
}
