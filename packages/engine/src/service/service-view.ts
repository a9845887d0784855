import type { ViewRequest } from '../flow/view-request.ts'
import { asLine, type Line } from '../flow/line.ts'
import type { CellBlock } from '../question/cells.ts'
import type { Value } from '../table/column.ts'
import type { RowId } from '../table/row-id.ts'
import { isRecord } from '../work/checked.ts'
import type { ShownColumns } from './shown-columns.ts'
import type { LevelQuery } from './group-query.ts'
import type { RowKeys } from './row-keys.ts'
import { orderText, paramsOf, type RowsQuery } from './rows-query.ts'
import { FOLD } from './condition-filter.ts'
import type { Property, ServiceSchema } from './schema.ts'
import type { Service } from './service.ts'
import type { ServiceGroups } from './service-groups.ts'
import type { Json } from './values.ts'

/** What answers need of the service. */
export interface ServiceContext {
  readonly service: Service
  readonly schema: ServiceSchema
  readonly keys: RowKeys
}

/** A view as it is kept: what was asked, and what came of it. */
export interface ServiceView {
  readonly request: ViewRequest
  readonly query: RowsQuery
  readonly bound: ShownColumns
  readonly passing: number
  readonly lineCount: number
  readonly grouped: { readonly groups: ServiceGroups; readonly levels: readonly LevelQuery[] } | null
}

/** A row as the service told it. */
export interface ToldRow {
  readonly id: RowId
  readonly record: Json
}

/** A filter that only the rows of the group of the lowest level meet. */
export const groupFilter = (levels: readonly LevelQuery[], path: readonly unknown[]): string =>
  levels
    .slice(0, path.length)
    .map((level, i) => level.filter(path[i] as never))
    .join(' and ')

/** The rows of a view from a position among its rows up to another, with some of their properties. */
export async function readRows(
  { service, schema, keys }: ServiceContext,
  { query, grouped }: Pick<ServiceView, 'query' | 'grouped'>,
  from: number,
  to: number,
  properties: readonly Property[],
  signal?: AbortSignal,
): Promise<ToldRow[]> {
  const $select = [...new Set([...schema.key, ...properties.map(({ path }) => path.split('/')[0])])].join(',')
  const $orderby = orderText(query.order, schema.key, schema.can.functions.has(FOLD))
  const read = async (skip: number, top: number, and: readonly string[]): Promise<ToldRow[]> => {
    const rows: ToldRow[] = []
    // A service may answer with fewer rows at once than are asked for.
    while (rows.length < top) {
      const records = await readPage(
        service,
        schema.rows,
        {
          ...paramsOf(query, and),
          $orderby,
          $select,
          $skip: String(skip + rows.length),
          $top: String(top - rows.length),
        },
        signal,
      )
      for (const record of records) rows.push({ id: keys.idOf(record), record })
      if (records.length === 0) break
    }
    return rows
  }
  if (!grouped) return await read(from, to - from, [])
  const parts: Promise<ToldRow[]>[] = []
  for (let at = from; at < to;) {
    const { path, group, nth } = grouped.groups.rowPlace(at)
    const end = Math.min(to, grouped.groups.startOf(path.length - 1, group + 1))
    parts.push(read(nth, end - at, [groupFilter(grouped.levels, path)]))
    at = end
  }
  return (await Promise.all(parts)).flat()
}

async function readPage(
  service: Service,
  rows: string,
  params: Parameters<Service['json']>[1],
  signal?: AbortSignal,
): Promise<readonly Json[]> {
  const { value } = await service.json(rows, params, signal)
  return Array.isArray(value) ? value.filter(isRecord) : []
}

/** The cells of some lines of a view. */
export async function readBlock(
  context: ServiceContext,
  view: ServiceView,
  bound: ShownColumns,
  from: number,
  to: number,
  columns: readonly string[],
  signal?: AbortSignal,
): Promise<CellBlock> {
  const groups = view.grouped?.groups
  const properties = bound.propertiesFor(columns)
  const places = Array.from({ length: Math.max(0, to - from) }, (_, i) =>
    groups ? groups.at(from + i) : { kind: 'row' as const, level: 0, row: from + i },
  )
  const rows = places.flatMap(place => (place.kind === 'row' ? [place.row] : []))
  const told =
    rows.length > 0
      ? await readRows(context, view, rows[0], rows[rows.length - 1] + 1, properties, signal)
      : []
  const cells = await bound.cells(
    told.map(({ record }) => record),
    columns,
  )
  const lines: Line[] = []
  const texts: string[] = []
  const values: Value[] = []
  for (const place of places) {
    const nth = place.kind === 'row' ? place.row - rows[0] : -1
    // Fewer came than were counted: rows were taken out meanwhile.
    if (nth >= told.length) break
    if (place.kind === 'row') lines.push({ kind: 'row', level: place.level, row: told[nth].id })
    else if (groups) lines.push(groups.lineAt(place))
    for (let column = 0; column < columns.length; column++) {
      const at = nth * columns.length + column
      texts.push(nth < 0 ? '' : cells.texts[at])
      values.push(nth < 0 ? null : cells.values[at])
    }
  }
  return { lines, groups: groups && lines.length > 0 ? groups.groupsAt(asLine(from)) : [], texts, values }
}
