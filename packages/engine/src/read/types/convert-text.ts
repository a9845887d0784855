import { emptyBits, setBit, type Bits } from '../../table/bits.ts'
import { fitsWide, isMissing, type Column, type Field } from '../../table/column.ts'
import { isToldByDouble, plainNumber, SAFE_DIGITS } from '../../table/digits.ts'
import { textAt, textCount } from '../../table/text-block.ts'
import { TextBuilder } from '../../table/text-builder.ts'
import type { Work } from '../../work/work.ts'
import { MAX_EXAMPLES, type Misfit, type Misfits, type TextColumn } from './survey-texts.ts'
import { lastRead, literalReader, textParser, type TextStyle } from './text-style.ts'

export interface Converted {
  readonly field: Field
  readonly column: Column
  /** What could not be read; these rows are missing now. */
  readonly misfits: Misfits
  /** Times that were told finer than the milliseconds that are kept. */
  readonly finer: number
}

/** What distinct texts were read as. */
interface Distinct {
  readonly field: Field
  /** By distinct text: it could not be read. */
  readonly unread: Bits
  readonly values:
    | { readonly as: 'numbers'; readonly numbers: Float64Array }
    | { readonly as: 'wide'; readonly bigs: BigInt64Array }
    | { readonly as: 'texts'; readonly texts: readonly string[]; readonly digits?: boolean }
  /** By distinct text, times that tell more than the milliseconds that are kept. */
  readonly finer: Bits | null
}

/** Reads a text column as what a style says. Values that do not fit become missing, and are told. Distinct texts are read once. */
export function* convertText(
  key: string,
  column: TextColumn,
  rows: number,
  style: TextStyle,
): Work<Converted> {
  const distinct =
    style.type === 'number' || style.type === 'integer'
      ? yield* readNumbers(key, column, style)
      : yield* readOthers(key, column, style)
  const place = yield* placeRows(column, rows, distinct)
  const { misfits, finer } = place
  const made = yield* columnOf(distinct, rows, place)
  return { field: distinct.field, column: made, misfits, finer }
}

/** Numbers as doubles where these tell all of them; else as whole numbers of 64 bits, or as their digits. */
function* readNumbers(key: string, column: TextColumn, style: TextStyle): Work<Distinct> {
  const { texts } = column
  const count = textCount(texts)
  const literalIn = literalReader(style)
  const literals = new Array<string | null>(count)
  const numbers = new Float64Array(count)
  const unread = emptyBits(count + 1)
  let isTold = true
  let isWide = true
  let decimals = 0
  let whole = true
  for (let i = 0; i < count; i++) {
    if ((i & 8191) === 8191) yield
    const literal = literalIn(textAt(texts, i).trim())
    const value = Number(literal)
    const simple = literal !== null && (literal.length <= SAFE_DIGITS || String(value) === literal)
    const digits = literal === null || (simple && Number.isFinite(value)) ? literal : plainNumber(literal)
    if (digits === null || (style.type === 'integer' && !isWholeNumber(digits))) {
      setBit(unread, i)
      continue
    }
    literals[i] = digits
    numbers[i] = value
    if (isTold && (simple ? isRisky(value) : true) && !isToldByDouble(plainNumber(digits) ?? digits))
      isTold = false
    const written = decimalsOfLiteral(literal ?? '')
    if (written > decimals) decimals = written
    if (whole && (written > 0 || !Number.isInteger(value))) whole = false
    if (isWide && !(isWholeNumber(digits) && fitsWide(BigInt(plainNumber(digits) ?? 0)))) isWide = false
  }
  const field = numberField(key, whole, decimals)
  if (isTold) return { field, unread, finer: null, values: { as: 'numbers', numbers } }
  if (isWide) {
    const bigs = BigInt64Array.from(literals, literal => BigInt((literal && plainNumber(literal)) ?? 0))
    return { field: { key, type: 'integer', wide: true }, unread, finer: null, values: { as: 'wide', bigs } }
  }
  const plain = literals.map(literal => (literal && plainNumber(literal)) ?? '')
  return {
    field: { ...field, wide: true },
    unread,
    finer: null,
    values: { as: 'texts', texts: plain, digits: true },
  }
}

/** A whole number that stands for others as well. */
const isRisky = (value: number): boolean => Number.isInteger(value) && !Number.isSafeInteger(value)
const isWholeNumber = (digits: string): boolean => !(plainNumber(digits) ?? '.').includes('.')

/** Digits behind the point of a number as programs write it. */
function decimalsOfLiteral(literal: string): number {
  const point = literal.indexOf('.')
  if (point < 0) return 0
  const end = literal.search(/[eE]/)
  return (end < 0 ? literal.length : end) - point - 1
}

const numberField = (key: string, whole: boolean, decimals: number): Field =>
  whole && decimals === 0
    ? { key, type: 'integer' }
    : { key, type: 'number', decimals: Math.min(15, decimals) }

function* readOthers(key: string, column: TextColumn, style: TextStyle): Work<Distinct> {
  const parse = textParser(style)
  const { texts } = column
  const count = textCount(texts)
  const numbers = new Float64Array(count)
  const tags: string[] = []
  const unread = emptyBits(count + 1)
  const finer = emptyBits(count + 1)
  for (let i = 0; i < count; i++) {
    lastRead.finer = false
    const value = parse(textAt(texts, i).trim())
    if (value === null) setBit(unread, i)
    else if (typeof value === 'string') tags[i] = value
    else numbers[i] = value
    if (lastRead.finer && value !== null) setBit(finer, i)
    if ((i & 8191) === 8191) yield
  }
  const { type, zoned } = style
  const field: Field = type === 'datetime' && zoned ? { key, type, zoned: true } : { key, type }
  const values = type === 'tags' ? { as: 'texts' as const, texts: tags } : { as: 'numbers' as const, numbers }
  return { field, unread, finer, values }
}

interface Placed {
  readonly codes: Uint32Array | null
  readonly missing: Bits | null
  readonly misfits: Misfits
  readonly finer: number
}

function* placeRows(column: TextColumn, rows: number, { unread, finer }: Distinct): Work<Placed> {
  const codes = column.kind === 'coded' ? column.codes : null
  const missing = emptyBits(rows)
  let any = false
  let count = 0
  let cut = 0
  const examples: Misfit[] = []
  for (let row = 0; row < rows; row++) {
    const at = codes ? codes[row] : row
    const absent = isMissing(column, row)
    if (absent || (unread[at >>> 5] >>> (at & 31)) & 1) {
      setBit(missing, row)
      any = true
      if (!absent) {
        count++
        if (examples.length < MAX_EXAMPLES) examples.push({ row, text: textAt(column.texts, at) })
      }
    }
    if (finer && !absent && (finer[at >>> 5] >>> (at & 31)) & 1) cut++
    if ((row & 65_535) === 65_535) yield
  }
  return { codes, missing: any ? missing : null, misfits: { count, examples }, finer: cut }
}

function* columnOf({ field, values: read }: Distinct, rows: number, place: Placed): Work<Column> {
  const { codes, missing } = place
  const absent = (row: number): boolean => missing !== null && ((missing[row >>> 5] >>> (row & 31)) & 1) === 1
  if (read.as === 'texts') {
    const builder = new TextBuilder()
    for (let row = 0; row < rows; row++) {
      if (absent(row)) builder.addMissing()
      else builder.addText(read.texts[codes ? codes[row] : row])
      if ((row & 8191) === 8191) yield
    }
    return read.digits ? { ...builder.finish(), digits: true } : builder.finish()
  }
  if (read.as === 'wide') {
    const values = new BigInt64Array(rows)
    for (let row = 0; row < rows; row++) if (!absent(row)) values[row] = read.bigs[codes ? codes[row] : row]
    return { kind: 'wide', values, missing }
  }
  const { numbers } = read
  if (field.type === 'boolean') {
    const bits = emptyBits(rows)
    for (let row = 0; row < rows; row++)
      if (!absent(row) && numbers[codes ? codes[row] : row]) setBit(bits, row)
    return { kind: 'boolean', values: bits, missing }
  }
  const values = new Float64Array(rows)
  let small = field.type !== 'number' && field.type !== 'datetime'
  for (let row = 0; row < rows; row++) {
    if (absent(row)) continue
    const value = numbers[codes ? codes[row] : row]
    values[row] = value
    if (small && value !== (value | 0)) small = false
    if ((row & 131_071) === 131_071) yield
  }
  return { kind: 'number', values: small ? Int32Array.from(values) : values, missing }
}
