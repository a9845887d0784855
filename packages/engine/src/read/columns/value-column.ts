import { privateMemory } from '../../table/allocate.ts'
import { emptyBits, setBit } from '../../table/bits.ts'
import { isoClock, isoDay, isoTime } from '../../table/calendar.ts'
import { fitsWide, type Column, type Field } from '../../table/column.ts'
import { GrowBigs, GrowMissing, GrowNumbers } from '../../table/grow.ts'
import {
  decimalsOfDigits,
  digitsOfDouble,
  digitsOfUnits,
  isToldByDouble,
  decimalsOf,
} from '../../table/digits.ts'
import { TextBuilder } from '../../table/text-builder.ts'

type Kind =
  'none' | 'number' | 'wide' | 'digits' | 'boolean' | 'date' | 'time' | 'wall' | 'instant' | 'text' | 'tags'
type NumberKind = 'boolean' | 'date' | 'time' | 'wall' | 'instant'

/** Whole numbers below have no more digits than every double tells apart. */
const MOST_TOLD = 1e15
/** Up to here a scaled number is exact enough to be found whole. */
const MOST_SCALED = 2 ** 51
/** Powers of ten up to this one are exact. */
const MOST_SCALE = 22
/** Files that do not know better give all their decimals many places; up to so many they are shown as told. */
const SHOWN_SCALE = 6

/** The decimals that a number of units uses. */
function usedScale(units: number, scale: number): number {
  let used = scale
  for (let rest = units; used > 0 && rest % 10 === 0; rest /= 10) used--
  return used
}

/**
 * Collects one column of values that have types of their own, one row after another. Where types differ the column
 * becomes text, and what came before is written out: whole and decimal numbers alone go together.
 */
export class ValueColumn {
  private kind: Kind = 'none'
  private readonly missing = new GrowMissing()
  private numbers = new GrowNumbers()
  private bigs = new GrowBigs()
  private texts: TextBuilder | null = null
  private decimals = 0
  /** By which numbers with as many decimals are whole. */
  private scale = 1
  private whole = true
  private hasInfinity = false
  rows = 0
  /** Values that say of themselves that they are no number: missing. */
  notNumbers = 0
  /** Times that were told finer than the milliseconds that are kept. */
  finer = 0

  /** Bytes that the column takes so far. */
  get bytes(): number {
    return this.texts ? this.texts.byteLength : (this.numbers.length + this.bigs.length) * 8
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

  /** Values that are as they were told, neither missing nor cut. */
  get told(): number {
    return this.rows - this.missing.count - this.finer
  }

  /** The value of an earlier row, which has one, again. */
  addSame(row: number): void {
    if (this.texts) this.texts.addSame(row)
    else if (this.kind === 'wide') this.bigs.push(this.bigs.at(row))
    else this.numbers.push(this.numbers.at(row))
    this.rows++
  }

  /** `decimals`: digits after the point that it was written with. */
  addNumber(value: number, decimals: number): void {
    if (Number.isNaN(value)) {
      this.notNumbers++
      this.addMissing()
      return
    }
    if (this.kind === 'wide' && Number.isSafeInteger(value)) {
      this.pushBig(BigInt(value))
      return
    }
    if (this.kind !== 'number' && !this.turn('number')) {
      const digits = this.kind === 'wide' || this.kind === 'digits' ? digitsOfDouble(value) : null
      if (digits === null) this.addText(String(value))
      else this.pushDigits(digits)
      return
    }
    if (!Number.isFinite(value)) this.hasInfinity = true
    if (decimals > this.decimals) this.decimals = decimals
    if (this.whole && (decimals > 0 || !Number.isInteger(value) || Object.is(value, -0))) this.whole = false
    this.numbers.push(value)
    this.rows++
  }

  /** A number of which no more is known than its value: it is written with the digits that tell it. */
  addDouble(value: number): void {
    // Numbers of a column mostly have as many decimals as those before.
    const scaled = value * this.scale
    if (
      scaled < MOST_SCALED &&
      scaled > -MOST_SCALED &&
      Math.round(scaled) / this.scale === value &&
      value !== 0
    ) {
      this.addNumber(value, this.decimals)
      return
    }
    this.addNumber(value, decimalsOf(value))
    this.scale = 10 ** Math.min(this.decimals, MOST_SCALE)
  }

  /** A number in plain digits; kept as such where no double tells it. */
  addDigits(digits: string): void {
    if (this.kind !== 'digits' && isToldByDouble(digits))
      this.addNumber(Number(digits), decimalsOfDigits(digits))
    else this.pushDigits(digits)
  }

  /** A number of whole units of its last decimal. */
  addDecimal(units: number | bigint, scale: number): void {
    const near = Number(units)
    // Both are exact, and so the quotient is the nearest double to the number that is meant.
    if (scale >= 0 && scale <= MOST_SCALE && Math.abs(near) < MOST_TOLD && this.kind !== 'digits') {
      this.addNumber(near / 10 ** scale, scale <= SHOWN_SCALE ? scale : usedScale(near, scale))
    } else this.addDigits(digitsOfUnits(BigInt(units), scale))
  }

  /** A whole number of any size. */
  addBig(value: bigint): void {
    if (value >= BigInt(Number.MIN_SAFE_INTEGER) && value <= BigInt(Number.MAX_SAFE_INTEGER)) {
      this.addNumber(Number(value), 0)
      return
    }
    if (!fitsWide(value) || (this.kind !== 'wide' && !this.turnWide())) this.pushDigits(String(value))
    else this.pushBig(value)
  }

  addBoolean(value: boolean): void {
    this.addAs('boolean', value ? 1 : 0, String(value))
  }

  /** Days since 1970-01-01, within the calendar. */
  addDay(day: number): void {
    this.addAs('date', day)
  }

  /** Milliseconds of a day. */
  addClock(ms: number): void {
    this.addAs('time', ms)
  }

  /** Milliseconds since 1970, an instant or wall time, within the calendar. */
  addTime(ms: number, kind: 'instant' | 'wall'): void {
    this.addAs(kind, ms)
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
      if (kind === 'digits') {
        const { decimals } = this
        const field: Field = {
          key,
          wide: true,
          ...(decimals > 0 ? { type: 'number', decimals } : { type: 'integer' }),
        }
        return { field, column: { ...column, digits: true } }
      }
      return { field: { key, type: kind === 'tags' ? 'tags' : 'text' }, column }
    }
    const missing = this.missing.finish(rows)
    if (kind === 'wide') {
      const values = this.bigs.view().slice()
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
      this.bigs = GrowBigs.from(this.numbers.view())
      this.numbers = new GrowNumbers()
      this.kind = 'wide'
    } else if (this.kind === 'none') {
      this.bigs = GrowBigs.from(this.numbers.view())
      this.numbers = new GrowNumbers()
      this.kind = 'wide'
    }
    return this.kind === 'wide'
  }

  private pushBig(value: bigint): void {
    this.bigs.push(value)
    this.rows++
  }

  private pushDigits(digits: string): void {
    // An infinity among the numbers has no digits.
    if (!['none', 'number', 'wide', 'digits'].includes(this.kind) || this.hasInfinity) {
      this.addText(digits)
      return
    }
    this.textBuilder('digits').addText(digits)
    this.decimals = Math.max(this.decimals, decimalsOfDigits(digits))
    this.rows++
  }

  /** The builder of texts; whatever came before in another kind is written into it. */
  private textBuilder(kind: 'text' | 'tags' | 'digits'): TextBuilder {
    if (this.texts) {
      if (kind === 'text') this.kind = 'text'
      return this.texts
    }
    const texts = (this.texts = new TextBuilder())
    const values = this.numbers.view()
    const missing = this.missing.finish(this.rows)
    for (let row = 0; row < this.rows; row++) {
      if (missing && (missing[row >>> 5] >>> (row & 31)) & 1) texts.addMissing()
      else {
        const text = this.kind === 'wide' ? String(this.bigs.at(row)) : this.written(this.kind, values[row])
        texts.addText(
          kind === 'digits' && this.kind === 'number' ? (digitsOfDouble(values[row]) ?? text) : text,
        )
      }
    }
    this.kind = kind
    this.numbers = new GrowNumbers()
    this.bigs = new GrowBigs()
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
