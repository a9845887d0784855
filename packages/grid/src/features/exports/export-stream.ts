import { CancelledError, countRows, shownColumns } from '@vast-meadow/engine/client'
import type { ExportedColumn, ExportedRows, PackedRows, TextFormat, TextRules } from '@vast-meadow/engine'
import type { Kernel } from '../../kernel/kernel.ts'

/** Cells that are written in one part: some ten milliseconds of work where the rows are. */
const CELLS_A_PART = 40_000

export interface ExportProgress {
  /** Rows that were written, and rows that there are. */
  readonly done: number
  readonly of: number
}

/** What is taken away as a file, and how it is written. */
export interface ExportOptions {
  /** Default: `csv`. */
  readonly format?: TextFormat
  /** Those that pass (default) or are selected, in their order, or all as they came. */
  readonly rows?: 'passing' | 'selected' | 'all'
  /** The shown columns in their order (default), all of the definition, or these. */
  readonly columns?: 'shown' | 'all' | readonly string[]
  /** `shown`: as the columns write their values; `raw`: as other programs read them (default). */
  readonly values?: 'shown' | 'raw'
  /** Of CSV: what stands between cells; default: a comma. */
  readonly separator?: TextRules['separator']
  /** Of CSV: a text that a spreadsheet would take for a formula gets an apostrophe before it; default: true. */
  readonly neutral?: boolean
  /** Of CSV: begins with a byte-order mark, by which some spreadsheets know that it is UTF-8; default: false. */
  readonly mark?: boolean
  readonly signal?: AbortSignal
  readonly onProgress?: (progress: ExportProgress) => void
}

interface Part {
  readonly rows: ExportedRows
  /** How many rows it is about. */
  readonly count: number
}

/** The file as a stream of its bytes: a part is worked out when it is asked for, and nothing more is held. */
export function exportStream(
  kernel: Kernel,
  options: ExportOptions,
  ticked: PackedRows | null,
): ReadableStream<Uint8Array<ArrayBuffer>> {
  const encoder = new TextEncoder()
  let parts: AsyncIterator<string> | null = null
  return new ReadableStream<Uint8Array<ArrayBuffer>>(
    {
      async pull(controller) {
        parts ??= exportedTexts(kernel, options, ticked)[Symbol.asyncIterator]()
        const next = await parts.next()
        if (next.done) controller.close()
        else controller.enqueue(encoder.encode(next.value))
      },
      async cancel() {
        await parts?.return?.()
      },
    },
    { highWaterMark: 1 },
  )
}

async function* exportedTexts(
  { model }: Kernel,
  options: ExportOptions,
  ticked: PackedRows | null,
): AsyncIterable<string> {
  const { format = 'csv', values = 'raw', separator, neutral, mark = false, signal, onProgress } = options
  const { source } = model
  if (!source) return
  const rules: TextRules = { format, values, separator, neutral }
  const columns = columnsOf(model, options.columns ?? 'shown')
  const view = await source.view(model.request(), { signal })
  try {
    const parts = partsOf(options.rows ?? 'passing', ticked, view.report)
    const of = parts.reduce((sum, { count }) => sum + count, 0)
    const step = Math.max(1, Math.floor(CELLS_A_PART / Math.max(1, columns.length)))
    let done = 0
    let begun = false
    if (format === 'csv' && mark) yield '\uFEFF'
    if (format === 'json') yield '['
    for (const { rows } of parts)
      for (let from = 0, places = 1; from < places; from += step) {
        if (signal?.aborted) throw new CancelledError()
        const asked = { view: view.id, rows, from, to: from + step, columns, rules }
        const told = await source.ask('exportText', asked, { signal })
        places = told.places
        done += told.rows
        onProgress?.({ done, of })
        if (told.text === '') continue
        yield format === 'json' ? `${begun ? ',' : ''}\n${told.text}` : told.text
        begun = true
      }
    if (format === 'json') yield '\n]\n'
  } finally {
    view.close()
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
