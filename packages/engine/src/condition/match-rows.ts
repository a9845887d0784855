import { andInto, andNotInto, emptyBits, fullBits, invert, orInto, setBit, type Bits } from '../table/bits.ts'
import {
  isDigitColumn,
  textOf,
  valueAt,
  type Column,
  type DigitColumn,
  type Field,
  type NumberColumn,
  type WideColumn,
} from '../table/column.ts'
import { BEYOND_KEYS, digitKey, digitsOfDouble } from '../table/digits.ts'
import { textAt, type TextBlock } from '../table/text-block.ts'
import { fold } from '../search/fold.ts'
import { findByText, findDistinct, spreadHits, type ShownIndex } from '../search/shown-index.ts'
import { findInJoined } from '../search/joined-text.ts'
import { SLICE, type Work } from '../work/work.ts'
import type { Condition, ConditionPart } from './condition.ts'
import { kindNamed } from './kinds/index.ts'
import type { Ask, AskedOf, Bound, PartProblem, TextTest } from './kinds/kind.ts'

/** The column a condition asks, what kinds need to know, and how to reach the search index of its text. */
export interface AskedColumn extends AskedOf {
  readonly field: Field
  readonly column: Column
  readonly rows: number
  readonly index: () => Work<ShownIndex>
}

/** The rows that meet a condition, and why parts of it could not be asked. */
export interface Met {
  readonly rows: Bits
  readonly problems: readonly PartProblem[]
}

/** The rows that meet a column's condition. A part other than *missing* is false where the value is missing. */
export function* matchRows(condition: Condition, asked: AskedColumn): Work<Met> {
  let met: Bits | null = null
  const problems: PartProblem[] = []
  for (const part of condition.parts) {
    const rows = yield* answer(askOf(part, asked), asked, problems)
    if (!met) met = rows
    else if (condition.match === 'any') orInto(met, rows)
    else andInto(met, rows)
  }
  return { rows: met ?? fullBits(asked.rows), problems }
}

/** What a part asks of a column; *nothing* with the reason where its kind cannot ask one of the type. */
function askOf(part: ConditionPart, of: AskedOf): Ask {
  const kind = kindNamed(part.kind)
  const { type } = of.field
  if (kind.types.includes(type)) return kind.ask(part, of)
  return { by: 'nothing', problem: { code: 'not-for-type', kind: kind.name, type } }
}

function* answer(ask: Ask, asked: AskedColumn, problems: PartProblem[]): Work<Bits> {
  const { column, rows } = asked
  switch (ask.by) {
    case 'nothing':
      problems.push(ask.problem)
      return emptyBits(rows)
    case 'presence':
      return presenceRows(column, rows, ask.missing)
    case 'spans':
      return turned(yield* spanRows(column, rows, ask), column, rows, ask.none)
    case 'truth':
      return turned(truthRows(column, rows, ask.truths), column, rows, ask.none)
    case 'text':
      return turned(yield* textRows(ask, asked), column, rows, ask.none)
    case 'exact':
      return turned(yield* exactRows(column, rows, ask.test), column, rows, ask.none)
    case 'value':
    case 'rows':
      return yield* ownRows(ask, column, rows, problems)
  }
}

/** The rows of a set, or those others that have a value. */
function turned(bits: Bits, column: Column, rows: number, none = false): Bits {
  if (none) invert(bits, rows)
  if (column.missing) andNotInto(bits, column.missing)
  return bits
}

function presenceRows(column: Column, rows: number, missing: boolean): Bits {
  const bits = column.missing?.slice() ?? emptyBits(rows)
  if (!missing) invert(bits, rows)
  return bits
}

function* spanRows(column: Column, rows: number, ask: Extract<Ask, { by: 'spans' }>): Work<Bits> {
  if (column.kind === 'wide') return yield* wideSpanRows(column, ask)
  if (isDigitColumn(column)) return yield* digitSpanRows(column, rows, ask)
  if (column.kind !== 'number') return emptyBits(rows)
  const spans = ask.spans.map(({ from, to }): NumberSpan => ({ from: Number(from), to: Number(to) }))
  if (spans.length > FEW_SPANS) return yield* anySpanRows(column, spans)
  const bits = emptyBits(rows)
  for (const { from, to } of spans) {
    const low = ask.above ? nextUp(from) : from
    const high = ask.below ? -nextUp(-to) : to
    yield* rangeRows(column, low, high, bits)
  }
  return bits
}

interface NumberSpan {
  readonly from: number
  readonly to: number
}

/** So many ranges are quicker gone through one by one than looked up for every row. */
const FEW_SPANS = 6

function* rangeRows({ values }: NumberColumn, low: number, high: number, into: Bits): Work<void> {
  for (let from = 0; from < values.length; from += SLICE) {
    const to = Math.min(values.length, from + SLICE)
    if (values instanceof Float64Array) rangeSlice(values, low, high, into, from, to)
    else integerRangeSlice(values, low, high, into, from, to)
    yield
  }
}

const bytes = new DataView(new ArrayBuffer(8))

/** The next larger number that a double holds. */
function nextUp(value: number): number {
  if (value === Infinity || Number.isNaN(value)) return value
  if (value === 0) return Number.MIN_VALUE
  bytes.setFloat64(0, value)
  bytes.setBigInt64(0, bytes.getBigInt64(0) + (value > 0 ? 1n : -1n))
  return bytes.getFloat64(0)
}

/** Many ranges: ordered and joined, then each row's value looked up among them. */
function* anySpanRows({ values }: NumberColumn, spans: readonly NumberSpan[]): Work<Bits> {
  const sorted = [...spans].sort((a, b) => a.from - b.from)
  const starts = Float64Array.from(sorted, span => span.from)
  // A later range may end before an earlier one; what counts is how far any so far reaches.
  let reach = -Infinity
  const reaches = Float64Array.from(sorted, span => (reach = Math.max(reach, span.to)))
  const bits = emptyBits(values.length)
  for (let row = 0; row < values.length; row++) {
    const value = values[row]
    let low = 0
    let high = starts.length
    while (low < high) {
      const middle = (low + high) >>> 1
      if (starts[middle] <= value) low = middle + 1
      else high = middle
    }
    if (low > 0 && value <= reaches[low - 1]) setBit(bits, row)
    if (row % SLICE === SLICE - 1) yield
  }
  return bits
}

/** A big integer compares exactly with a double, whatever their sizes. */
function* wideSpanRows({ values }: WideColumn, ask: Extract<Ask, { by: 'spans' }>): Work<Bits> {
  const bits = emptyBits(values.length)
  const spans = ask.spans.map(({ from, to }) => ({ from: wholeBound(from), to: wholeBound(to) }))
  const holds = (value: bigint): boolean =>
    spans.some(
      ({ from, to }) => (ask.above ? value > from : value >= from) && (ask.below ? value < to : value <= to),
    )
  for (let row = 0; row < values.length; row++) {
    if (holds(values[row])) setBit(bits, row)
    if (row % SLICE === SLICE - 1) yield
  }
  return bits
}

/** Between two whole numbers a half stands for whatever lies there: no whole number is it. */
function wholeBound(bound: Bound): number | bigint {
  if (typeof bound === 'number') return bound
  const [whole, fraction] = bound.split('.')
  if (fraction === undefined) return BigInt(whole)
  const near = Number(bound)
  if (Number.isSafeInteger(Math.trunc(near) * 2)) return Math.trunc(near) + (near < 0 ? -0.5 : 0.5)
  return near
}

/** Compared by the keys of their digits, once per distinct number. */
function* digitSpanRows(column: DigitColumn, rows: number, ask: Extract<Ask, { by: 'spans' }>): Work<Bits> {
  const spans = ask.spans.map(({ from, to }) => ({ from: keyOfBound(from), to: keyOfBound(to) }))
  return yield* exactRows(column, rows, text => {
    if (text === '') return false
    const key = digitKey(text)
    return spans.some(
      ({ from, to }) => (ask.above ? key > from : key >= from) && (ask.below ? key < to : key <= to),
    )
  })
}

/** Sorts among the keys of digits. */
function keyOfBound(bound: Bound): string {
  if (bound === Infinity) return BEYOND_KEYS
  if (bound === -Infinity) return ''
  return digitKey(typeof bound === 'string' ? bound : (digitsOfDouble(bound) ?? '0'))
}

// The same loop twice: one that sees both array types runs at half the speed.
function rangeSlice(
  values: Float64Array,
  low: number,
  high: number,
  bits: Bits,
  from: number,
  to: number,
): void {
  for (let base = from; base < to; base += 32) {
    const end = Math.min(to, base + 32)
    let word = 0
    for (let i = base; i < end; i++) if (values[i] >= low && values[i] <= high) word |= 1 << (i - base)
    bits[base >>> 5] |= word
  }
}
function integerRangeSlice(
  values: Int32Array,
  low: number,
  high: number,
  bits: Bits,
  from: number,
  to: number,
): void {
  for (let base = from; base < to; base += 32) {
    const end = Math.min(to, base + 32)
    let word = 0
    for (let i = base; i < end; i++) if (values[i] >= low && values[i] <= high) word |= 1 << (i - base)
    bits[base >>> 5] |= word
  }
}

function truthRows(column: Column, rows: number, truths: readonly boolean[]): Bits {
  if (column.kind !== 'boolean') return emptyBits(rows)
  const [yes, no] = [truths.includes(true), truths.includes(false)]
  if (yes === no) return yes ? fullBits(rows) : emptyBits(rows)
  const bits = column.values.slice()
  if (no) invert(bits, rows)
  return bits
}

function* textRows(ask: Extract<Ask, { by: 'text' }>, asked: AskedColumn): Work<Bits> {
  const index = yield* asked.index()
  const bits = emptyBits(asked.rows)
  if (index.kind === 'distinct') {
    yield* findDistinct(index, ask.test, bits)
    return bits
  }
  const { holds } = ask
  if (index.kind === 'written' || !holds || holds.some(text => text === '' || text.includes('\n')))
    return yield* findByText(asked.column, asked.rows, ask.test)
  for (const text of holds) yield* findInJoined(index.parts, text, bits)
  // Where in its text a match lies, the test settles. Joined text has spaces for line feeds: where a space is looked
  // for, it is settled by the text itself.
  const spaced = holds.some(text => text.includes(' '))
  const foldedOf = spaced ? (row: number): string => fold(textOf(asked.column, row)) : null
  return yield* keepPassing(bits, index, ask.test, foldedOf)
}

function* keepPassing(
  bits: Bits,
  index: Extract<ShownIndex, { kind: 'joined' }>,
  test: TextTest,
  textOf: ((row: number) => string) | null,
): Work<Bits> {
  for (const { firstRow, text, starts } of index.parts) {
    for (let w = firstRow >>> 5; w <= (firstRow + starts.length - 2) >>> 5; w++) {
      for (let left = bits[w]; left !== 0; left &= left - 1) {
        const bit = 31 - Math.clz32(left & -left)
        const i = (w << 5) + bit - firstRow
        const folded = textOf ? textOf(firstRow + i) : text.slice(starts[i], starts[i + 1] - 1)
        if (!test(folded)) bits[w] &= ~(1 << bit)
      }
    }
    yield
  }
  return bits
}

/** Texts between two pauses; a pattern takes some microseconds over each. */
const TEXTS_A_SLICE = 1 << 10

/** Rows whose text, as the data holds it, passes; asked once per distinct text. */
function* exactRows(column: Column, rows: number, test: TextTest): Work<Bits> {
  const bits = emptyBits(rows)
  if (column.kind === 'coded') {
    const hits = yield* testTexts(column.texts, test)
    yield* spreadHits({ by: 'list', codes: column.codes }, hits, column.missing, bits)
  } else if (column.kind === 'plain') {
    for (let row = 0; row < rows; row++) {
      if (test(textAt(column.texts, row))) setBit(bits, row)
      if (row % TEXTS_A_SLICE === TEXTS_A_SLICE - 1) yield
    }
  }
  return bits
}

function* testTexts(texts: TextBlock, test: TextTest): Work<Uint8Array> {
  const hits = new Uint8Array(texts.offsets.length)
  for (let i = 0; i < hits.length - 1; i++) {
    hits[i] = test(textAt(texts, i)) ? 1 : 0
    if (i % TEXTS_A_SLICE === TEXTS_A_SLICE - 1) yield
  }
  return hits
}

/** A condition of a host's own; one that throws is met by no row, and told of. */
function* ownRows(
  ask: Extract<Ask, { by: 'value' | 'rows' }>,
  column: Column,
  rows: number,
  problems: PartProblem[],
): Work<Bits> {
  try {
    if (ask.by === 'rows') {
      const bits = emptyBits(rows)
      bits.set(ask.rows(column, rows).subarray(0, bits.length))
      // Bits beyond the last row must not count.
      andInto(bits, fullBits(rows))
      return turned(bits, column, rows)
    }
    if (column.kind === 'coded' || column.kind === 'plain')
      return turned(yield* exactRows(column, rows, ask.test), column, rows)
    const bits = emptyBits(rows)
    for (let row = 0; row < rows; row++) {
      const value = valueAt(column, row)
      if (value !== null && ask.test(value)) setBit(bits, row)
      if (row % SLICE === SLICE - 1) yield
    }
    return bits
  } catch (error) {
    const reason = error instanceof Error ? error.message : String(error)
    problems.push({ code: 'threw', name: ask.name, reason })
    return emptyBits(rows)
  }
}
