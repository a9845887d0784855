import { decodeBytes } from '../../table/text-block.ts'
import { ReadError, refuseUneven } from '../read-call.ts'
import { FaultList } from '../read-report.ts'
import { askedOf, type ColumnsReadOptions } from '../types/column-reading.ts'
import { ColumnReader } from './column-reader.ts'
import { DOUBLED, PLAIN, type Records } from './scan.ts'

const MAX_FIELDS = 50_000
/** Rows may have twice as many fields as the first, or this many more; what lies beyond is kept together, as it stands. */
const MORE_FIELDS = 20

/** One reading of the file: all columns, or only some of them as text. */
export class CsvPass {
  readonly readers: ColumnReader[] = []
  /** A name for every column: empty ones get their place, doubled ones a number. */
  readonly names: string[] = []
  readonly renamed: string[] = []
  readonly ragged = new FaultList('ragged')
  readonly overWide = new FaultList('over-wide')
  expected = 0
  rows = 0
  /** Most fields that any of the last records has. */
  private widest = 0
  private readonly only: ReadonlySet<number> | null
  private readonly asked: ColumnsReadOptions
  private readonly header: boolean
  private headerPending: boolean
  private dropFirst: boolean
  private readonly used = new Set<string>()
  private scratch = new Uint8Array(1024)

  /** `dropFirst`: the first record is no row. `only`: columns that are read, as text. */
  constructor(
    header: boolean,
    asked: ColumnsReadOptions,
    dropFirst: boolean,
    only: readonly number[] | null = null,
  ) {
    this.header = this.headerPending = header
    this.dropFirst = dropFirst
    this.asked = asked
    this.only = only && new Set(only)
  }

  /** Bytes that the columns take so far. */
  get bytes(): number {
    return this.readers.reduce((sum, reader) => sum + reader.bytes, 0)
  }

  /** `readBytes`: how much of the text was read with these. */
  take(bytes: Uint8Array, records: Records, readBytes: number): void {
    let firstRecord = 0
    if (records.count > 0 && this.dropFirst) {
      this.dropFirst = false
      firstRecord = 1
    }
    if (records.count > firstRecord && this.headerPending) {
      this.takeHeader(bytes, records, firstRecord)
      firstRecord++
    }
    this.noteShapes(records, firstRecord)
    refuseUneven((this.rows + records.count - firstRecord) * this.readers.length, readBytes)
    // Columns that no record of these has are filled when one does.
    const widest = Math.min(this.readers.length, this.widest)
    for (let c = 0; c < widest; c++) {
      if (!this.only || this.only.has(c)) this.takeColumn(c, bytes, records, firstRecord)
    }
    this.rows += records.count - firstRecord
  }

  /** Every column has as many rows as the table. */
  finish(): void {
    for (const reader of this.readers) reader.fillTo(this.rows)
  }

  /** The last column of rows that have too many fields holds the rest of them, as it stands. */
  private get most(): number {
    return Math.max(this.expected * 2, this.expected + MORE_FIELDS)
  }

  private takeColumn(c: number, bytes: Uint8Array, records: Records, firstRecord: number): void {
    const reader = this.readers[c]
    const { firstField, starts, ends, how } = records
    const rest = c === this.most - 1
    reader.fillTo(this.rows)
    for (let r = firstRecord; r < records.count; r++) {
      const f = firstField[r] + c
      if (f >= firstField[r + 1] || starts[f] === ends[f]) reader.addMissing()
      else if (rest && f + 1 < firstField[r + 1]) {
        // A quote before the field is a part of what stands there.
        const start = how[f] === PLAIN ? starts[f] : starts[f] - 1
        const last = firstField[r + 1] - 1
        reader.add(bytes, start, how[last] === PLAIN ? ends[last] : ends[last] + 1)
      } else if (how[f] === DOUBLED) {
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

  private takeHeader(bytes: Uint8Array, records: Records, r: number): void {
    const fields = records.firstField[r + 1] - records.firstField[r]
    refuseBeyond(fields, records.lines[r])
    for (let f = records.firstField[r]; f < records.firstField[r + 1]; f++) {
      const doubled = records.how[f] === DOUBLED
      const length = doubled ? this.undouble(bytes, records.starts[f], records.ends[f]) : 0
      const given = doubled
        ? decodeBytes(this.scratch, 0, length)
        : decodeBytes(bytes, records.starts[f], records.ends[f])
      this.addColumn(given.trim())
    }
    this.headerPending = false
    this.expected = this.names.length
  }

  private noteShapes(records: Records, firstRecord: number): void {
    this.widest = 0
    for (let r = firstRecord; r < records.count; r++) {
      const fields = records.firstField[r + 1] - records.firstField[r]
      if (this.expected === 0) {
        refuseBeyond(fields, records.lines[r])
        this.expected = fields
      }
      if (fields > this.widest) this.widest = fields
      if (fields > this.readers.length) {
        const columns = Math.min(fields, this.most)
        while (this.readers.length < columns) this.addColumn('')
      }
      if (fields > this.most) this.overWide.add(records.lines[r], String(fields))
      if (fields !== this.expected) this.ragged.add(records.lines[r], String(fields))
    }
  }

  private addColumn(given: string): void {
    const plain = given || `column ${this.names.length + 1}`
    let name = plain
    for (let n = 2; this.used.has(name); n++) name = `${plain} ${n}`
    if (this.header && name !== given) this.renamed.push(name)
    this.used.add(name)
    this.names.push(name)
    this.readers.push(new ColumnReader(this.only !== null || askedOf(this.asked, name)?.type !== undefined))
  }
}

function refuseBeyond(fields: number, line: number): void {
  if (fields > MAX_FIELDS) throw new ReadError({ code: 'too-many-fields', line, fields, most: MAX_FIELDS })
}
