import { CancelledError, countRows, keysIn, shownColumns } from '@vast-meadow/engine/client'
import type {
  ExportArgs,
  ExportedColumn,
  ExportedGroups,
  ExportedRows,
  PackedRows,
  RowSource,
} from '@vast-meadow/engine'
import { levelName, summaryName } from '../../kernel/arrangement-speaker.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import type { ExportOptions } from './export-options.ts'

interface Part {
  readonly rows: ExportedRows
  /** How many rows it is about. */
  readonly count: number
}

/** What one export is of, whatever the format. */
export interface Exported {
  readonly source: RowSource
  readonly options: ExportOptions
  readonly columns: readonly ExportedColumn[]
  readonly groups: ExportedGroups | undefined
  /** Asks for one part after another, as many rows at a time; ends the view when it is given up. */
  parts<Told extends { readonly rows: number; readonly places: number }>(
    step: number,
    ask: (args: ExportArgs) => Promise<Told>,
  ): AsyncGenerator<Told>
}

/** What is to be exported; throws a `RangeError` where it cannot be so. */
export function exportedOf(
  kernel: Kernel,
  options: ExportOptions,
  ticked: PackedRows | null,
): Exported | null {
  const { model } = kernel
  const { source } = model
  if (!source) return null
  const columns = columnsOf(model, options.columns ?? 'shown')
  const groups = groupsOf(kernel, options)
  return {
    source,
    options,
    columns,
    groups,
    async *parts(step, ask) {
      const { signal, onProgress } = options
      const request = model.request()
      const view = await source.view(request, { signal })
      try {
        const parts = partsOf(options.rows ?? 'passing', ticked, view.report)
        const of = parts.reduce((sum, { count }) => sum + count, 0)
        let done = 0
        for (const { rows } of parts)
          for (let from = 0, places = 1; from < places; from += step) {
            if (signal?.aborted) throw new CancelledError()
            const inGroups = groups && { groups, request }
            const told = await ask({ view: view.id, rows, from, to: from + step, columns, ...inGroups })
            places = told.places
            done += told.rows
            onProgress?.({ done, of })
            yield told
          }
      } finally {
        view.close()
      }
    },
  }
}

/** What is written one after another. */
function partsOf(
  which: NonNullable<ExportOptions['rows']>,
  ticked: PackedRows | null,
  { passing, total }: { readonly passing: number; readonly total: number },
): Part[] {
  if (which === 'all') return [{ rows: { kind: 'all' }, count: total }]
  if (which === 'passing') return [{ rows: { kind: 'passing' }, count: passing }]
  const among = ticked ?? { chunks: [], names: [] }
  // Those that do not pass stand nowhere: they come behind.
  return [
    { rows: { kind: 'passing', among }, count: countRows({ kind: 'set', ...among }) },
    { rows: { kind: 'held-back', among }, count: 0 },
  ]
}

function columnsOf(model: Kernel['model'], which: NonNullable<ExportOptions['columns']>): ExportedColumn[] {
  const { start, middle, end } = shownColumns(model.arrangement)
  const keys =
    which === 'shown'
      ? [...start, ...middle, ...end]
      : which === 'all'
        ? (model.definition?.columns ?? []).map(({ key }) => key)
        : which
  for (const key of keys)
    if (!model.columnOf(key)) throw new RangeError(`There is no column "${key}" to export.`)
  // Columns of buttons hold nothing.
  return keys
    .filter(key => model.columnOf(key)?.cell.kind !== 'actions')
    .map(key => ({ key, title: model.titleOf(key) }))
}

/** The names of columns that say something of groups begin so; no field is called so by accident. */
const OF_GROUPS = '@'

function groupsOf(
  { model, texts, options: { parts } }: Kernel,
  { groups = 'none', rows = 'passing', format = 'csv' }: ExportOptions,
): ExportedGroups | undefined {
  const { groups: levels, summaries } = model.arrangement
  if (groups === 'none' || levels.length === 0) return undefined
  if (rows !== 'passing')
    throw new RangeError('Only rows that pass stand in groups: leave "rows" or "groups" out.')
  if (groups === 'lines' && (format === 'parquet' || format === 'arrow'))
    throw new RangeError(`A file of format "${format}" holds groups as columns only.`)
  const names = levels.map(level => levelName(level, model, texts))
  // A column may be one by several buckets.
  const keys = levels.map(({ column }, nth) =>
    levels.some((other, at) => other.column === column && at !== nth)
      ? `${OF_GROUPS}${nth + 1} ${column}`
      : `${OF_GROUPS}${column}`,
  )
  return {
    as: groups,
    levels: names.map((name, nth) => ({
      key: keys[nth],
      title: texts.exportedGroup(name),
    })),
    count: { key: `${OF_GROUPS}rows`, title: texts.exportedRowCount },
    rest: texts.restOfGroups,
    of: keysIn(summaries)
      .filter(column => model.columnOf(column))
      .map(column => {
        const summary = summaries[column]
        const name = summaryName(summary, texts, parts)
        return {
          column,
          summary,
          levels: names.map((group, nth) => ({
            key: `${keys[nth]} ${name} ${column}`,
            title: texts.exportedSummary(name, model.titleOf(column), group),
          })),
        }
      }),
  }
}
