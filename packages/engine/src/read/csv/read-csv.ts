import { privateMemory, type Allocate } from '../../table/allocate.ts'
import type { Table } from '../../table/column.ts'
import { decodeBytes } from '../../table/text-block.ts'
import { breathe, CancelledError } from '../../work/work.ts'
import { ColumnReader } from './column-reader.ts'
import { detectDelimiter, detectHeader } from './detect.ts'
import { DOUBLED, Records, Scanner } from './scan.ts'

/** Bytes read at once; scanning them and filling columns take about eight milliseconds each. */
const BLOCK_BYTES = 1 << 20
/** No record is longer; a quote that is never closed ends here instead of swallowing the file. */
const MAX_RECORD_BYTES = 64 << 20
const MAX_FIELDS = 20_000
const MAX_EXAMPLES = 5
const SAMPLE_BYTES = 1 << 18

export interface CsvOptions {
  /** One character; default: detected. */
  readonly delimiter?: string
  /** Whether the first record names the columns; default: detected. */
  readonly header?: boolean
}

export interface CsvReport {
  readonly encoding: 'UTF-8'
  readonly byteOrderMark: boolean
  readonly delimiter: string
  readonly header: boolean
  readonly blankLines: number
  /** Records with fewer or more fields than the first. Short ones are padded, long ones add columns. */
  readonly ragged: {
    readonly count: number
    readonly expected: number
    readonly examples: readonly { readonly line: number; readonly fields: number }[]
  }
  /** Fields with text behind their closing quote, kept as they stand. */
  readonly strayQuotes: { readonly count: number; readonly firstLine: number }
  /** Header fields that were empty or doubled, and the names they got. */
  readonly renamed: readonly string[]
}

export type CsvProblem =
  | { readonly code: 'empty' }
  | { readonly code: 'not-text'; readonly line: number; readonly byte: number }
  | { readonly code: 'not-utf8'; readonly line: number }
  | { readonly code: 'unclosed-quote'; readonly line: number }
  | {
      readonly code: 'too-many-fields'
      readonly line: number
      readonly fields: number
      readonly most: number
    }

export type CsvResult =
  | { readonly ok: true; readonly table: Table; readonly report: CsvReport }
  | { readonly ok: false; readonly problem: CsvProblem }

export interface CsvCall {
  readonly cancelled?: () => boolean
  /** Bytes read so far; a column read again counts its bytes twice, in `of` too. */
  readonly onBytes?: (done: number, of: number) => void
  readonly allocate?: Allocate
}

/**
 * Reads delimited text (RFC 4180) into typed columns, a block at a time. Types hold for every value of a column: one
 * that stops fitting is read a second time, as text. Says what is wrong, and where, instead of throwing; rejects
 * only with `CancelledError`.
 */
export async function readCsv(blob: Blob, options: CsvOptions = {}, call: CsvCall = {}): Promise<CsvResult> {
  const head = new Uint8Array(await blob.slice(0, SAMPLE_BYTES).arrayBuffer())
  const mark = head[0] === 0xef && head[1] === 0xbb && head[2] === 0xbf
  const sample = mark ? head.subarray(3) : head
  if (sample.every(byte => byte === 10 || byte === 13 || byte === 32))
    return { ok: false, problem: { code: 'empty' } }
  const whole = head.length === blob.size
  const delimiter = options.delimiter ?? detectDelimiter(sample, whole)
  const header = options.header ?? detectHeader(sample, whole, delimiter)
  const body = mark ? blob.slice(3) : blob

  const first = new Pass(header)
  const scanner = new Scanner(delimiter.charCodeAt(0))
  const problem = await eachBlock(body, scanner, call, body.size, 0, (bytes, records) =>
    first.take(bytes, records),
  )
  if (problem) return { ok: false, problem }
  const again = first.readers.flatMap((reader, c) => (reader.mustReadAgain ? [c] : []))
  if (again.length > 0) {
    const second = new Pass(header, first.readers.length, again)
    const rescan = new Scanner(delimiter.charCodeAt(0))
    await eachBlock(body, rescan, call, body.size * 2, body.size, (bytes, records) =>
      second.take(bytes, records),
    )
    for (const c of again) first.readers[c] = second.readers[c]
  }
  const { names, renamed } = first.finishNames()
  const table: Table = {
    rows: first.rows,
    fields: first.readers.map((reader, c) => reader.field(names[c])),
    columns: first.readers.map(reader => reader.finish(call.allocate ?? privateMemory)),
  }
  const report: CsvReport = {
    encoding: 'UTF-8',
    byteOrderMark: mark,
    delimiter,
    header,
    blankLines: scanner.blankLines,
    ragged: { count: first.raggedCount, expected: first.expected, examples: first.raggedExamples },
    strayQuotes: { count: scanner.strayQuotes, firstLine: scanner.firstStrayLine },
    renamed,
  }
  return { ok: true, table, report }
}

type OnBlock = (bytes: Uint8Array, records: Records) => CsvProblem | null

async function eachBlock(
  blob: Blob,
  scanner: Scanner,
  call: CsvCall,
  ofBytes: number,
  before: number,
  onBlock: OnBlock,
): Promise<CsvProblem | null> {
  const records = new Records()
  const utf8 = new TextDecoder('utf-8', { fatal: true })
  let rest: Uint8Array = new Uint8Array(0)
  for (let at = 0; at < blob.size || rest.length > 0;) {
    const next = new Uint8Array(await blob.slice(at, at + BLOCK_BYTES).arrayBuffer())
    at += next.length
    const bytes = rest.length > 0 ? joined(rest, next) : next
    const firstLine = scanner.line
    records.reset()
    const taken = scanner.scan(bytes, bytes.length, at >= blob.size, records)
    if (typeof taken !== 'number') return taken
    if (!isUtf8(utf8, bytes.subarray(0, taken))) {
      return { code: 'not-utf8', line: firstLine + brokenLine(utf8, bytes.subarray(0, taken)) }
    }
    await breathe()
    const problem = onBlock(bytes, records)
    if (problem) return problem
    rest = bytes.slice(taken)
    if (rest.length > MAX_RECORD_BYTES) return { code: 'unclosed-quote', line: scanner.line }
    call.onBytes?.(before + at, ofBytes)
    if (call.cancelled?.()) throw new CancelledError()
    await breathe()
    if (at >= blob.size) break
  }
  return null
}

function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
  const out = new Uint8Array(a.length + b.length)
  out.set(a)
  out.set(b, a.length)
  return out
}

function isUtf8(decoder: TextDecoder, bytes: Uint8Array): boolean {
  try {
    decoder.decode(bytes)
    return true
  } catch {
    return false
  }
}

/** 0-based number of the first line of the block that is not UTF-8. */
function brokenLine(decoder: TextDecoder, bytes: Uint8Array): number {
  let line = 0
  for (let start = 0; start < bytes.length; line++) {
    const feed = bytes.indexOf(10, start)
    const end = feed < 0 ? bytes.length : feed + 1
    if (!isUtf8(decoder, bytes.subarray(start, end))) return line
    start = end
  }
  return line
}

/** One reading of the file: all columns, or only some of them as text. */
class Pass {
  readonly readers: ColumnReader[] = []
  expected = 0
  rows = 0
  raggedCount = 0
  readonly raggedExamples: { line: number; fields: number }[] = []
  private readonly only: ReadonlySet<number> | null
  private headerPending: boolean
  private readonly names: string[] = []
  private scratch = new Uint8Array(1024)

  constructor(header: boolean, columns = 0, only: readonly number[] | null = null) {
    this.headerPending = header
    this.only = only && new Set(only)
    for (let c = 0; c < columns; c++) this.readers.push(new ColumnReader(true))
  }

  take(bytes: Uint8Array, records: Records): CsvProblem | null {
    let firstRecord = 0
    if (records.count > 0 && this.headerPending) {
      this.takeHeader(bytes, records)
      firstRecord = 1
    }
    const tooMany = this.noteShapes(records, firstRecord)
    if (tooMany) return tooMany
    for (let c = 0; c < this.readers.length; c++) {
      if (!this.only || this.only.has(c)) this.takeColumn(c, bytes, records, firstRecord)
    }
    this.rows += records.count - firstRecord
    return null
  }

  private takeColumn(c: number, bytes: Uint8Array, records: Records, firstRecord: number): void {
    const reader = this.readers[c]
    const { firstField, starts, ends, how } = records
    for (let r = firstRecord; r < records.count; r++) {
      const f = firstField[r] + c
      if (f >= firstField[r + 1] || starts[f] === ends[f]) reader.addMissing()
      else if (how[f] === DOUBLED) {
        const length = this.undouble(bytes, starts[f], ends[f])
        reader.add(this.scratch, 0, length)
      } else reader.add(bytes, starts[f], ends[f])
    }
  }

  /** Writes the field with its doubled quotes made single into the scratch; returns its length. */
  private undouble(bytes: Uint8Array, start: number, end: number): number {
    if (end - start > this.scratch.length) this.scratch = new Uint8Array((end - start) * 2)
    let length = 0
    for (let i = start; i < end; i++) {
      this.scratch[length++] = bytes[i]
      if (bytes[i] === 34) i++
    }
    return length
  }

  private takeHeader(bytes: Uint8Array, records: Records): void {
    for (let f = records.firstField[0]; f < records.firstField[1]; f++) {
      const doubled = records.how[f] === DOUBLED
      const length = doubled ? this.undouble(bytes, records.starts[f], records.ends[f]) : 0
      this.names.push(
        (doubled
          ? decodeBytes(this.scratch, 0, length)
          : decodeBytes(bytes, records.starts[f], records.ends[f])
        ).trim(),
      )
    }
    this.headerPending = false
    this.expected = this.names.length
    this.addReaders(this.expected)
  }

  private noteShapes(records: Records, firstRecord: number): CsvProblem | null {
    for (let r = firstRecord; r < records.count; r++) {
      const fields = records.firstField[r + 1] - records.firstField[r]
      if (this.expected === 0) this.expected = fields
      if (fields > this.readers.length) {
        if (fields > MAX_FIELDS)
          return { code: 'too-many-fields', line: records.lines[r], fields, most: MAX_FIELDS }
        this.addReaders(fields)
      }
      if (fields === this.expected) continue
      this.raggedCount++
      if (this.raggedExamples.length < MAX_EXAMPLES)
        this.raggedExamples.push({ line: records.lines[r], fields })
    }
    return null
  }

  private addReaders(upTo: number): void {
    while (this.readers.length < upTo) {
      const reader = new ColumnReader()
      for (let row = 0; row < this.rows; row++) reader.addMissing()
      this.readers.push(reader)
    }
  }

  /** A name for every column: empty ones get their place, doubled ones a number. */
  finishNames(): { names: string[]; renamed: string[] } {
    const renamed: string[] = []
    const used = new Set<string>()
    const names = this.readers.map((_, c) => {
      const given = this.names[c] ?? ''
      let name = given || `column ${c + 1}`
      for (let n = 2; used.has(name); n++) name = `${given || `column ${c + 1}`} ${n}`
      if (this.names.length > 0 && name !== given) renamed.push(name)
      used.add(name)
      return name
    })
    return { names, renamed }
  }
}
