import { isBatchFormat, loadWorkbook, shownColumns, summaryField } from '@vast-meadow/engine/client'
import type {
  BatchField,
  BatchFormat,
  PackedPart,
  PackedRows,
  PlacedBatch,
  Summary,
  TextRules,
  WorkbookColumn,
} from '@vast-meadow/engine'
import type { Kernel } from '../../kernel/kernel.ts'
import { exportedOf, type Exported } from './exported-parts.ts'
import type { ExportOptions } from './export-options.ts'

type Bytes = Uint8Array<ArrayBuffer>

/** Cells that are written in one part: some ten milliseconds of work where the rows are. */
const CELLS_A_PART = 40_000
/** Rows that stand together in a column file, and cells at most: what reads them skips or reads them as one. */
const ROWS_A_BATCH = 1 << 15
const CELLS_A_BATCH = 1_000_000
/** Width in px of a column that is no column of the grid. */
const USUAL_WIDTH = 120

/** The bytes of the file, part by part: a part is worked out when it is asked for, and nothing more is held. */
export function exportedBytes(
  kernel: Kernel,
  options: ExportOptions,
  ticked: PackedRows | null,
): AsyncIterable<Bytes> {
  const exported = exportedOf(kernel, options, ticked)
  return exported ? bytesOf(kernel, exported) : noBytes()
}

async function* noBytes(): AsyncGenerator<Bytes> {
  // There are no rows yet.
}

function bytesOf(kernel: Kernel, exported: Exported): AsyncIterable<Bytes> {
  const { format = 'csv' } = exported.options
  if (format === 'xlsx') return workbookBytes(kernel, exported)
  return isBatchFormat(format) ? batchBytes(exported, format) : textBytes(exported, format)
}

const rowsAPart = (cells: number, { columns }: Exported): number =>
  Math.max(1, Math.floor(cells / Math.max(1, columns.length)))

async function* textBytes(exported: Exported, format: TextRules['format']): AsyncIterable<Bytes> {
  const { source, options } = exported
  const { values = 'raw', separator, neutral, mark = false, signal } = options
  const rules: TextRules = { format, values, separator, neutral }
  const encoder = new TextEncoder()
  if (format === 'csv' && mark) yield encoder.encode('\uFEFF')
  if (format === 'json') yield encoder.encode('[')
  let begun = false
  const parts = exported.parts(rowsAPart(CELLS_A_PART, exported), args =>
    source.ask('exportText', { ...args, rules }, { signal }),
  )
  for await (const { text } of parts) {
    if (text === '') continue
    yield encoder.encode(format === 'json' ? `${begun ? ',' : ''}\n${text}` : text)
    begun = true
  }
  if (format === 'json') yield encoder.encode('\n]\n')
}

async function* batchBytes(exported: Exported, format: BatchFormat): AsyncIterable<Bytes> {
  const { source, options } = exported
  const { values = 'raw', signal } = options
  const batches: PlacedBatch[] = []
  let fields: readonly BatchField[] | null = null
  let [at, count] = [0, 0]
  const step = Math.min(ROWS_A_BATCH, rowsAPart(CELLS_A_BATCH, exported))
  const parts = exported.parts(step, args =>
    source.ask('exportBatch', { ...args, format, values, begins: fields === null }, { signal }),
  )
  for await (const { bytes, head, told, fields: now, rows } of parts) {
    if (fields && JSON.stringify(fields) !== JSON.stringify(now))
      throw new Error('Rows of other types came while the file was written.')
    fields = now
    batches.push({ at: at + head, told })
    at += bytes.length
    count += rows
    yield bytes
  }
  yield await source.ask('exportEnd', { format, fields: fields ?? [], batches, rows: count }, { signal })
}

async function* workbookBytes(kernel: Kernel, exported: Exported): AsyncIterable<Bytes> {
  const { source, options, groups } = exported
  const { values = 'raw', signal } = options
  const { model, texts, format } = kernel
  const { MOST_SHEET_ROWS, packNow, styleNumbers, workbookFiles, zipStream } = await loadWorkbook()
  const columns = workbookColumns(kernel, exported)
  const asShown = values === 'shown'
  const { start } = shownColumns(model.arrangement)
  const own = columns.length - exported.columns.length
  const other = exported.columns.findIndex(({ key }, nth) => start.at(nth) !== key)
  const pinned = other < 0 ? exported.columns.length : other
  const workbook = {
    name: model.definition?.title ?? '',
    columns,
    pinned: pinned > 0 ? own + pinned : 0,
    levels: groups?.as === 'lines' ? groups.levels.length : 0,
    asShown,
  }
  const styles = styleNumbers(workbook)
  const sheet = columns.map((column, nth) => ({ format: column.format, style: styles[nth] }))
  const files = workbookFiles(workbook)
  /** The sheet is packed where its rows are. */
  async function* sheetParts(): AsyncGenerator<PackedPart> {
    const before = packNow(files.before)
    yield before
    let { crc } = before
    let lines = 1
    const parts = exported.parts(rowsAPart(CELLS_A_PART, exported), args =>
      source.ask('exportSheet', { ...args, values, sheet, crc }, { signal }),
    )
    for await (const told of parts) {
      lines += told.lines
      if (lines > MOST_SHEET_ROWS)
        throw new RangeError(texts.tooManyForSheet(format(MOST_SHEET_ROWS - 1), MOST_SHEET_ROWS - 1))
      ;({ crc } = told)
      yield told
    }
    yield packNow(files.after, crc)
  }
  const others = Object.entries(files.others).map(([name, content]) => ({ name, content }))
  yield* zipStream([...others, { name: files.sheet, content: sheetParts() }])
}

/** The columns of the sheet, those of groups first. */
function workbookColumns({ model, screen }: Kernel, { columns, groups }: Exported): WorkbookColumn[] {
  const { formats } = model.binding
  const text = (title: string): WorkbookColumn => ({
    title,
    field: { key: '', type: 'text' },
    format: {},
    width: USUAL_WIDTH,
  })
  const ofSummary = (column: string, summary: Summary, title: string): WorkbookColumn => {
    const field = model.fieldOf(column)
    return {
      title,
      field: field ? summaryField(summary, field) : { key: column, type: 'number' },
      format: formats[column] ?? {},
      width: USUAL_WIDTH,
    }
  }
  const named = groups?.levels.map(({ title }) => text(title)) ?? []
  const further =
    groups?.as === 'lines'
      ? [text(groups.count.title)]
      : (groups?.levels.flatMap((_, level) =>
          groups.of.map(({ column, summary, levels }) => ofSummary(column, summary, levels[level].title)),
        ) ?? [])
  const own = columns.map(({ key, title }): WorkbookColumn => ({
    title,
    field: model.fieldOf(key) ?? { key, type: 'text' },
    format: formats[key] ?? {},
    width: screen.widthOf(key),
  }))
  return [...named, ...further, ...own]
}
