import { privateMemory, settle, type Allocate } from '../table/allocate.ts'
import { arraysOf, type Column, type Table } from '../table/column.ts'
import { readCsv, type CsvOptions, type CsvReport } from '../read/csv/read-csv.ts'
import { makeTable } from './made-up/make-table.ts'
import { recipeSchema, type RecipeInput } from './made-up/recipe.ts'
import { runSliced } from '../work/work.ts'
import { SourceError, type Progress } from './row-source.ts'

/** What an engine can be given to make its table from. Everything in it can be posted to a worker. */
export type RowsInput =
  | { readonly kind: 'table'; readonly table: Table }
  | { readonly kind: 'csv'; readonly blob: Blob; readonly options?: CsvOptions }
  | { readonly kind: 'recipe'; readonly recipe: RecipeInput }

export interface LoadCall {
  readonly cancelled?: () => boolean
  readonly onProgress?: (progress: Progress) => void
  readonly allocate?: Allocate
}

export interface Loaded {
  readonly table: Table
  readonly notes: readonly string[]
}

/** Makes the table of an input. Rejects with `SourceError`, or with `CancelledError`. */
export async function loadTable(input: RowsInput, call: LoadCall = {}): Promise<Loaded> {
  const allocate = call.allocate ?? privateMemory
  switch (input.kind) {
    case 'table':
      return { table: settleTable(input.table, allocate), notes: [] }
    case 'csv': {
      const result = await readCsv(input.blob, input.options, {
        allocate,
        cancelled: call.cancelled,
        onBytes: (done, of) => call.onProgress?.({ doing: 'Reading', done, of, unit: 'bytes' }),
      })
      if (!result.ok) throw new SourceError(result.problem)
      return { table: result.table, notes: csvNotes(result.report) }
    }
    case 'recipe':
      return {
        table: await makeRows(input.recipe, call, allocate),
        notes: ['The rows are made up from a recipe.'],
      }
  }
}

async function makeRows(input: RecipeInput, call: LoadCall, allocate: Allocate): Promise<Table> {
  const read = recipeSchema.safeParse(input)
  if (!read.success) {
    const [issue] = read.error.issues
    throw new SourceError({ code: 'recipe-not-valid', path: issue.path.join('.'), reason: issue.message })
  }
  const recipe = read.data
  let cells = 0
  let told = 0
  const of = recipe.rows * recipe.columns.length
  const tell = (made: number): void => {
    cells = made
    if (cells - told < of / 200) return
    told = cells
    const done = Math.floor(cells / recipe.columns.length)
    call.onProgress?.({ doing: 'Making rows', done, of: recipe.rows, unit: 'rows' })
  }
  return await runSliced(makeTable(recipe, allocate, tell), { cancelled: call.cancelled })
}

function settleTable(table: Table, allocate: Allocate): Table {
  if (allocate === privateMemory) return table
  return { ...table, columns: table.columns.map(column => settleColumn(column, allocate)) }
}

function settleColumn(column: Column, allocate: Allocate): Column {
  const missing = column.missing && settle(column.missing, allocate)
  switch (column.kind) {
    case 'number':
      return { ...column, missing, values: settle(column.values, allocate) }
    case 'boolean':
      return { ...column, missing, values: settle(column.values, allocate) }
    case 'coded':
    case 'plain': {
      const { bytes, offsets } = column.texts
      const texts = { bytes: settle(bytes, allocate), offsets: settle(offsets, allocate) }
      return column.kind === 'plain'
        ? { ...column, missing, texts }
        : { ...column, missing, texts, codes: settle(column.codes, allocate) }
    }
  }
}

/** The buffers of a table that a message can hand over instead of copying. */
export function transfersOf(input: RowsInput): ArrayBuffer[] {
  if (input.kind !== 'table') return []
  const buffers = new Set<ArrayBuffer>()
  for (const column of input.table.columns) {
    for (const array of arraysOf(column)) if (array.buffer instanceof ArrayBuffer) buffers.add(array.buffer)
  }
  return [...buffers]
}

const DELIMITER_NAMES: Readonly<Record<string, string>> = {
  ',': 'commas',
  ';': 'semicolons',
  '\t': 'tabs',
  '|': 'bars',
}

/** What was read and how, in sentences. */
function csvNotes(report: CsvReport): string[] {
  const mark = report.byteOrderMark ? ' with a byte-order mark' : ''
  const notes = [
    `Read as ${report.encoding}${mark}, fields parted by ${DELIMITER_NAMES[report.delimiter] ?? `"${report.delimiter}"`}, ${
      report.header ? 'the first line names the columns' : 'without a header line'
    }.`,
  ]
  const { ragged, strayQuotes, blankLines, renamed } = report
  if (ragged.count > 0) {
    const where = ragged.examples.map(({ line, fields }) => `line ${line} has ${fields}`).join(', ')
    const more = ragged.count > ragged.examples.length ? ', …' : ''
    notes.push(
      `${ragged.count} ${ragged.count === 1 ? 'line does' : 'lines do'} not have ${ragged.expected} fields (${where}${more}). Short ones are padded with missing values, long ones add columns.`,
    )
  }
  if (strayQuotes.count > 0) {
    notes.push(
      `${strayQuotes.count} fields go on after their closing quote, first on line ${strayQuotes.firstLine}; they are kept as they stand.`,
    )
  }
  if (blankLines > 0)
    notes.push(`${blankLines} blank ${blankLines === 1 ? 'line was' : 'lines were'} passed over.`)
  if (renamed.length > 0) notes.push(`Columns without a name of their own are called ${renamed.join(', ')}.`)
  return notes
}
