import { decodeBytes } from '../../table/text-block.ts'
import { ReadError } from '../read-call.ts'
import { FaultList } from '../read-report.ts'
import type { ColumnsReadOptions } from '../types/column-reading.ts'
import { ColumnReader } from './column-reader.ts'
import { DOUBLED, type Records } from './scan.ts'

const MAX_FIELDS = 20_000

/** One reading of the file: all columns, or only some of them as text. */
export class CsvPass {
  readonly readers: ColumnReader[] = []
  /** A name for every column: empty ones get their place, doubled ones a number. */
  readonly names: string[] = []
  readonly renamed: string[] = []
  readonly ragged = new FaultList('ragged')
  expected = 0
  rows = 0
  private readonly only: ReadonlySet<number> | null
  private readonly asked: ColumnsReadOptions
  private readonly header: boolean
  private headerPending: boolean
  private readonly used = new Set<string>()
  private scratch = new Uint8Array(1024)

  constructor(header: boolean, asked: ColumnsReadOptions, only: readonly number[] | null = null) {
    this.header = this.headerPending = header
    this.asked = asked
    this.only = only && new Set(only)
  }

  /** Bytes that the columns take so far. */
  get bytes(): number {
    return this.readers.reduce((sum, reader) => sum + reader.bytes, 0)
  }

  take(bytes: Uint8Array, records: Records): void {
    let firstRecord = 0
    if (records.count > 0 && this.headerPending) {
      this.takeHeader(bytes, records)
      firstRecord = 1
    }
    this.noteShapes(records, firstRecord)
    for (let c = 0; c < this.readers.length; c++) {
      if (!this.only || this.only.has(c)) this.takeColumn(c, bytes, records, firstRecord)
    }
    this.rows += records.count - firstRecord
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
      const given = doubled
        ? decodeBytes(this.scratch, 0, length)
        : decodeBytes(bytes, records.starts[f], records.ends[f])
      this.addColumn(given.trim())
    }
    this.headerPending = false
    this.expected = this.names.length
  }

  private noteShapes(records: Records, firstRecord: number): void {
    for (let r = firstRecord; r < records.count; r++) {
      const fields = records.firstField[r + 1] - records.firstField[r]
      if (this.expected === 0) this.expected = fields
      if (fields > this.readers.length) {
        const line = records.lines[r]
        if (fields > MAX_FIELDS)
          throw new ReadError({ code: 'too-many-fields', line, fields, most: MAX_FIELDS })
        while (this.readers.length < fields) this.addColumn('')
      }
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
    const reader = new ColumnReader(this.only !== null || this.asked[name]?.type !== undefined)
    for (let row = 0; row < this.rows; row++) reader.addMissing()
    this.readers.push(reader)
  }
}
