import { NO_LINE } from '../flow/line.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { Abilities } from '../question/abilities.ts'
import type { ArgsOf, QuestionName } from '../question/index.ts'
import type { ViewId } from '../question/question.ts'
import type { PageSource } from '../source/page-source.ts'
import { SourceError } from '../source/row-source.ts'
import type { RowId } from '../table/row-id.ts'
import { sure } from '../work/checked.ts'
import type { NearRows } from './near-rows.ts'
import { rowsQuery, type RowsQuery } from './rows-query.ts'
import { withOfferedLevels } from './service-abilities.ts'
import type { ServiceCounts } from './service-counts.ts'
import type { ServiceContext } from './service-view.ts'
import { partRequest, type Unasked } from './unasked.ts'

/** Questions about rows that do not pass, too: such are not here. */
const ABOUT_ALL: ReadonlySet<QuestionName> = new Set<QuestionName>(['explain', 'facets', 'profile'])

/** What questions may speak of. */
export interface SpokenOf {
  readonly view?: ViewId
  readonly request?: ViewRequest
  readonly row?: RowId
  /** Which rows are written to a file. */
  readonly rows?: { readonly kind?: string }
  readonly among?: unknown
  /** Whose values are told. */
  readonly column?: string
}

/** A request by who does what of it. */
export interface Parted {
  /** What the service is asked, which more rows may meet. */
  readonly request: ViewRequest
  readonly query: RowsQuery
  readonly unasked: readonly Unasked[]
  /** What the page is asked of rows that are near. */
  readonly whole: ViewRequest
}

/** A question as the page's own engine is asked it. */
interface Here<Name extends QuestionName> {
  readonly source: PageSource
  readonly args: ArgsOf<Name>
}

/** What is known of a service that is open. */
export interface NearHost {
  readonly context: ServiceContext
  /** Null: no rows are fetched. */
  readonly near: NearRows | null
  readonly counts: ServiceCounts
  can(): Abilities
  /** A view that the page answers for by itself. */
  viewOf(id: ViewId): { readonly source: PageSource; readonly id: ViewId } | undefined
  /** Rows are others than were counted. */
  forget(): void
}

/** Decides which requests and questions the page answers by itself, with rows that were fetched or are fetched for it. */
export class NearAnswers {
  private readonly host: NearHost

  constructor(host: NearHost) {
    this.host = host
  }

  /** A request as the service is asked for it, and what of it the page does, where it is to do more than the service. */
  part(given: ViewRequest): Parted {
    const { context, near } = this.host
    const { schema, keys } = context
    const can = this.host.can()
    const { request, unasked } = near?.doesMore
      ? partRequest(given, schema, can)
      : { request: withOfferedLevels(given, can), unasked: [] }
    const query = rowsQuery(request, schema, keys)
    return { request, query, unasked, whole: near?.doesMore ? given : request }
  }

  /** The rows with which a request is answered by the page; null: the service answers. Rejects where they are too many. */
  async sourceFor(asked: Parted, signal?: AbortSignal): Promise<PageSource | null> {
    const there = this.host.near?.sourceFor(asked.request, asked.query)
    if (there) return there
    const [first] = asked.unasked
    return first ? await this.fetchedFor(asked, first, signal) : null
  }

  /** Who answers a question about rows that were fetched, and what he is asked; null: others are needed. */
  async here<Name extends QuestionName>(
    question: Name,
    args: ArgsOf<Name>,
    signal?: AbortSignal,
  ): Promise<Here<Name> | null> {
    const { view: id, request, row, among, rows, column } = args as SpokenOf
    const asked = request && this.part(request)
    const isWhole = asked === undefined || asked.unasked.length === 0
    /** Rows beyond those that pass are asked about, under conditions that only the page can ask. */
    const beyond = async (): Promise<PageSource> => {
      const { whole, unasked } = sure(asked)
      return sure(await this.sourceFor({ ...this.part(widened(whole, column)), unasked }, signal))
    }
    if (ABOUT_ALL.has(question)) return isWhole ? null : { source: await beyond(), args }
    if (id !== undefined) {
      const view = this.host.viewOf(id)
      if (!view || (rows?.kind !== undefined && rows.kind !== 'passing')) return null
      // A row that does not pass is not here.
      if (row !== undefined) {
        const [line] = await view.source.ask('linesOf', { view: view.id, rows: [row] })
        if (line === NO_LINE) {
          if (isWhole) return null
          const source = await beyond()
          const { id: wider } = await source.view(asked.whole, { signal })
          return { source, args: withView(args, wider) }
        }
      }
      return { source: view.source, args: withView(args, view.id) }
    }
    if (!asked || among) return null
    const source = await this.sourceFor(asked, signal)
    return source && { source, args: withRequest(args, asked.whole) }
  }

  /** Rows that are fetched because the service cannot do what is asked. */
  private async fetchedFor(
    { request, query }: Parted,
    unasked: Unasked,
    signal?: AbortSignal,
  ): Promise<PageSource> {
    const { context, counts } = this.host
    const near = sure(this.host.near)
    const { name } = context.service
    const passing = await counts.sure(query, signal)
    if (passing > near.most)
      throw new SourceError({
        code: 'near-too-many',
        service: name,
        what: unasked.what,
        column: unasked.what === 'condition' ? unasked.column : '',
        rows: passing,
        most: near.most,
      })
    const fetched = await near.get(request, query, passing, signal)
    if (fetched) return fetched
    this.host.forget()
    throw new SourceError({ code: 'service-rows-moved', service: name })
  }
}

export const withRequest = <Args>(args: Args, request: ViewRequest): Args => ({ ...args, request })
const withView = <Args>(args: Args, view: ViewId): Args => ({ ...args, view })

/** A request that all rows meet which a question is about: without the condition of the column whose values are told, or without any. */
function widened({ conditions, among, ...rest }: ViewRequest, column?: string): ViewRequest {
  if (column === undefined) return { ...rest, conditions: {}, search: '' }
  const { [column]: _, ...others } = conditions
  return { ...rest, conditions: others, ...(among && { among }) }
}
