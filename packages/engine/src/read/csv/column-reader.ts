import { privateMemory, settle, type Allocate } from '../../table/allocate.ts'
import { emptyBits, setBit } from '../../table/bits.ts'
import type { Column, Field, FieldType } from '../../table/column.ts'
import { GrowMissing, GrowNumbers } from '../../table/grow.ts'
import { TextBuilder } from '../../table/text-builder.ts'
import {
  BOOLEAN,
  DATE,
  INSTANT,
  INTEGER,
  NUMBER,
  parsed,
  parseField,
  TEXT,
  WALL_TIME,
} from '../types/parse-field.ts'
import { sure } from '../../work/checked.ts'

/**
 * Reads one column without knowing its type: as numbers for as long as all its values are, as dates, and so on. A
 * value that does not fit makes the column text, and `mustReadAgain` tells that rows before it were kept as
 * something else, so that their exact writing has to be read again.
 */
export class ColumnReader {
  private kind = -1
  private decimals = 0
  private readonly missing = new GrowMissing()
  private numbers: GrowNumbers | null = new GrowNumbers()
  private texts: TextBuilder | null = null
  rows = 0
  /** Times that were told finer than the milliseconds that are kept. */
  finer = 0
  mustReadAgain = false

  /** `asText`: the column is known to be text. */
  constructor(asText = false) {
    if (asText) this.becomeText()
  }

  addMissing(): void {
    this.missing.add(this.rows++)
    this.texts?.addMissing()
    this.numbers?.push(0)
  }

  add(bytes: Uint8Array, start: number, end: number): void {
    this.rows++
    if (this.texts) {
      this.texts.addBytes(bytes, start, end)
      return
    }
    if (this.mustReadAgain) return
    const kind = parseField(bytes, start, end)
    if (kind === this.kind) {
      if (kind === NUMBER && parsed.decimals > this.decimals) this.decimals = parsed.decimals
      else if (kind >= WALL_TIME && parsed.finer) this.finer++
      this.numbers?.push(parsed.value)
      return
    }
    this.addOther(kind, bytes, start, end)
  }

  private addOther(kind: number, bytes: Uint8Array, start: number, end: number): void {
    const bothNumbers =
      (kind === INTEGER && this.kind === NUMBER) || (kind === NUMBER && this.kind === INTEGER)
    if (kind !== TEXT && (this.kind === -1 || bothNumbers)) {
      this.kind = bothNumbers ? NUMBER : kind
      if (kind === NUMBER) this.decimals = Math.max(this.decimals, parsed.decimals)
      else if (kind >= WALL_TIME && parsed.finer) this.finer++
      this.numbers?.push(parsed.value)
      return
    }
    if (this.kind === -1) {
      const texts = this.becomeText()
      for (let row = 0; row < this.rows - 1; row++) texts.addMissing()
      texts.addBytes(bytes, start, end)
      return
    }
    this.mustReadAgain = true
    this.numbers = null
  }

  private becomeText(): TextBuilder {
    this.kind = TEXT
    this.numbers = null
    return (this.texts = new TextBuilder())
  }

  /** Bytes that the column takes so far. */
  get bytes(): number {
    return this.texts ? this.texts.byteLength : (this.numbers?.length ?? 0) * 8
  }

  get type(): FieldType {
    switch (this.kind) {
      case INTEGER:
        return 'integer'
      case NUMBER:
        return 'number'
      case BOOLEAN:
        return 'boolean'
      case DATE:
        return 'date'
      case WALL_TIME:
      case INSTANT:
        return 'datetime'
      default:
        return 'text'
    }
  }

  field(key: string): Field {
    if (this.kind === NUMBER) return { key, type: 'number', decimals: Math.min(15, this.decimals) }
    if (this.kind === INSTANT) return { key, type: 'datetime', zoned: true }
    return { key, type: this.type }
  }

  finish(allocate: Allocate = privateMemory): Column {
    if (this.kind === -1) {
      const texts = this.becomeText()
      for (let row = 0; row < this.rows; row++) texts.addMissing()
    }
    if (this.texts) return this.texts.finish(allocate)
    const values = sure(this.numbers).view()
    const missing = this.missing.finish(this.rows)
    const settled = missing && settle(missing, allocate)
    if (this.kind === BOOLEAN) {
      const bits = emptyBits(this.rows)
      for (let row = 0; row < this.rows; row++) if (values[row]) setBit(bits, row)
      return { kind: 'boolean', values: settle(bits, allocate), missing: settled }
    }
    return { kind: 'number', values: narrowed(values, this.kind, allocate), missing: settled }
  }
}

/** Days and whole numbers that fit are kept in half the bytes. */
function narrowed(values: Float64Array, kind: number, allocate: Allocate): Float64Array | Int32Array {
  if (kind !== INTEGER && kind !== DATE) return settle(values, allocate)
  for (let i = 0; i < values.length; i++) if (values[i] !== (values[i] | 0)) return settle(values, allocate)
  const whole = new Int32Array(allocate(values.length * 4))
  for (let i = 0; i < values.length; i++) whole[i] = values[i]
  return whole
}
