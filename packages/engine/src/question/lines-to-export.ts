import { hasBit } from '../table/bits.ts'
import { bitsOfPacked } from '../table/packed-rows.ts'
import { idOfRow, type PackedRows } from '../table/row-id.ts'
import type { Table, Value } from '../table/column.ts'
import type { Show } from '../table/shown-text.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import { HEAD_LINE, type PartColumn, type WrittenColumn } from '../export/written-column.ts'
import { lastStartAt } from '../layout/last-start.ts'
import { summaryShower } from '../summary/show-summary.ts'
import { summaryField, type Summary } from '../summary/summary.ts'
import type { Work } from '../work/work.ts'
import type { QuestionContext, ViewId } from './question.ts'
import { summarize, type ColumnSummary } from './summarize.ts'

/** Which rows are written, in which order. */
export type ExportedRows =
  /** Those that pass, in their order, of closed groups too; `among`: of these alone. */
  | { readonly kind: 'passing'; readonly among?: PackedRows }
  /** Those among some that do not pass, as they came. */
  | { readonly kind: 'held-back'; readonly among: PackedRows }
  /** All, as they came. */
  | { readonly kind: 'all' }

export interface ExportedColumn {
  readonly key: string
  readonly title: string
}

/** What columns come to in groups, beside the rows that pass. */
export interface ExportedGroups {
  /** As lines of their own before the rows of each group, or as further columns of every row. */
  readonly as: 'lines' | 'columns'
  /** By level: what names the column that says in which group a row is. */
  readonly levels: readonly ExportedColumn[]
  /** What names the column that says how many rows a group has; of lines alone. */
  readonly count: ExportedColumn
  /** Stands for the groups that are put together as what is left. */
  readonly rest: string
  readonly of: readonly {
    readonly column: string
    readonly summary: Summary
    /** By level: what names the column of it; of columns alone. */
    readonly levels: readonly ExportedColumn[]
  }[]
}

export interface ExportArgs {
  readonly view: ViewId
  readonly rows: ExportedRows
  /** The places that are looked at, from 0: those of passing rows, else of all rows. */
  readonly from: number
  readonly to: number
  readonly columns: readonly ExportedColumn[]
  /** Only of rows that pass, with the request of the view. */
  readonly groups?: ExportedGroups
  readonly request?: ViewRequest
}

/** A part of what is written. */
export interface ExportedPart {
  /** By line: a row of the table, or `HEAD_LINE`. */
  readonly lines: readonly number[]
  /** By line: in how many groups it stands; empty: in none. */
  readonly levels: readonly number[]
  readonly columns: readonly WrittenColumn[]
  readonly table: Table
  readonly shows: readonly Show[]
  /** Whether columns are those of the table, and so the same for the next part. */
  readonly lasting: boolean
  /** Rows among the lines. */
  readonly rows: number
  /** Places there are: `to` of the last part. */
  readonly places: number
}

/** The lines and columns of a part, to be written in whatever format. Linear in the places that are looked at. */
export function* linesToExport(asked: QuestionContext, args: ExportArgs): Work<ExportedPart> {
  const { groups, request } = args
  if (groups && request && args.rows.kind === 'passing')
    return yield* partInGroups(asked, args, groups, request)
  const reader = asked.view(args.view)
  // All rows are those that are there now; those that pass are the view's.
  const { table, shows } = args.rows.kind === 'passing' ? reader : asked.flow
  const places = args.rows.kind === 'passing' ? reader.rowCount : table.rows
  const lines = yield* rowsOfPart(asked, args, Math.min(args.to, places))
  const columns = columnsOf(table, shows, args.columns)
  return { lines, levels: [], columns, table, shows, lasting: true, rows: lines.length, places }
}

const columnsOf = (
  table: Table,
  shows: readonly Show[],
  wanted: readonly ExportedColumn[],
): WrittenColumn[] =>
  wanted.flatMap(({ key, title }) => {
    const place = table.fields.findIndex(field => field.key === key)
    return place < 0
      ? []
      : [{ title, field: table.fields[place], column: table.columns[place], show: shows[place] }]
  })

function* rowsOfPart(asked: QuestionContext, { view, rows, from }: ExportArgs, to: number): Work<number[]> {
  const reader = asked.view(view)
  const { table: now, gone } = asked.flow
  const table = rows.kind === 'passing' ? reader.table : now
  const among = rows.kind === 'all' || !rows.among ? null : bitsOfPacked(table, rows.among)
  yield
  const list: number[] = []
  for (let place = from; place < to; place++) {
    const row = rows.kind === 'passing' ? reader.rowAt(place) : place
    if (among && !hasBit(among, row)) continue
    if (rows.kind !== 'passing' && gone && hasBit(gone, row)) continue
    if (rows.kind === 'held-back' && reader.lineOf(idOfRow(table, row)) >= 0) continue
    list.push(row)
  }
  return list
}

// ── In groups ────────────────────────────────────────────────────────────────────────────────────────────────────────

/** A line of a part: a row with the groups that it is in, or a head with those around it and its own. */
interface GroupedLine {
  readonly row: number
  readonly groups: readonly number[]
}

function* partInGroups(
  asked: QuestionContext,
  args: ExportArgs,
  groups: ExportedGroups,
  request: ViewRequest,
): Work<ExportedPart> {
  const { flow } = asked
  const grouped = yield* flow.groupedRows(request)
  const told = yield* summarize.answer(asked, { request, of: groups.of })
  const { starts, rows } = grouped
  const places = starts.at(-1)?.at(-1) ?? 0
  const lines: GroupedLine[] = []
  for (let place = args.from; place < Math.min(args.to, places); place++) {
    const around = starts.map(level => lastStartAt(level, level.length - 1, place))
    if (groups.as === 'lines')
      for (let level = 0; level < starts.length; level++)
        if (starts[level][around[level]] === place)
          lines.push({ row: HEAD_LINE, groups: around.slice(0, level + 1) })
    lines.push({ row: rows ? rows[place] : place, groups: around })
  }
  yield
  const reader = flow.groupReader(grouped)
  const named = groups.levels.map(({ key, title }, level): WrittenColumn => ({
    title,
    field: { key, type: 'text' },
    show: String,
    column: partColumn(lines, line => {
      const group = line.groups.at(level)
      if (group === undefined || (groups.as === 'lines' && line.row !== HEAD_LINE)) return null
      return reader.isRest(level, group) ? groups.rest : reader.shown(level, group) || null
    }),
  }))
  const table = columnsOf(flow.table, flow.shows, args.columns)
  const summaries = new Map(told.map(one => [one.column, one]))
  const own =
    groups.as === 'lines'
      ? [
          countColumn(lines, starts, groups.count),
          ...table.map(column => withHeads(column, lines, summaries.get(column.field.key), flow)),
        ]
      : [...summaryColumns(lines, groups, told, flow), ...table]
  return {
    lines: lines.map(({ row }) => row),
    levels:
      groups.as === 'lines' ? lines.map(line => line.groups.length - (line.row === HEAD_LINE ? 1 : 0)) : [],
    columns: [...named, ...own],
    table: flow.table,
    shows: flow.shows,
    lasting: false,
    rows: lines.reduce((sum, { row }) => sum + (row === HEAD_LINE ? 0 : 1), 0),
    places,
  }
}

const partColumn = (lines: readonly GroupedLine[], valueOf: (line: GroupedLine) => Value): PartColumn => ({
  kind: 'part',
  values: lines.map(valueOf),
})

const countColumn = (
  lines: readonly GroupedLine[],
  starts: readonly Uint32Array[],
  { key, title }: ExportedColumn,
): WrittenColumn => ({
  title,
  field: { key, type: 'integer' },
  show: String,
  column: partColumn(lines, ({ row, groups }) => {
    if (row !== HEAD_LINE) return null
    const [level, group] = [groups.length - 1, groups[groups.length - 1]]
    return starts[level][group + 1] - starts[level][group]
  }),
})

/** What a summary comes to in a group; null: nothing. */
function summaryAt(told: ColumnSummary, level: number, group: number): Value {
  const value = told.levels[level][group]
  return typeof value === 'number' && Number.isNaN(value) ? null : value
}

/** How a summary of a column is kept and shown. */
function summaryOf(
  told: ColumnSummary,
  flow: QuestionContext['flow'],
): Pick<WrittenColumn, 'field' | 'show'> {
  const field = flow.table.fields[flow.columnIndexes.get(told.column) ?? 0]
  return {
    field: summaryField(told.summary, field),
    show: summaryShower(told.summary, field, flow.formatOf(told.column)),
  }
}

function withHeads(
  column: WrittenColumn,
  lines: readonly GroupedLine[],
  told: ColumnSummary | undefined,
  flow: QuestionContext['flow'],
): WrittenColumn {
  if (!told) return column
  const values = partColumn(lines, ({ row, groups }) =>
    row === HEAD_LINE ? summaryAt(told, groups.length - 1, groups[groups.length - 1]) : null,
  )
  return { ...column, heads: { ...summaryOf(told, flow), column: values } }
}

/** For each level and summary a column, which says the same in all rows of a group. */
function summaryColumns(
  lines: readonly GroupedLine[],
  { of, levels }: ExportedGroups,
  told: readonly ColumnSummary[],
  flow: QuestionContext['flow'],
): WrittenColumn[] {
  return levels.flatMap((_, level) =>
    told.map((one): WrittenColumn => {
      const { key, title } = of.find(asked => asked.column === one.column)?.levels[level] ?? {
        key: '',
        title: '',
      }
      const { field, show } = summaryOf(one, flow)
      return {
        title,
        field: { ...field, key },
        show,
        column: partColumn(lines, ({ groups }) => summaryAt(one, level, groups[level])),
      }
    }),
  )
}
