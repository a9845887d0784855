import type { ExportArgs, GivenGroups } from '../question/export-args.ts'
import type { ColumnSummary, SummaryAsked } from '../question/summarize.ts'
import { PLAIN_BINDING } from '../flow/view-request.ts'
import { RowSet } from '../selection/row-set.ts'
import { PageSource } from '../source/page-source.ts'
import { countPacked } from '../table/packed-rows.ts'
import { rowsIn, type RowId } from '../table/row-id.ts'
import { PLAIN_REQUEST } from './plain-request.ts'
import { FOLD } from './condition-filter.ts'
import { columnsOf, joinedColumns, type Columns } from './columns.ts'
import { readColumns } from './record-columns.ts'
import { orderText, paramsOf, rowsQuery, type RowsQuery } from './rows-query.ts'
import { rootsOf } from './schema.ts'
import { MOST_NAMED } from './service-places.ts'
import { readRows, type ServiceContext, type ServiceView, type ToldRow } from './service-view.ts'
import { tableOfColumns } from './table-of-records.ts'
import type { Json } from './values.ts'

/** What of a part is where: how many places there are, and the rows that stand in it. */
interface Part {
  readonly columns: Columns
  readonly places: number
}

/** What is needed to read rows by their ids, and to have them written. */
export interface Exporting<Answer> {
  readonly rowsOf: (rows: readonly RowId[], signal?: AbortSignal) => Promise<readonly (Json | null)[]>
  readonly passingOf: (rows: readonly RowId[], signal?: AbortSignal) => Promise<readonly RowId[]>
  /** What columns come to in the groups of the view. */
  readonly summariesOf: (of: readonly SummaryAsked[]) => Promise<readonly ColumnSummary[]>
  /** Puts the question to the page's own engine. */
  readonly ask: (source: PageSource, args: ExportArgs) => Promise<Answer>
}

/** A part of rows as a file has them: read from the service, and written by the page's own engine. */
export async function exportOfService<Answer extends { readonly places: number }>(
  context: ServiceContext,
  view: ServiceView,
  args: ExportArgs,
  { rowsOf, passingOf, summariesOf, ask }: Exporting<Answer>,
  signal?: AbortSignal,
): Promise<Answer> {
  const { properties } = context.schema
  const { columns, places } = await partOf()
  // What is held back stands behind other rows. Headings stand above the first row there is: other parts have one before.
  const begins = args.from === 0 && args.rows.kind !== 'held-back'
  const table = tableOfColumns(properties, begins ? columns : withFirstTwice(columns))
  const source = new PageSource({ kind: 'table', table })
  try {
    await source.open({ signal })
    const { binding = PLAIN_BINDING } = view.request
    const inner = await source.view({ ...PLAIN_REQUEST, binding })
    const from = begins ? 0 : 1
    const answer = await ask(source, {
      view: inner.id,
      rows: { kind: 'passing' },
      from,
      to: from + columns.rows,
      columns: args.columns,
      ...(await inGroups(columns.rows, from)),
    })
    return { ...answer, places }
  } finally {
    source.close()
  }

  /** The groups are the service's: the page's own engine has only the rows of the part, behind those that stand before. */
  async function inGroups(
    rows: number,
    before: number,
  ): Promise<Pick<ExportArgs, 'groups' | 'request'> | null> {
    const groups = view.grouped?.groups
    if (!args.groups || !groups) return null
    const told = await summariesOf(args.groups.of)
    const of = groups.levels.map((_, level) => groups.groupsOfRows(level, args.from, args.from + rows))
    const given: GivenGroups = {
      levels: of.map(({ first, end }, level) => {
        const numbers = Array.from({ length: end - first }, (_, nth) => first + nth)
        return {
          starts: [
            ...numbers.map(group => Math.max(0, groups.startOf(level, group) - args.from + before)),
            rows + before,
          ],
          names: numbers.map(group => groups.shownOf(level, group) || null),
          counts: numbers.map(group => groups.startOf(level, group + 1) - groups.startOf(level, group)),
        }
      }),
      told: told.map(one => ({
        ...one,
        levels: one.levels.map((values, level) => values.slice(of[level].first, of[level].end)),
      })),
    }
    return { groups: { ...args.groups, given }, request: args.request }
  }

  async function partOf(): Promise<Part> {
    const { rows, from, to } = args
    const columnsOfRows = (told: readonly ToldRow[]): Columns =>
      columnsOf(
        told.map(({ record }) => record),
        properties,
      )
    if (rows.kind === 'held-back') {
      const ids = [...rowsIn({ kind: 'set', ...rows.among })]
      const passing = new Set(await passingOf(ids, signal))
      const others = ids.filter(id => !passing.has(id))
      const found = await rowsOf(others.slice(from, to), signal)
      const there = found.filter(record => record !== null)
      return { columns: columnsOf(there, properties), places: others.length }
    }
    if (rows.kind === 'all') {
      const query = rowsQuery(PLAIN_REQUEST, context.schema, context.keys)
      const columns = await readPart(context, query, from, to, signal)
      // A part that is full may have others behind it.
      return { columns, places: columns.rows < to - from ? from + columns.rows : to + 1 }
    }
    const { among } = rows
    // Of many that are named, all that pass are looked through.
    if (!among || countPacked(among) > MOST_NAMED || view.grouped) {
      const end = Math.min(to, view.passing)
      const places = view.passing
      if (!among && !view.grouped)
        return { columns: await readPart(context, view.query, from, Math.max(from, end), signal), places }
      const wanted = among ? RowSet.of(among) : null
      const told = end > from ? await readRows(context, view, from, end, properties, signal) : []
      return { columns: columnsOfRows(told.filter(({ id }) => wanted?.has(id) ?? true)), places }
    }
    const ids = [...rowsIn({ kind: 'set', ...among })]
    if (ids.length === 0) return { columns: columnsOfRows([]), places: 0 }
    const filters = new Map(view.query.filters).set(' among', context.keys.filter(ids))
    const query = { ...view.query, filters }
    const told = await readRows(
      context,
      { query, grouped: null },
      from,
      Math.min(to, ids.length),
      properties,
      signal,
    )
    const isLast = told.length < to - from
    return { columns: columnsOfRows(told), places: isLast ? from + told.length : ids.length }
  }
}

/** Rows of an order from a place up to another, as quickly as the service gives many. */
async function readPart(
  context: ServiceContext,
  query: RowsQuery,
  from: number,
  to: number,
  signal?: AbortSignal,
): Promise<Columns> {
  const { properties, key, can } = context.schema
  const parts: Columns[] = []
  const asked = {
    ...paramsOf(query),
    $orderby: orderText(query.order, key, can.functions.has(FOLD)),
    $select: rootsOf(context.schema).join(','),
  }
  let at = from
  // A service may answer with fewer rows at once than are asked for.
  while (at < to) {
    const part = await readColumns(context, { ...asked, $skip: String(at), $top: String(to - at) }, signal)
    if (part.rows === 0) break
    parts.push(part)
    at += part.rows
  }
  return joinedColumns(properties, parts)
}

const withFirstTwice = ({ rows, values }: Columns): Columns => ({
  rows: rows + Math.min(1, rows),
  values: values.map(column => [...column.slice(0, 1), ...column]),
})
