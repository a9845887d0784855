import { settleColumn } from '../../table/settle-table.ts'
import type { Column, Field, Table } from '../../table/column.ts'
import { breathe, runSliced } from '../../work/work.ts'
import { TextBlocks, type FileHead } from '../bytes/text-blocks.ts'
import type { EncodingFound } from '../bytes/encoding.ts'
import { allocateOf, ReadError, refuseTooLarge, stopIfCancelled, type ReadCall } from '../read-call.ts'
import { FaultList, type CsvDetails, type Fault, type ReadOptions } from '../read-report.ts'
import { type ColumnReading, askedOf } from '../types/column-reading.ts'
import { plainReading, settleText } from '../types/settle-text.ts'
import type { TextColumn } from '../types/survey-texts.ts'
import { CsvPass } from './csv-pass.ts'
import { detectDelimiter, detectHeader } from './detect.ts'
import { Records, Scanner } from './scan.ts'
import { markProblem, namedDelimiter } from './marks.ts'
import type { TextStyle } from '../types/text-style.ts'

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
 * Rejects with `ReadError` and `CancelledError`.
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
  const asked = options.columns ?? {}
  const read = async (pass: CsvPass, before: number): Promise<[Scanner, TextBlocks]> => {
    const scanner = new Scanner(delimiter, comment)
    const blocks = new TextBlocks(blob, head.gzip, found)
    let readBytes = 0
    try {
      await eachBlock(blocks, scanner, call, (bytes, records) => {
        readBytes += bytes.length
        pass.take(bytes, records, readBytes)
        if (before === 0) refuseTooLarge(pass.bytes, blocks.taken, blocks.size, call)
        call.onBytes?.(before + blocks.taken, before + blocks.size)
      })
    } finally {
      await blocks.close()
    }
    pass.finish()
    return [scanner, blocks]
  }

  const first = new CsvPass(header, asked, named !== null)
  const [scanner, blocks] = await read(first, 0)
  if (first.names.length === 0) throw new ReadError({ code: 'empty' })
  const again = first.readers.flatMap((reader, c) => (reader.mustReadAgain ? [c] : []))
  if (again.length > 0) {
    const second = new CsvPass(header, asked, named !== null, again)
    await read(second, blob.size)
    for (const c of again) {
      second.readers[c].goOnFrom(first.readers[c])
      first.readers[c] = second.readers[c]
    }
  }
  const columns = await settleAll(first, options, call, delimiter)
  const stray = new FaultList('stray-quote')
  stray.count = scanner.strayQuotes
  if (scanner.strayQuotes > 0) stray.examples.push({ line: scanner.firstStrayLine, text: '' })
  return {
    table: {
      rows: first.rows,
      fields: columns.map(({ field }) => field),
      columns: columns.map(({ column }) => column),
    },
    readings: columns.map(({ reading }) => reading),
    details: {
      delimiter,
      header,
      comment,
      delimiterLine: named !== null,
      blankLines: scanner.blankLines,
      commentLines: scanner.commentLines,
      expectedFields: first.expected,
      renamed: first.renamed,
    },
    faults: FaultList.found(first.ragged, first.overWide, stray, ...blocks.faults),
  }
}

type SettledColumn = { field: Field; column: Column; reading: ColumnReading }

async function settleAll(
  pass: CsvPass,
  options: ReadOptions,
  call: ReadCall,
  delimiter: string,
): Promise<SettledColumn[]> {
  const allocate = allocateOf(call)
  const settled: SettledColumn[] = []
  for (const [c, reader] of pass.readers.entries()) {
    const key = pass.names[c]
    const field = reader.field(key)
    const column = reader.finish()
    if (field.type === 'text') {
      const known = reader.oddValues?.survey() ?? null
      const asked = askedOf(options.columns, key)
      const work = settleText(key, column as TextColumn, pass.rows, asked, true, allocate, known)
      settled.push(await runSliced(work, { cancelled: call.cancelled }))
      continue
    }
    // Where commas do not part fields they may be in numbers, and points between thousands.
    const isDoubtful = delimiter === ';' && reader.mayHaveThousands
    const reading = {
      ...plainReading(field),
      ...(reader.finer > 0 && { finer: reader.finer }),
      ...(isDoubtful && { style: PLAIN_NUMBER, ambiguous: WITH_POINTS }),
    }
    settled.push({ field, column: settleColumn(column, allocate), reading })
  }
  return settled
}

const PLAIN_NUMBER: TextStyle = { type: 'number' }
const WITH_POINTS: TextStyle = { type: 'number', decimal: ',', thousands: '.' }
const LINE_FEED = 10

async function eachBlock(
  blocks: TextBlocks,
  scanner: Scanner,
  call: ReadCall,
  onBlock: (bytes: Uint8Array, records: Records) => void,
): Promise<void> {
  const records = new Records()
  let rest: Uint8Array = new Uint8Array(0)
  for (let next = await blocks.next(); next; next = await blocks.next()) {
    const bytes = rest.length > 0 ? joined(rest, next.bytes) : next.bytes
    records.reset()
    const taken = scanner.scan(bytes, bytes.length, next.last, records)
    if (typeof taken !== 'number') throw new ReadError(taken)
    await breathe()
    onBlock(bytes, records)
    rest = bytes.slice(taken)
    if (rest.length > MAX_RECORD_BYTES) throw new ReadError({ code: 'unclosed-quote', line: scanner.line })
    stopIfCancelled(call)
    await breathe()
  }
}

function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
  const out = new Uint8Array(a.length + b.length)
  out.set(a)
  out.set(b, a.length)
  return out
}
