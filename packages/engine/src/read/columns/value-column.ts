import { privateMemory } from '../../table/allocate.ts'
import { emptyBits, setBit } from '../../table/bits.ts'
import { isoClock, isoDay, isoTime } from '../../table/calendar.ts'
import { fitsWide, type Column, type Field } from '../../table/column.ts'
import { GrowMissing, GrowNumbers } from '../../table/grow.ts'
import { TextBuilder } from '../../table/text-builder.ts'

type Kind = 'none' | 'number' | 'wide' | 'boolean' | 'date' | 'time' | 'wall' | 'instant' | 'text' | 'tags'
type NumberKind = 'boolean' | 'date' | 'time' | 'wall' | 'instant'

/** Times that a JavaScript date can show. */
const MAX_TIME = 8.64e15

/**
 * Collects one column of values that have types of their own, one row after another. Where types differ the column
 * becomes text, and what came before is written out: whole and decimal numbers alone go together.
 */
export class ValueColumn {
  private kind: Kind = 'none'
  private readonly missing = new GrowMissing()
  private numbers = new GrowNumbers()
  private bigs: bigint[] = []
  private texts: TextBuilder | null = null
  private decimals = 0
  private whole = true
  rows = 0

  /** Bytes that the column takes so far. */
  get bytes(): number {
    return this.texts ? this.texts.byteLength : this.numbers.length * 8
  }

  addMissing(): void {
    this.missing.add(this.rows++)
    if (this.texts) this.texts.addMissing()
    else if (this.kind === 'wide') this.bigs.push(0n)
    else this.numbers.push(0)
  }

  /** Rows up to `row` that nothing was said of. */
  fillTo(row: number): void {
    while (this.rows < row) this.addMissing()
  }

  /** `decimals`: digits after the point that it was written with. */
  addNumber(value: number, decimals: number): void {
    if (!Number.isFinite(value)) {
      if (Number.isNaN(value)) this.addMissing()
      else this.addText(String(value))
      return
    }
    if (this.kind === 'wide' && Number.isSafeInteger(value)) {
      this.pushBig(BigInt(value))
      return
    }
    if (this.kind !== 'number' && !this.turn('number')) {
      this.addText(String(value))
      return
    }
    if (decimals > this.decimals) this.decimals = decimals
    if (this.whole && (decimals > 0 || !Number.isInteger(value) || Object.is(value, -0))) this.whole = false
    this.numbers.push(value)
    this.rows++
  }

  /** A whole number of any size; beyond 64 bits it is text. */
  addBig(value: bigint): void {
    if (value >= BigInt(Number.MIN_SAFE_INTEGER) && value <= BigInt(Number.MAX_SAFE_INTEGER)) {
      this.addNumber(Number(value), 0)
      return
    }
    if (!fitsWide(value) || (this.kind !== 'wide' && !this.turnWide())) {
      this.addText(String(value))
      return
    }
    this.pushBig(value)
  }

  addBoolean(value: boolean): void {
    this.addAs('boolean', value ? 1 : 0, String(value))
  }

  /** Days since 1970-01-01. */
  addDay(day: number): void {
    if (Math.abs(day) * 86_400_000 > MAX_TIME) this.addText(`day ${day}`)
    else this.addAs('date', day)
  }

  /** Milliseconds of a day. */
  addClock(ms: number): void {
    this.addAs('time', ms)
  }

  /** Milliseconds since 1970, an instant or wall time. */
  addTime(ms: number, kind: 'instant' | 'wall'): void {
    if (!(Math.abs(ms) <= MAX_TIME)) this.addText(String(ms))
    else this.addAs(kind, ms)
  }

  addText(text: string): void {
    this.textBuilder('text').addText(text)
    this.rows++
  }

  /** UTF-8. */
  addTextBytes(bytes: Uint8Array, start: number, end: number): void {
    this.textBuilder('text').addBytes(bytes, start, end)
    this.rows++
  }

  addTags(tags: readonly string[]): void {
    const text = JSON.stringify(tags)
    if (this.kind !== 'tags' && this.kind !== 'none') {
      this.addText(text)
      return
    }
    this.textBuilder('tags').addText(text)
    this.rows++
  }

  /** A text column for the texts of the format itself, else the column as it is to stay. */
  finish(key: string): { field: Field; column: Column } {
    const { kind, rows } = this
    if (kind === 'none') this.textBuilder('text')
    if (this.texts) {
      const column = this.texts.finish(privateMemory)
      return { field: { key, type: kind === 'tags' ? 'tags' : 'text' }, column }
    }
    const missing = this.missing.finish(rows)
    if (kind === 'wide') {
      const values = BigInt64Array.from(this.bigs)
      return { field: { key, type: 'integer', wide: true }, column: { kind: 'wide', values, missing } }
    }
    const values = this.numbers.view()
    if (kind === 'boolean') {
      const bits = emptyBits(rows)
      for (let row = 0; row < rows; row++) if (values[row]) setBit(bits, row)
      return { field: { key, type: 'boolean' }, column: { kind: 'boolean', values: bits, missing } }
    }
    const small = (this.whole && kind === 'number') || kind === 'date' || kind === 'time'
    const kept =
      small && values.every(value => value === (value | 0)) ? Int32Array.from(values) : values.slice()
    return { field: this.numberField(key), column: { kind: 'number', values: kept, missing } }
  }

  private numberField(key: string): Field {
    if (this.kind === 'date' || this.kind === 'time') return { key, type: this.kind }
    if (this.kind === 'wall') return { key, type: 'datetime' }
    if (this.kind === 'instant') return { key, type: 'datetime', zoned: true }
    return this.whole
      ? { key, type: 'integer' }
      : { key, type: 'number', decimals: Math.min(15, this.decimals) }
  }

  private addAs(kind: NumberKind, value: number, text?: string): void {
    if (this.kind !== kind && !this.turn(kind)) {
      this.addText(text ?? this.written(kind, value))
      return
    }
    this.numbers.push(value)
    this.rows++
  }

  /** Whether the column is of the kind now. */
  private turn(kind: Kind): boolean {
    if (this.kind === 'none') this.kind = kind
    return this.kind === kind
  }

  private turnWide(): boolean {
    if (this.kind === 'number' && this.whole) {
      this.bigs = Array.from(this.numbers.view(), value => BigInt(value))
      this.numbers = new GrowNumbers()
      this.kind = 'wide'
    } else if (this.kind === 'none') {
      this.bigs = new Array<bigint>(this.rows).fill(0n)
      this.numbers = new GrowNumbers()
      this.kind = 'wide'
    }
    return this.kind === 'wide'
  }

  private pushBig(value: bigint): void {
    this.bigs.push(value)
    this.rows++
  }

  /** The builder of texts; whatever came before in another kind is written into it. */
  private textBuilder(kind: 'text' | 'tags'): TextBuilder {
    if (this.texts) {
      if (kind === 'text') this.kind = 'text'
      return this.texts
    }
    const texts = (this.texts = new TextBuilder())
    const values = this.numbers.view()
    const missing = this.missing.finish(this.rows)
    for (let row = 0; row < this.rows; row++) {
      if (missing && (missing[row >>> 5] >>> (row & 31)) & 1) texts.addMissing()
      else texts.addText(this.kind === 'wide' ? String(this.bigs[row]) : this.written(this.kind, values[row]))
    }
    this.kind = kind
    this.numbers = new GrowNumbers()
    this.bigs = []
    return texts
  }

  private written(kind: Kind, value: number): string {
    switch (kind) {
      case 'boolean':
        return String(value !== 0)
      case 'date':
        return isoDay(value)
      case 'time':
        return isoClock(value)
      case 'wall':
        return isoTime(value)
      case 'instant':
        return new Date(value).toISOString()
      default:
        return String(value)
    }
  }
}
