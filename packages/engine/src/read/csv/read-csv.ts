import type { Table } from '../../table/column.ts'
import { breathe } from '../../work/work.ts'
import type { EncodingFound } from '../bytes/encoding.ts'
import { TextBlocks, type FileHead } from '../bytes/text-blocks.ts'
import {
  allocateOf,
  ReadError,
  refuseTooLarge,
  refuseUneven,
  stopIfCancelled,
  type ReadCall,
} from '../read-call.ts'
import { FaultList, type CsvDetails, type Fault, type ReadOptions } from '../read-report.ts'
import { askedOf, type ColumnReading, type ColumnsReadOptions } from '../types/column-reading.ts'
import { ColumnShares, HelperLostError } from './column-shares.ts'
import { CsvShape } from './csv-shape.ts'
import { detectDelimiter, detectHeader } from './detect.ts'
import { markProblem, namedDelimiter } from './marks.ts'
import { Scanner, type FoundFields, type Records } from './scan.ts'
import type { ReadHelper } from './share-task.ts'

/** No record is longer; a quote that is never closed ends here instead of swallowing the file. */
const MAX_RECORD_BYTES = 64 << 20

export interface CsvTable {
  readonly table: Table
  readonly readings: readonly ColumnReading[]
  readonly details: CsvDetails
  readonly faults: readonly Fault[]
}

/**
 * Reads delimited text (RFC 4180) into typed columns, a block at a time. Types hold for every value of a column: one
 * that stops fitting is read a second time, as text, and looked through for other ways of writing numbers and dates.
 * Columns are shared out among the threads of the call. Rejects with `ReadError` and `CancelledError`.
 */
export async function readCsv(
  blob: Blob,
  head: FileHead,
  sample: Uint8Array,
  found: EncodingFound,
  options: ReadOptions,
  call: ReadCall,
): Promise<CsvTable> {
  const problem = markProblem(options)
  if (problem) throw new ReadError(problem)
  const comment = options.comment || null
  const named = namedDelimiter(sample)
  const looked = named === null ? sample : sample.subarray(sample.indexOf(LINE_FEED) + 1)
  const delimiter = options.delimiter || named || detectDelimiter(looked, head.whole, comment)
  const header = options.header ?? detectHeader(looked, head.whole, delimiter, comment)
  const file = { blob, head, found, delimiter, comment, header, delimiterLine: named !== null }
  const helpers = (await call.helpers?.()) ?? []
  try {
    return await readWith(helpers, file, options, call)
  } catch (error) {
    if (!(error instanceof HelperLostError)) throw error
    return await readWith([], file, options, call)
  }
}

/** A file of delimited text, and how it is written. */
interface CsvFile extends Pick<CsvDetails, 'delimiter' | 'comment' | 'header' | 'delimiterLine'> {
  readonly blob: Blob
  readonly head: FileHead
  readonly found: EncodingFound
}

async function readWith(
  helpers: readonly ReadHelper[],
  file: CsvFile,
  options: ReadOptions,
  call: ReadCall,
): Promise<CsvTable> {
  const { delimiter, header, comment, delimiterLine } = file
  const shares = new ColumnShares(helpers, () => stopIfCancelled(call))
  try {
    const { shape, scanner, faults } = await readOnce(file, shares, options.columns, call, true)
    if (shape.names.length === 0) throw new ReadError({ code: 'empty' })
    if (await shares.end(shape.rows)) {
      await readOnce(file, shares, options.columns, call, false)
      await shares.end(shape.rows)
    }
    const wanted = shape.names.map((key, place) => ({
      place,
      key,
      asked: askedOf(options.columns, key),
      delimiter,
    }))
    const columns = await shares.settle(wanted, allocateOf(call), call.cancelled)
    const stray = new FaultList('stray-quote')
    stray.count = scanner.strayQuotes
    if (scanner.strayQuotes > 0) stray.examples.push({ line: scanner.firstStrayLine, text: '' })
    return {
      table: {
        rows: shape.rows,
        fields: columns.map(({ field }) => field),
        columns: columns.map(({ column }) => column),
      },
      readings: columns.map(({ reading }) => reading),
      details: {
        delimiter,
        header,
        comment,
        delimiterLine,
        blankLines: scanner.blankLines,
        commentLines: scanner.commentLines,
        expectedFields: shape.expected,
        renamed: shape.renamed,
      },
      faults: FaultList.found(shape.ragged, shape.overWide, stray, ...faults),
    }
  } finally {
    shares.drop()
  }
}

const LINE_FEED = 10
/** A block takes longer than its records alone, and both together longer than a frame has room for. */
const BREATHE_EVERY_MS = 4

/** Goes through the whole file once, and hands its blocks to those who read columns. `first`: columns are not known yet. */
async function readOnce(
  { blob, head, found, delimiter, comment, header, delimiterLine }: CsvFile,
  shares: ColumnShares,
  asked: ColumnsReadOptions | undefined,
  call: ReadCall,
  first: boolean,
): Promise<{ shape: CsvShape; scanner: Scanner; faults: readonly FaultList[] }> {
  const shape = new CsvShape(header, delimiterLine)
  const scanner = new Scanner(delimiter, comment)
  const blocks = new TextBlocks(blob, head.gzip, found)
  let rest: Uint8Array = new Uint8Array(0)
  /** Blocks behind it that are not gone through yet. */
  let held: Uint8Array[] = []
  let heldBytes = 0
  let readBytes = 0
  let columns = 0
  let breathed = performance.now()
  const breatheWhenDue = async (): Promise<void> => {
    if (performance.now() - breathed < BREATHE_EVERY_MS) return
    await breathe()
    breathed = performance.now()
  }
  try {
    for (let next = await blocks.next(); next; next = await blocks.next()) {
      held.push(next.bytes)
      heldBytes += next.bytes.length
      // What begins a record longer than a block is gone through again when as much has come as there is of it.
      if (!next.last && heldBytes < rest.length) continue
      const room = await shares.room()
      const bytes = room.fill(rest, held)
      held = []
      heldBytes = 0
      const taken = scanner.scan(bytes, bytes.length, next.last, room.records)
      if (typeof taken !== 'number') throw new ReadError(taken)
      rest = bytes.slice(taken)
      if (rest.length > MAX_RECORD_BYTES) throw new ReadError({ code: 'unclosed-quote', line: scanner.line })
      await breatheWhenDue()
      const rowsBefore = shape.rows
      const { firstRecord, widest } = shape.take(bytes, room.records)
      readBytes += bytes.length
      refuseUneven(shape.rows * shape.names.length, readBytes)
      const { most } = shape
      const block = { bytes, found: fieldsOf(room.records), firstRecord, rowsBefore, widest, most }
      if (first) {
        const more = shape.names.slice(columns)
        const isText = (name: string): boolean => askedOf(asked, name)?.type !== undefined
        shares.add(
          more.map((name, i) => ({ place: columns + i, asText: isText(name) })),
          block,
        )
        columns = shape.names.length
      }
      shares.take(block)
      if (first) refuseTooLarge(shares.bytes, blocks.taken, blocks.size, call)
      const before = first ? 0 : blob.size
      call.onBytes?.(before + blocks.taken, before + blocks.size)
      stopIfCancelled(call)
      await breatheWhenDue()
    }
  } finally {
    await blocks.close()
  }
  return { shape, scanner, faults: blocks.faults }
}

/** What others need of records; the object itself goes on to the next block. */
const fieldsOf = ({ count, firstField, starts, ends, how }: Records): FoundFields => ({
  count,
  firstField,
  starts,
  ends,
  how,
})
