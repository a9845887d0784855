import type { ColumnSummary, Line, LineIndex } from '@vast-meadow/engine'
import { asLine } from '@vast-meadow/engine/client'
import type { Kernel } from '../../kernel/kernel.ts'

/** Lines that are asked for at a time. */
const LINES_A_READ = 500

/** A line of what is printed, with its cells as they are shown. */
export type PrintedLine =
  | { readonly kind: 'row'; readonly level: number; readonly cells: readonly string[] }
  | {
      readonly kind: 'head' | 'foot'
      readonly level: number
      readonly name: string
      readonly count: number
      /** Rows and heads that stand in the group, where it is open; 0: it is closed. */
      readonly lines: number
      readonly cells: readonly string[]
    }

export interface Printed {
  readonly columns: readonly {
    readonly key: string
    readonly title: string
    readonly width: number
    readonly end: boolean
  }[]
  readonly lines: readonly PrintedLine[]
  /** What columns come to in all rows; null: none does. */
  readonly totals: readonly string[] | null
  /** How many rows pass, and how many of them are printed. */
  readonly passing: number
  readonly printed: number
}

/** Reads the lines as they are arranged, up to so many rows. What is in closed groups is not printed. */
export async function printedLines(
  kernel: Kernel,
  columns: readonly string[],
  most: number,
): Promise<Printed> {
  const { model, texts, screen, format } = kernel
  const { source } = model
  const passing = kernel.report?.passing ?? 0
  const of = columns.map(key => ({
    key,
    title: model.titleOf(key),
    width: screen.widthOf(key),
    end: model.columnOf(key)?.align === 'end',
  }))
  if (!source) return { columns: of, lines: [], totals: null, passing: 0, printed: 0 }
  const request = model.request()
  const view = await source.view(request)
  try {
    const summaries = await summariesOf(kernel, columns)
    const lines: PrintedLine[] = []
    let rows = 0
    for (let from = 0; from < view.lines.lineCount && rows < most; from += LINES_A_READ) {
      const block = await source.ask('cells', { view: view.id, from, to: from + LINES_A_READ, columns })
      for (const [nth, line] of block.lines.entries()) {
        if (line.kind === 'row' && rows++ >= most) break
        const cells = block.texts.slice(nth * columns.length, (nth + 1) * columns.length)
        const printed = lineOf(line, asLine(from + nth), cells, columns, summaries)
        if (printed) lines.push(printed)
      }
    }
    const all = columns.map(column => summaries.get(column)?.all ?? '')
    return {
      columns: of,
      lines,
      totals: all.some(Boolean) ? all : null,
      passing,
      printed: Math.min(rows, most),
    }
  } finally {
    view.close()
  }

  function lineOf(
    line: Line,
    at: LineIndex,
    cells: readonly string[],
    keys: readonly string[],
    summaries: ReadonlyMap<string, ShownSummary>,
  ): PrintedLine | null {
    if (line.kind === 'row') return { kind: 'row', level: line.level, cells }
    if (line.kind === 'detail' || line.kind === 'new') return null
    const shown = line.rest ? texts.restOfGroups : line.value === null ? texts.missing : line.shown
    const title = model.titleOf(line.column)
    const rowsIn = texts.groupCount(format(line.count), line.count)
    return {
      kind: line.kind,
      level: line.level,
      name: line.kind === 'head' ? `${title} ${shown}${texts.parted}${rowsIn}` : texts.groupFoot(shown),
      count: line.count,
      lines: line.kind === 'head' && line.open ? line.end - at - 1 : 0,
      cells: keys.map(key => summaries.get(key)?.of(line.level, line.group) ?? ''),
    }
  }
}

interface ShownSummary {
  readonly all: string
  of(level: number, group: number): string
}

/** What columns come to, as it is shown. */
async function summariesOf(
  { model }: Kernel,
  columns: readonly string[],
): Promise<ReadonlyMap<string, ShownSummary>> {
  const { summaries } = model.arrangement
  const of = columns
    .filter(column => Object.hasOwn(summaries, column) && model.fieldOf(column))
    .map(column => ({ column, summary: summaries[column] }))
  const told = of.length > 0 ? ((await model.ask('summarize', { request: model.request(), of })) ?? []) : []
  return new Map(
    told.map(one => [one.column, shownSummary(one, model.showSummaryOf(one.column, one.summary))]),
  )
}

function shownSummary(told: ColumnSummary, show: (value: ColumnSummary['all']) => string): ShownSummary {
  const written = (value: ColumnSummary['all']): string =>
    value === null || (typeof value === 'number' && Number.isNaN(value)) ? '' : show(value)
  return {
    all: written(told.all),
    of: (level, group) => written(told.levels.at(level)?.[group] ?? null),
  }
}
