import { privateMemory, settle, type Allocate } from '../../table/allocate.ts'
import { emptyBits, setBit } from '../../table/bits.ts'
import { fitsWide, type Column, type Field, type FieldType } from '../../table/column.ts'
import { digitBytes, writeDay, writeDecimal } from '../../table/digit-bytes.ts'
import { decimalsOfDigits, digitsOfDouble, plainNumber, SAFE_DIGITS } from '../../table/digits.ts'
import { GrowBigs, GrowBytes, GrowMissing, GrowNumbers } from '../../table/grow.ts'
import { decodeBytes } from '../../table/text-block.ts'
import { TextBuilder } from '../../table/text-builder.ts'
import {
  BOOLEAN,
  DATE,
  INSTANT,
  INTEGER,
  LONG,
  NUMBER,
  parsed,
  parseField,
  POWERS,
  TEXT,
  WALL_TIME,
} from '../types/parse-field.ts'
import { OddValues } from '../types/odd-values.ts'
import { sure } from '../../work/checked.ts'
import { DOUBLED, type FoundFields } from './scan.ts'

const MINUS = 45
const POINT = 46
const ZERO = 48

/** How numbers are kept: as doubles, as whole numbers of 64 bits, or as their digits, until a column is text. */
type Kept = 'doubles' | 'wide' | 'digits' | 'texts' | 'nothing'

/**
 * Reads one column without knowing its type: as numbers for as long as all its values are, as dates, and so on. A value
 * that does not fit makes the column text. What came before is written out where its writing is known from its value;
 * where it is not, `mustReadAgain` tells that it has to be read a second time.
 */
export class ColumnReader {
  private kind = -1
  private kept: Kept = 'doubles'
  private decimals = 0
  private readonly missing = new GrowMissing()
  private numbers = new GrowNumbers()
  private bigs = new GrowBigs()
  /** Of numbers with decimals, how many each was written with. */
  private places: GrowBytes | null = null
  private texts: TextBuilder | null = null
  /** Values before can be written out as they stood. */
  private isCanonical = true
  /** Since the column turned to text: what does not fit what it was. */
  private odd: OddValues | null = null
  rows = 0
  mustReadAgain = false
  /** Times that were told finer than the milliseconds that are kept. */
  finer = 0

  /** `asText`: the column is known to be text. */
  constructor(asText = false) {
    if (asText) this.startTexts()
  }

  addMissing(): void {
    this.missing.add(this.rows++)
    switch (this.kept) {
      case 'doubles':
        this.numbers.push(0)
        this.places?.pushOne(0)
        return
      case 'wide':
        this.bigs.push(0n)
        return
      case 'nothing':
        return
      default:
        this.texts?.addMissing()
    }
  }

  /** Rows up to `row` that have no value. */
  fillTo(row: number): void {
    while (this.rows < row) this.addMissing()
  }

  /**
   * Takes the column's fields from a record on for as long as they are like those before and plainly written, as nearly
   * all are; returns the first record whose field `add` has to look at.
   */
  takeRun(bytes: Uint8Array, found: FoundFields, place: number, from: number): number {
    if (this.kept === 'texts' && !this.odd) return this.takeTexts(bytes, found, place, from)
    if (this.kept === 'doubles' && (this.kind === INTEGER || (this.kind === NUMBER && this.places)))
      return this.takeNumbers(bytes, found, place, from)
    return from
  }

  private takeTexts(bytes: Uint8Array, found: FoundFields, place: number, from: number): number {
    const { count, firstField, starts, ends, how } = found
    const texts = sure(this.texts)
    let r = from
    for (; r < count; r++) {
      const f = firstField[r] + place
      if (f >= firstField[r + 1] || starts[f] === ends[f]) this.addMissing()
      else if (how[f] === DOUBLED) break
      else {
        texts.addBytes(bytes, starts[f], ends[f])
        this.rows++
      }
    }
    return r
  }

  /** Digits, a sign before and a point between them; whatever else there is, and many digits, is not taken. */
  private takeNumbers(bytes: Uint8Array, found: FoundFields, place: number, from: number): number {
    const { count, firstField, starts, ends } = found
    const { numbers, places } = this
    let r = from
    for (; r < count; r++) {
      const f = firstField[r] + place
      const start = starts[f]
      const end = ends[f]
      if (f >= firstField[r + 1] || start === end) {
        this.addMissing()
        continue
      }
      const negative = bytes[start] === MINUS
      const first = negative ? start + 1 : start
      let mantissa = 0
      let point = end
      let at = first
      for (; at < end; at++) {
        const digit = bytes[at] - ZERO
        if (digit >= 0 && digit <= 9) mantissa = mantissa * 10 + digit
        else if (digit === POINT - ZERO && point === end) point = at
        else break
      }
      const decimals = point === end ? 0 : end - point - 1
      const isPlain =
        at === end && point > first && (point === end || decimals > 0) && end - first <= SAFE_DIGITS
      const isNoName = bytes[first] !== ZERO || point === first + 1
      if (!isPlain || !isNoName || (negative && mantissa === 0) || (decimals > 0 && !places)) break
      if (places) {
        places.pushOne(decimals)
        if (decimals > this.decimals) this.decimals = decimals
      }
      const size = decimals === 0 ? mantissa : mantissa / POWERS[decimals]
      numbers.push(negative ? -size : size)
      this.rows++
    }
    return r
  }

  add(bytes: Uint8Array, start: number, end: number): void {
    if (this.kept === 'texts' && !this.odd) {
      this.texts?.addBytes(bytes, start, end)
      this.rows++
      return
    }
    if (this.kept === 'nothing' && !this.odd) {
      this.rows++
      return
    }
    const kind = parseField(bytes, start, end)
    if (kind === this.kind && this.kept === 'doubles') {
      if (kind !== INTEGER) this.noteWriting(kind)
      else if (!parsed.plain) this.isCanonical = false
      this.numbers.push(parsed.value)
      this.rows++
      return
    }
    this.addOther(kind, bytes, start, end)
    this.rows++
  }

  private addOther(kind: number, bytes: Uint8Array, start: number, end: number): void {
    if (this.odd) {
      if (this.isNumeric(kind) && parsed.decimals > 0) this.odd.type = 'number'
      if (!this.odd.take(this.rows, this.isNumeric(kind) || kind === this.kind, bytes, start, end))
        this.odd = null
      if (this.kept === 'texts') this.texts?.addBytes(bytes, start, end)
      return
    }
    if (this.kind === -1 ? kind !== TEXT : this.isNumeric(kind)) {
      this.addNumeric(kind, bytes, start, end)
      return
    }
    if (this.kind === -1) {
      const texts = this.startTexts()
      for (let row = 0; row < this.rows; row++) texts.addMissing()
      texts.addBytes(bytes, start, end)
      return
    }
    this.odd = this.turnToText()
    this.odd.take(this.rows, false, bytes, start, end)
    if (this.mustReadAgain) return
    this.texts?.addBytes(bytes, start, end)
  }

  /** Both are numbers, so that they go into one column. */
  private isNumeric(kind: number): boolean {
    return isNumber(kind) && isNumber(this.kind)
  }

  /** A value of the column's kind, or one that makes it the wider kind of numbers. */
  private addNumeric(kind: number, bytes: Uint8Array, start: number, end: number): void {
    if (this.kind === -1) this.kind = kind === LONG ? INTEGER : kind
    if (this.kept === 'doubles' && kind !== LONG) {
      if (kind === NUMBER && this.kind === INTEGER) {
        this.kind = NUMBER
        this.places = this.noPlaces()
      }
      this.noteWriting(kind)
      this.numbers.push(parsed.value)
      return
    }
    const text = decodeBytes(bytes, start, end).trim()
    const digits = plainNumber(text) ?? '0'
    const decimals = decimalsOfDigits(digits)
    if (decimals > 0) this.kind = NUMBER
    const isWide = decimals === 0 && fitsWide(BigInt(digits))
    if (this.kept === 'doubles' && this.kind === INTEGER && isWide) {
      this.bigs = GrowBigs.from(this.numbers.view())
      this.numbers = new GrowNumbers()
      this.kept = 'wide'
    } else if (this.kept !== 'digits' && !(this.kept === 'wide' && isWide)) this.turnToDigits()
    // What came before was written out by now, as far as it could be.
    if (text !== digits || end - start !== text.length) this.isCanonical = false
    if (this.kept === 'wide') this.bigs.push(BigInt(digits))
    else {
      this.texts?.addText(digits)
      // Zeros at the end are written, though they tell nothing.
      const point = text.indexOf('.')
      this.decimals = Math.max(
        this.decimals,
        /[eE]/.test(text) || point < 0 ? decimals : text.length - point - 1,
      )
    }
  }

  /** What is to be known of how a value is written. */
  private noteWriting(kind: number): void {
    if (!isNumber(kind)) {
      if (kind >= WALL_TIME && parsed.finer) this.finer++
      if (!parsed.plain) this.isCanonical = false
      return
    }
    const { decimals } = parsed
    if (decimals > this.decimals) this.decimals = decimals
    if (this.kind === NUMBER) (this.places ??= this.noPlaces()).pushOne(decimals)
    if (!parsed.plain) this.isCanonical = false
  }

  private noPlaces(): GrowBytes {
    const places = new GrowBytes()
    for (let row = 0; row < this.rows; row++) places.pushOne(0)
    return places
  }

  private startTexts(): TextBuilder {
    this.kind = TEXT
    this.kept = 'texts'
    this.numbers = new GrowNumbers()
    this.bigs = new GrowBigs()
    this.places = null
    return (this.texts = new TextBuilder())
  }

  private turnToDigits(): void {
    const texts = new TextBuilder()
    const { kept, bigs, numbers, places, isCanonical } = this
    this.eachBefore(texts, row => {
      if (kept === 'wide') texts.addText(String(bigs.at(row)))
      else if (isCanonical) {
        const start = writeDecimal(numbers.at(row), places ? places.bytes[row] : 0, true)
        texts.addBytes(digitBytes, start, digitBytes.length)
      } else texts.addText(digitsOfDouble(numbers.at(row)) ?? '0')
    })
    this.texts = texts
    this.numbers = new GrowNumbers()
    this.bigs = new GrowBigs()
    this.kept = 'digits'
  }

  private eachBefore(texts: TextBuilder, write: (row: number) => void): void {
    const missing = this.missing.finish(this.rows)
    for (let row = 0; row < this.rows; row++) {
      if (missing && (missing[row >>> 5] >>> (row & 31)) & 1) texts.addMissing()
      else write(row)
    }
  }

  private turnToText(): OddValues {
    const odd = new OddValues(this.type, this.kind === INSTANT, this.rows - this.missing.count)
    if (!this.isCanonical || this.kept === 'digits' || this.kind === BOOLEAN || this.kind >= WALL_TIME) {
      this.mustReadAgain = true
      this.kept = 'nothing'
      this.texts = null
    } else {
      const texts = new TextBuilder()
      const { kind, kept, places, bigs, numbers } = this
      this.eachBefore(texts, row => {
        if (kept === 'wide') {
          texts.addText(String(bigs.at(row)))
          return
        }
        const start =
          kind === DATE
            ? writeDay(numbers.at(row))
            : writeDecimal(numbers.at(row), places ? places.bytes[row] : 0, false)
        texts.addBytes(digitBytes, start, digitBytes.length)
      })
      this.texts = texts
      this.kept = 'texts'
    }
    this.numbers = new GrowNumbers()
    this.bigs = new GrowBigs()
    this.places = null
    return odd
  }

  /** Takes the place of a reader of the same column that had to be read again. */
  goOnFrom(first: ColumnReader | undefined): void {
    this.odd = first?.odd ?? null
  }

  /** What did not fit what the column was before; null: nothing is known of that. */
  get oddValues(): OddValues | null {
    return this.odd
  }

  /** Whether all numbers may as well be whole ones, with points between thousands: `1.204`, `57`. */
  get mayHaveThousands(): boolean {
    const { kept, places, numbers, rows } = this
    if (kept !== 'doubles' || !places || this.decimals !== 3) return false
    for (let row = 0; row < rows; row++) {
      const size = Math.abs(numbers.at(row))
      const isWhole = places.bytes[row] === 0
      if (size >= 1000 || !(isWhole || (places.bytes[row] === 3 && size >= 1))) return false
    }
    return true
  }

  /** Bytes that the column takes so far. */
  get bytes(): number {
    return (this.texts?.byteLength ?? 0) + (this.numbers.length + this.bigs.length) * 8
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

  /** Whether the column is text, as it was told to be or as its values made it. */
  get isText(): boolean {
    return this.kept === 'texts' || this.kind === -1
  }

  field(key: string): Field {
    if (this.isText) return { key, type: 'text' }
    const wide = this.kept === 'wide' || this.kept === 'digits' ? { wide: true } : {}
    if (this.kind === NUMBER) return { key, type: 'number', decimals: Math.min(15, this.decimals), ...wide }
    if (this.kind === INSTANT) return { key, type: 'datetime', zoned: true }
    return { key, type: this.type, ...wide }
  }

  finish(allocate: Allocate = privateMemory): Column {
    if (this.kind === -1) {
      const texts = this.startTexts()
      for (let row = 0; row < this.rows; row++) texts.addMissing()
    }
    if (this.texts) {
      const column = this.texts.finish(allocate)
      return this.kept === 'digits' ? { ...column, digits: true } : column
    }
    const missing = this.missing.finish(this.rows)
    const settled = missing && settle(missing, allocate)
    if (this.kept === 'wide')
      return { kind: 'wide', values: settle(this.bigs.view(), allocate), missing: settled }
    const values = this.numbers.view()
    if (this.kind === BOOLEAN) {
      const bits = emptyBits(this.rows)
      for (let row = 0; row < this.rows; row++) if (values[row]) setBit(bits, row)
      return { kind: 'boolean', values: settle(bits, allocate), missing: settled }
    }
    return { kind: 'number', values: narrowed(values, this.kind, allocate), missing: settled }
  }
}

const isNumber = (kind: number): boolean => kind === INTEGER || kind === NUMBER || kind === LONG

/** Days and whole numbers that fit are kept in half the bytes. */
function narrowed(values: Float64Array, kind: number, allocate: Allocate): Float64Array | Int32Array {
  if (kind !== INTEGER && kind !== DATE) return settle(values, allocate)
  for (let i = 0; i < values.length; i++) if (values[i] !== (values[i] | 0)) return settle(values, allocate)
  const whole = new Int32Array(allocate(values.length * 4))
  for (let i = 0; i < values.length; i++) whole[i] = values[i]
  return whole
}
