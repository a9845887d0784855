import { privateMemory, type Allocate } from '../table/allocate.ts'
import { settleTable } from '../table/settle-table.ts'
import { bytesOf, type Table } from '../table/column.ts'
import type { ReadHelper } from '../read/csv/share-task.ts'
import type { Decoders } from '../read/column-files/column-file.ts'
import { memoryLimit, type ReadCall } from '../read/read-call.ts'
import type { SourceRemark } from '../question/source-remark.ts'
import { readFile } from '../read/read-file.ts'
import type { ReadOptions, ReadReport } from '../read/read-report.ts'
import { growTable } from './made-up/grow-table.ts'
import { makeByThreads, type MakeHelper } from './made-up/make-by-threads.ts'
import { makeTable } from './made-up/make-table.ts'
import { recipeSchema, type RecipeInput } from './made-up/recipe.ts'
import { runSliced } from '../work/work.ts'
import { SourceError, type Progress } from './row-source.ts'

/** What an engine can be given to make its table from. Everything in it can be posted to a worker. */
export type RowsInput =
  | { readonly kind: 'table'; readonly table: Table; readonly report?: ReadReport }
  /** A file of any format that is read: delimited text, JSON, NDJSON, Arrow, Parquet, each also packed with gzip. */
  | { readonly kind: 'file'; readonly blob: Blob; readonly options?: ReadOptions }
  | { readonly kind: 'recipe'; readonly recipe: RecipeInput }
  /** The rows of another input and, behind them, made-up ones that follow them: `times` as many in all. */
  | { readonly kind: 'grown'; readonly of: RowsInput; readonly times: number; readonly seed?: number }

export interface LoadCall {
  readonly cancelled?: () => boolean
  readonly onProgress?: (progress: Progress) => void
  readonly allocate?: Allocate
  readonly decoders?: Decoders
  /** Hears of the first rows, where the others take long. */
  readonly onFirst?: (first: Loaded) => void
  /** Further threads that read a part, where they see what `allocate` makes. */
  readonly helpers?: () => Promise<readonly (ReadHelper & MakeHelper)[]>
}

export interface Loaded {
  readonly table: Table
  readonly remarks: readonly SourceRemark[]
  readonly reading: ReadReport | null
  /** These are only the first rows; the others are on their way. */
  readonly coming?: true
}

/** Makes the table of an input. Rejects with `SourceError`, or with `CancelledError`. */
export async function loadTable(input: RowsInput, call: LoadCall = {}): Promise<Loaded> {
  const allocate = call.allocate ?? privateMemory
  switch (input.kind) {
    case 'table': {
      const { report = null } = input
      return {
        table: settleTable(input.table, allocate),
        remarks: [],
        reading: report,
      }
    }
    case 'file': {
      const { cancelled, onProgress } = call
      const onBytes = (done: number, of: number): void =>
        onProgress?.({ doing: 'Reading', done, of, unit: 'bytes' })
      const result = await readFile(
        input.blob,
        input.options,
        {
          allocate,
          cancelled,
          onBytes,
          helpers: call.helpers,
          onFirst: call.onFirst && tellFirst(call.onFirst),
        },
        call.decoders,
      )
      if (!result.ok) throw new SourceError(result.problem)
      return { table: result.table, remarks: [], reading: result.report }
    }
    case 'grown': {
      const sample = await loadTable(input.of, {
        ...call,
        allocate: privateMemory,
        helpers: undefined,
        onFirst: undefined,
      })
      refuseTooLarge(bytesOf(sample.table) * input.times)
      const grow = growTable(sample.table, input.times, input.seed ?? 1, allocate)
      const table = await runSliced(grow, { cancelled: call.cancelled })
      const { rows } = sample.table
      return { ...sample, table, remarks: [{ code: 'grown', rows }, ...sample.remarks] }
    }
    case 'recipe':
      return { table: await makeRows(input.recipe, call, allocate), remarks: MADE_UP, reading: null }
  }
}

const tellFirst =
  (onFirst: (first: Loaded) => void): ReadCall['onFirst'] =>
  ({ table, report }) =>
    onFirst({ table, remarks: [], reading: report })

function refuseTooLarge(needBytes: number): void {
  const allowedBytes = memoryLimit()
  if (needBytes > allowedBytes) throw new SourceError({ code: 'too-large', needBytes, allowedBytes })
}

const MADE_UP: readonly SourceRemark[] = [{ code: 'made-up' }]
/** More cells than these take longer than a glance to make. */
const MANY_CELLS = 2_000_000
const FIRST_ROWS = 1000

async function makeRows(input: RecipeInput, call: LoadCall, allocate: Allocate): Promise<Table> {
  const read = recipeSchema.safeParse(input)
  if (!read.success) {
    const [issue] = read.error.issues
    throw new SourceError({ code: 'recipe-not-valid', path: issue.path.join('.'), reason: issue.message })
  }
  const recipe = read.data
  if (call.onFirst && recipe.rows * recipe.columns.length > MANY_CELLS) {
    const first = await runSliced(makeTable({ ...recipe, rows: Math.min(recipe.rows, FIRST_ROWS) }, allocate))
    call.onFirst({ table: first, remarks: MADE_UP, reading: null })
  }
  let told = 0
  const onRows = (rows: number): void => {
    if (rows - told < recipe.rows / 200) return
    told = rows
    call.onProgress?.({ doing: 'Making rows', done: Math.floor(rows), of: recipe.rows, unit: 'rows' })
  }
  const helpers = await call.helpers?.()
  return await makeByThreads(recipe, { allocate, cancelled: call.cancelled, helpers, onRows })
}
