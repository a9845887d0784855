import { decodeBytes } from '../../table/text-block.ts'
import { ReadError } from '../read-call.ts'
import { FaultList } from '../read-report.ts'
import { DOUBLED, type Records } from './scan.ts'
import { Undoubled } from './undoubled.ts'

const MAX_FIELDS = 50_000
/** Rows may have twice as many fields as the first, or this many more; what lies beyond is kept together, as it stands. */
const MORE_FIELDS = 20

/** Which of a block's records are rows, and how wide they are. */
export interface RowsFound {
  readonly firstRecord: number
  readonly rows: number
  /** Most fields that any of them has. */
  readonly widest: number
}

/** The shape of a table of delimited text, as its records show it: names of columns, and rows that are not like the first. */
export class CsvShape {
  /** A name for every column: empty ones get their place, doubled ones a number. */
  readonly names: string[] = []
  readonly renamed: string[] = []
  readonly ragged = new FaultList('ragged')
  readonly overWide = new FaultList('over-wide')
  expected = 0
  rows = 0
  private readonly header: boolean
  private headerPending: boolean
  private dropFirst: boolean
  private readonly used = new Set<string>()
  private readonly undoubled = new Undoubled()

  /** `dropFirst`: the first record is no row. */
  constructor(header: boolean, dropFirst: boolean) {
    this.header = this.headerPending = header
    this.dropFirst = dropFirst
  }

  /** Columns that rows may have; the last one holds what lies beyond, as it stands. */
  get most(): number {
    return Math.max(this.expected * 2, this.expected + MORE_FIELDS)
  }

  /** Goes through the next records. */
  take(bytes: Uint8Array, records: Records): RowsFound {
    let firstRecord = 0
    if (records.count > 0 && this.dropFirst) {
      this.dropFirst = false
      firstRecord = 1
    }
    if (records.count > firstRecord && this.headerPending) {
      this.takeHeader(bytes, records, firstRecord)
      firstRecord++
    }
    const widest = this.noteShapes(records, firstRecord)
    const rows = records.count - firstRecord
    this.rows += rows
    return { firstRecord, rows, widest }
  }

  private takeHeader(bytes: Uint8Array, records: Records, r: number): void {
    const fields = records.firstField[r + 1] - records.firstField[r]
    refuseBeyond(fields, records.lines[r])
    for (let f = records.firstField[r]; f < records.firstField[r + 1]; f++) {
      const [start, end] = [records.starts[f], records.ends[f]]
      const given =
        records.how[f] === DOUBLED
          ? decodeBytes(this.undoubled.bytes, 0, this.undoubled.take(bytes, start, end))
          : decodeBytes(bytes, start, end)
      this.addColumn(given.trim())
    }
    this.headerPending = false
    this.expected = this.names.length
  }

  private noteShapes(records: Records, firstRecord: number): number {
    let widest = 0
    for (let r = firstRecord; r < records.count; r++) {
      const fields = records.firstField[r + 1] - records.firstField[r]
      if (this.expected === 0) {
        refuseBeyond(fields, records.lines[r])
        this.expected = fields
      }
      if (fields > widest) widest = fields
      if (fields > this.names.length) {
        const columns = Math.min(fields, this.most)
        while (this.names.length < columns) this.addColumn('')
      }
      if (fields > this.most) this.overWide.add(records.lines[r], String(fields))
      if (fields !== this.expected) this.ragged.add(records.lines[r], String(fields))
    }
    return widest
  }

  private addColumn(given: string): void {
    const plain = given || `column ${this.names.length + 1}`
    let name = plain
    for (let n = 2; this.used.has(name); n++) name = `${plain} ${n}`
    if (this.header && name !== given) this.renamed.push(name)
    this.used.add(name)
    this.names.push(name)
  }
}

function refuseBeyond(fields: number, line: number): void {
  if (fields > MAX_FIELDS) throw new ReadError({ code: 'too-many-fields', line, fields, most: MAX_FIELDS })
}
