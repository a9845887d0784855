import { emptyBits, setBit, type Bits } from '../../table/bits.ts'
import { isMissing, type Column, type Field } from '../../table/column.ts'
import { textAt, textCount } from '../../table/text-block.ts'
import { TextBuilder } from '../../table/text-builder.ts'
import type { Work } from '../../work/work.ts'
import { MAX_EXAMPLES, type Misfit, type Misfits, type TextColumn } from './survey-texts.ts'
import { lastNumber, parseWide, textParser, type TextStyle } from './text-style.ts'

export interface Converted {
  readonly field: Field
  readonly column: Column
  /** What could not be read; these rows are missing now. */
  readonly misfits: Misfits
}

/**
 * Reads a text column as what a style says. Values that do not fit become missing, and are told. `wide`: as whole
 * numbers of 64 bits. Distinct texts are read once.
 */
export function* convertText(
  key: string,
  column: TextColumn,
  rows: number,
  style: TextStyle,
  wide = false,
): Work<Converted> {
  const parse = wide ? parseWide : textParser(style)
  const { texts } = column
  const count = textCount(texts)
  const numbers = new Float64Array(wide ? 0 : count)
  const bigs = new BigInt64Array(wide ? count : 0)
  const tags: string[] = []
  const unread = emptyBits(count + 1)
  let decimals = 0
  let whole = true
  for (let i = 0; i < count; i++) {
    const value = parse(textAt(texts, i).trim())
    if (value === null) setBit(unread, i)
    else if (typeof value === 'bigint') bigs[i] = value
    else if (typeof value === 'string') tags[i] = value
    else {
      numbers[i] = value
      if (style.type === 'number' && lastNumber.decimals > decimals) decimals = lastNumber.decimals
      if (whole && !Number.isInteger(value)) whole = false
    }
    if ((i & 8191) === 8191) yield
  }
  const place = yield* placeRows(column, rows, unread)
  const field = fieldOf(key, style, wide, whole, decimals)
  return {
    field,
    column: yield* columnOf(field, rows, place, { numbers, bigs, tags }),
    misfits: place.misfits,
  }
}

interface Placed {
  readonly codes: Uint32Array | null
  readonly missing: Bits | null
  readonly misfits: Misfits
}

function* placeRows(column: TextColumn, rows: number, unread: Bits): Work<Placed> {
  const codes = column.kind === 'coded' ? column.codes : null
  const missing = emptyBits(rows)
  let any = false
  let count = 0
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
    if ((row & 65_535) === 65_535) yield
  }
  return { codes, missing: any ? missing : null, misfits: { count, examples } }
}

function fieldOf(key: string, style: TextStyle, wide: boolean, whole: boolean, decimals: number): Field {
  if (wide) return { key, type: 'integer', wide: true }
  if (style.type === 'number') {
    return whole && decimals === 0
      ? { key, type: 'integer' }
      : { key, type: 'number', decimals: Math.min(15, decimals) }
  }
  return style.type === 'datetime' && style.zoned
    ? { key, type: 'datetime', zoned: true }
    : { key, type: style.type }
}

interface Distinct {
  readonly numbers: Float64Array
  readonly bigs: BigInt64Array
  readonly tags: readonly string[]
}

function* columnOf(field: Field, rows: number, place: Placed, distinct: Distinct): Work<Column> {
  const { codes, missing } = place
  const absent = (row: number): boolean => missing !== null && ((missing[row >>> 5] >>> (row & 31)) & 1) === 1
  if (field.type === 'tags') {
    const builder = new TextBuilder()
    for (let row = 0; row < rows; row++) {
      if (absent(row)) builder.addMissing()
      else builder.addText(distinct.tags[codes ? codes[row] : row])
      if ((row & 8191) === 8191) yield
    }
    return builder.finish()
  }
  if (field.wide) {
    const values = new BigInt64Array(rows)
    for (let row = 0; row < rows; row++)
      if (!absent(row)) values[row] = distinct.bigs[codes ? codes[row] : row]
    return { kind: 'wide', values, missing }
  }
  const { numbers } = distinct
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
