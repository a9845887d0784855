import type { ViewRequest } from '../flow/view-request.ts'
import { HEAD_LINE, type PartColumn, type WrittenColumn } from '../export/written-column.ts'
import { lastStartAt } from '../layout/last-start.ts'
import { summaryShower } from '../summary/show-summary.ts'
import { summaryField } from '../summary/summary.ts'
import type { Value } from '../table/column.ts'
import type { Work } from '../work/work.ts'
import { columnsToExport } from './columns-to-export.ts'
import type { ExportArgs, ExportedColumn, ExportedGroups, ExportedPart, GivenGroups } from './export-args.ts'
import type { QuestionContext } from './question.ts'
import { summarize, type ColumnSummary } from './summarize.ts'

/** A line of a part: a row with the groups that it is in, or a head with those around it and its own. */
interface GroupedLine {
  readonly row: number
  readonly groups: readonly number[]
}

/** The groups of a part, whoever put them together. */
interface PartGroups {
  /** By level: where the groups begin among the places; past the last, how many places there are. */
  readonly starts: readonly (Uint32Array | readonly number[])[]
  readonly rowAt: (place: number) => number
  /** Null: of what is missing. */
  readonly nameOf: (level: number, group: number) => string | null
  readonly countOf: (level: number, group: number) => number
  readonly told: readonly ColumnSummary[]
}

/** The lines and columns of a part in the groups of a request. Linear in the places that are looked at. */
export function* groupedLines(
  asked: QuestionContext,
  args: ExportArgs,
  groups: ExportedGroups,
  request: ViewRequest,
): Work<ExportedPart> {
  const { flow } = asked
  const { starts, rowAt, nameOf, countOf, told } = groups.given
    ? givenGroups(groups.given)
    : yield* groupsOf(asked, groups, request)
  const places = starts.at(-1)?.at(-1) ?? 0
  const lines: GroupedLine[] = []
  for (let place = args.from; place < Math.min(args.to, places); place++) {
    const around = starts.map(level => lastStartAt(level, level.length - 1, place))
    if (groups.as === 'lines')
      for (let level = 0; level < starts.length; level++)
        if (starts[level][around[level]] === place)
          lines.push({ row: HEAD_LINE, groups: around.slice(0, level + 1) })
    lines.push({ row: rowAt(place), groups: around })
  }
  yield
  const named = groups.levels.map(({ key, title }, level): WrittenColumn => ({
    title,
    field: { key, type: 'text' },
    show: String,
    column: partColumn(lines, line => {
      const group = line.groups.at(level)
      if (group === undefined || (groups.as === 'lines' && line.row !== HEAD_LINE)) return null
      return nameOf(level, group)
    }),
  }))
  const table = columnsToExport(flow.table, flow.shows, args.columns)
  const summaries = new Map(told.map(one => [one.column, one]))
  const own =
    groups.as === 'lines'
      ? [
          countColumn(lines, countOf, groups.count),
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

function* groupsOf(asked: QuestionContext, groups: ExportedGroups, request: ViewRequest): Work<PartGroups> {
  const { flow } = asked
  const grouped = yield* flow.groupedRows(request)
  const told = yield* summarize.answer(asked, { request, of: groups.of })
  const { starts, rows } = grouped
  const reader = flow.groupReader(grouped)
  return {
    starts,
    rowAt: place => (rows ? rows[place] : place),
    nameOf: (level, group) =>
      reader.isRest(level, group) ? groups.rest : reader.shown(level, group) || null,
    countOf: (level, group) => starts[level][group + 1] - starts[level][group],
    told,
  }
}

const givenGroups = ({ levels, told }: GivenGroups): PartGroups => ({
  starts: levels.map(({ starts }) => starts),
  rowAt: place => place,
  nameOf: (level, group) => levels[level].names[group],
  countOf: (level, group) => levels[level].counts[group],
  told,
})

const partColumn = (lines: readonly GroupedLine[], valueOf: (line: GroupedLine) => Value): PartColumn => ({
  kind: 'part',
  values: lines.map(valueOf),
})

const countColumn = (
  lines: readonly GroupedLine[],
  countOf: PartGroups['countOf'],
  { key, title }: ExportedColumn,
): WrittenColumn => ({
  title,
  field: { key, type: 'integer' },
  show: String,
  column: partColumn(lines, ({ row, groups }) => {
    return row === HEAD_LINE ? countOf(groups.length - 1, groups[groups.length - 1]) : null
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
