import { privateMemory, type Allocate } from '../table/allocate.ts'
import { settleColumn } from '../table/settle-table.ts'
import { emptyBits, setBit, type Bits } from '../table/bits.ts'
import type { Column, Table } from '../table/column.ts'
import { textBlockOf } from '../table/text-block.ts'
import { TextBuilder } from '../table/text-builder.ts'
import type { Work } from '../work/work.ts'
import { arithmetic } from './kernels/arithmetic.ts'
import { callFunction } from './kernels/call.ts'
import { loadColumn, loadConstant, loadPresence, loadRowNumbers } from './kernels/load.ts'
import { both, choose, compare, either, not } from './kernels/logic.ts'
import {
  CHUNK,
  NO_TEXT,
  NO_TRUTH,
  type Kernel,
  type NumberVector,
  type TextVector,
  type TruthVector,
  fills,
  filling,
} from './kernels/vector.ts'
import type { ValueType } from './problem.ts'
import type { Typed } from './typed.ts'

/** Chunks between two pauses; about a millisecond of simple operations. */
const CHUNKS_A_SLICE = 32

/**
 * The column that an expression gives over a table. Linear in the rows. `rowNumbers`: where each row stands in its
 * source, for tables of some rows of another.
 */
export function* computeColumn(
  typed: Typed,
  table: Table,
  allocate: Allocate = privateMemory,
  rowNumbers: Uint32Array | null = null,
): Work<Column> {
  const kernel = compile(typed, table, rowNumbers, typed.type)
  const column = fills(kernel, 'number')
    ? yield* collectNumbers(kernel, table.rows, typed.decimals === 0)
    : fills(kernel, 'truth')
      ? yield* collectTruths(kernel, table.rows)
      : yield* collectTexts(filling(kernel, 'text'), table.rows)
  return settleColumn(column, allocate)
}

/** `type`: what a `null` here stands for the absence of. */
function compile(typed: Typed, table: Table, rowNumbers: Uint32Array | null, type: ValueType): Kernel {
  const inner = (part: Typed, of: ValueType = part.type): Kernel => compile(part, table, rowNumbers, of)
  const truth = (part: Typed): Kernel<TruthVector> => filling(inner(part), 'truth')
  const number = (part: Typed): Kernel<NumberVector> => filling(inner(part), 'number')
  switch (typed.kind) {
    case 'constant':
      return loadConstant(typed.value, typed.type === 'nothing' ? type : typed.type)
    case 'field':
      return loadColumn(table.columns[typed.place])
    case 'row-number':
      return loadRowNumbers(rowNumbers)
    case 'has':
      return loadPresence(table.columns[typed.place])
    case 'not':
      return not(truth(typed.of))
    case 'both':
      return both(truth(typed.left), truth(typed.right))
    case 'either':
      return either(truth(typed.left), truth(typed.right))
    case 'compare':
      return compare(typed.operator, number(typed.left), number(typed.right))
    case 'arithmetic':
      return arithmetic(typed.operator, number(typed.left), number(typed.right))
    case 'choose':
      return choose(truth(typed.condition), inner(typed.yes, type), inner(typed.no, type))
    case 'call':
      return callFunction(
        typed.type,
        typed.apply,
        typed.args.map(arg => inner(arg)),
      )
  }
}

/** Runs the kernel over all rows, chunk by chunk. */
function* chunks(kernel: Kernel, rows: number, take: (from: number, to: number) => void): Work<void> {
  let sinceBreak = 0
  for (let from = 0; from < rows; from += CHUNK) {
    const to = Math.min(rows, from + CHUNK)
    kernel.run(from, to)
    take(from, to)
    if (++sinceBreak === CHUNKS_A_SLICE) {
      sinceBreak = 0
      yield
    }
  }
}

class MissingRows {
  bits: Bits | null = null
  private readonly rows: number
  constructor(rows: number) {
    this.rows = rows
  }
  add(row: number): void {
    this.bits ??= emptyBits(this.rows)
    setBit(this.bits, row)
  }
}

function* collectNumbers(kernel: Kernel<NumberVector>, rows: number, whole: boolean): Work<Column> {
  const values = new Float64Array(rows)
  const missing = new MissingRows(rows)
  let small = whole
  yield* chunks(kernel, rows, (from, to) => {
    const source = kernel.out.values
    for (let i = from; i < to; i++) {
      const value = source[i - from]
      // -0 is 0 to whoever reads it.
      if (value === value) values[i] = value + 0
      else missing.add(i)
      if (small && value === value && value !== (value | 0)) small = false
    }
  })
  return { kind: 'number', values: small ? new Int32Array(values) : values, missing: missing.bits }
}

function* collectTruths(kernel: Kernel<TruthVector>, rows: number): Work<Column> {
  const values = emptyBits(rows)
  const missing = new MissingRows(rows)
  yield* chunks(kernel, rows, (from, to) => {
    const truths = kernel.out.values
    for (let i = from; i < to; i++) {
      const truth = truths[i - from]
      if (truth === 1) values[i >>> 5] |= 1 << (i & 31)
      else if (truth === NO_TRUTH) missing.add(i)
    }
  })
  return { kind: 'boolean', values, missing: missing.bits }
}

function* collectTexts(kernel: Kernel<TextVector>, rows: number): Work<Column> {
  const { dictionary, codes } = kernel.out
  if (dictionary.bound === Infinity) {
    const builder = new TextBuilder()
    yield* chunks(kernel, rows, (from, to) => {
      for (let i = 0; i < to - from; i++) {
        if (codes[i] === NO_TEXT) builder.addMissing()
        else builder.addText(dictionary.textOf(codes[i]))
      }
    })
    return builder.finish()
  }
  const out = new Uint32Array(rows)
  const missing = new MissingRows(rows)
  const known = new Map<string, number>()
  let places = new Int32Array(1024).fill(-1)
  const codeOf = (text: string): number => {
    let code = known.get(text)
    if (code === undefined) known.set(text, (code = known.size))
    return code
  }
  yield* chunks(kernel, rows, (from, to) => {
    for (let i = from; i < to; i++) {
      // Nearly all rows hold a text that was met before.
      i = copyMet(codes, places, out, from, i, to)
      if (i === to) break
      const code = codes[i - from]
      if (code === NO_TEXT) {
        missing.add(i)
        continue
      }
      if (code >= places.length) places = grown(places, code)
      if (places[code] < 0) places[code] = codeOf(dictionary.textOf(code))
      out[i] = places[code]
    }
  })
  return { kind: 'coded', codes: out, texts: textBlockOf([...known.keys()]), missing: missing.bits }
}

/** Copies places of texts that were met before from row `i` on; returns the first row that holds none, or `to`. */
function copyMet(
  codes: Uint32Array,
  places: Int32Array,
  out: Uint32Array,
  from: number,
  i: number,
  to: number,
): number {
  const known = places.length
  for (; i < to; i++) {
    const code = codes[i - from]
    if (code >= known) return i
    const place = places[code]
    if (place < 0) return i
    out[i] = place
  }
  return to
}

function grown(places: Int32Array<ArrayBuffer>, code: number): Int32Array<ArrayBuffer> {
  const larger = new Int32Array(Math.max(code + 1, places.length * 2)).fill(-1)
  larger.set(places)
  return larger
}
