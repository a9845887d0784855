import type { Allocate } from '../../table/allocate.ts'
import type { Column, Field } from '../../table/column.ts'
import { settleColumn } from '../../table/settle-table.ts'
import { sure } from '../../work/checked.ts'
import type { Work } from '../../work/work.ts'
import { type ColumnReading, type ColumnReadOptions } from '../types/column-reading.ts'
import { plainReading, settleText } from '../types/settle-text.ts'
import type { TextColumn } from '../types/survey-texts.ts'
import type { TextStyle } from '../types/text-style.ts'
import { ColumnReader } from './column-reader.ts'
import { DOUBLED, PLAIN, type FoundFields } from './scan.ts'
import { Undoubled } from './undoubled.ts'

/** A block of text whose records are found. */
export interface FieldBlock {
  readonly bytes: Uint8Array
  readonly found: FoundFields
  /** The first record that is a row, and how many rows stand before it. */
  readonly firstRecord: number
  readonly rowsBefore: number
  /** Most fields that any of its rows has. */
  readonly widest: number
  /** Columns that rows may have; the last one holds what lies beyond, as it stands. */
  readonly most: number
}

/** A column that is to be read. */
export interface SharedColumn {
  readonly place: number
  /** A builder says what it is, so that its texts are read by that. */
  readonly asText: boolean
}

/** What is to be known of a column once all its values are. */
export interface ColumnWanted {
  readonly place: number
  readonly key: string
  readonly asked: ColumnReadOptions | undefined
  readonly delimiter: string
}

export interface SettledColumn {
  readonly field: Field
  readonly column: Column
  readonly reading: ColumnReading
}

/** Some columns of delimited text, read by one thread: any thread reads them alike, whoever reads the others. */
export class ColumnShare {
  private readonly readers = new Map<number, ColumnReader>()
  /** Those that the blocks go to: all, or in a second reading those that are read as text after all. */
  private reading = this.readers
  private readonly undoubled = new Undoubled()

  add({ place, asText }: SharedColumn): void {
    this.readers.set(place, new ColumnReader(asText))
  }

  /** Bytes that the columns take so far. */
  get bytes(): number {
    let sum = 0
    for (const reader of this.readers.values()) sum += reader.bytes
    return sum
  }

  take(block: FieldBlock): void {
    for (const [place, reader] of this.reading) {
      // Columns that no record of these has are filled when one does.
      if (place >= block.widest) continue
      reader.fillTo(block.rowsBefore)
      this.takeColumn(place, reader, block)
    }
  }

  /** The file ends after so many rows. Returns whether it has to be read again, for columns that are text after all. */
  end(rows: number): boolean {
    for (const reader of this.reading.values()) reader.fillTo(rows)
    if (this.reading !== this.readers) {
      for (const [place, reader] of this.reading) {
        reader.goOnFrom(this.readers.get(place))
        this.readers.set(place, reader)
      }
      return false
    }
    const again = [...this.readers].filter(([, reader]) => reader.mustReadAgain)
    this.reading = new Map(again.map(([place]) => [place, new ColumnReader(true)]))
    return again.length > 0
  }

  /** What became of a column. */
  *settle({ place, key, asked, delimiter }: ColumnWanted, allocate: Allocate): Work<SettledColumn> {
    const reader = sure(this.readers.get(place))
    const field = reader.field(key)
    const column = reader.finish()
    if (field.type === 'text') {
      const known = reader.oddValues?.survey() ?? null
      return yield* settleText(key, column as TextColumn, reader.rows, asked, true, allocate, known)
    }
    // Where commas do not part fields they may be in numbers, and points between thousands.
    const isDoubtful = delimiter === ';' && reader.mayHaveThousands
    const reading = {
      ...plainReading(field),
      ...(reader.finer > 0 && { finer: reader.finer }),
      ...(isDoubtful && { style: PLAIN_NUMBER, ambiguous: WITH_POINTS }),
    }
    return { field, column: settleColumn(column, allocate), reading }
  }

  private takeColumn(place: number, reader: ColumnReader, block: FieldBlock): void {
    const { bytes, found, firstRecord, most } = block
    const { firstField, starts, ends, how, count } = found
    const rest = place === most - 1
    for (let r = firstRecord; r < count; r++) {
      if (!rest) r = reader.takeRun(bytes, found, place, r)
      if (r === count) return
      const f = firstField[r] + place
      if (f >= firstField[r + 1] || starts[f] === ends[f]) reader.addMissing()
      else if (rest && f + 1 < firstField[r + 1]) {
        // A quote before the field is a part of what stands there.
        const start = how[f] === PLAIN ? starts[f] : starts[f] - 1
        const last = firstField[r + 1] - 1
        reader.add(bytes, start, how[last] === PLAIN ? ends[last] : ends[last] + 1)
      } else if (how[f] === DOUBLED) {
        const length = this.undoubled.take(bytes, starts[f], ends[f])
        reader.add(this.undoubled.bytes, 0, length)
      } else reader.add(bytes, starts[f], ends[f])
    }
  }
}

const PLAIN_NUMBER: TextStyle = { type: 'number' }
const WITH_POINTS: TextStyle = { type: 'number', decimal: ',', thousands: '.' }
