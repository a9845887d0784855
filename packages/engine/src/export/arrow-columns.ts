import {
  batchType,
  bool,
  Column,
  columnFromArray,
  dateDay,
  decimal,
  float64,
  int32,
  int64,
  list,
  timeMillisecond,
  timestamp,
  TimeUnit,
  utf8,
  type Batch,
  type DataType,
} from '@uwdata/flechette'
import type { BatchColumn, BatchField, BatchType } from './batch-column.ts'

/** A column as Arrow lays it, in one batch. Its buffers are filled here: the package’s own builders take five times as long. */
export function arrowColumn(column: BatchColumn): Column<unknown> {
  const { type, values } = column
  const arrow = TYPES[type](column)
  if (values.length === 0) return new Column([], arrow)
  if (type === 'texts') return columnFromArray(values as unknown[], arrow)
  // The package types what it answers as nothing in particular.
  const BatchOf = batchType(arrow) as new (parts: object) => Batch<unknown>
  return new Column([
    new BatchOf({ length: values.length, type: arrow, ...presence(values), ...buffersOf(type, values) }),
  ])
}

/** The column without rows. */
export const emptyColumn = (field: BatchField): Column<unknown> => new Column([], TYPES[field.type](field))

const TYPES: Readonly<Record<BatchType, (field: BatchField) => DataType>> = {
  text: utf8,
  texts: () => list(utf8()),
  int32,
  int64,
  decimal: ({ precision = 1, scale = 0 }) => decimal(precision, scale),
  double: float64,
  boolean: bool,
  day: dateDay,
  clock: timeMillisecond,
  moment: () => timestamp(TimeUnit.MILLISECOND),
  instant: () => timestamp(TimeUnit.MILLISECOND, 'UTC'),
}

type Values = BatchColumn['values']

/** Which values are there, a bit each; no bits where all are. */
function presence(values: Values): { readonly nullCount: number; readonly validity: Uint8Array } {
  const bits = new Uint8Array((values.length + 7) >> 3)
  let nullCount = 0
  for (let i = 0; i < values.length; i++)
    if (values[i] === null) nullCount++
    else bits[i >> 3] |= 1 << (i & 7)
  return { nullCount, validity: nullCount === 0 ? new Uint8Array(0) : bits }
}

interface Buffers {
  readonly values: Uint8Array | Int32Array | Float64Array | BigInt64Array | BigUint64Array
  readonly offsets?: Int32Array
}

function buffersOf(type: Exclude<BatchType, 'texts'>, values: Values): Buffers {
  switch (type) {
    case 'text':
      return textBuffers(values)
    case 'boolean': {
      const bits = new Uint8Array((values.length + 7) >> 3)
      for (let i = 0; i < values.length; i++) if (values[i] === true) bits[i >> 3] |= 1 << (i & 7)
      return { values: bits }
    }
    case 'decimal':
      return { values: wideUnits(values) }
    case 'double':
      return { values: Float64Array.from(values, Number) }
    case 'int32':
    case 'day':
    case 'clock':
      return { values: Int32Array.from(values, Number) }
    default:
      return { values: BigInt64Array.from(values, value => BigInt((value ?? 0) as number | bigint)) }
  }
}

/** Whole numbers of 128 bits, in two's complement: the lower half of each, then the upper one. */
function wideUnits(values: Values): BigUint64Array {
  const halves = new BigUint64Array(values.length * 2)
  values.forEach((value, i) => {
    if (typeof value !== 'bigint') return
    halves[i * 2] = BigInt.asUintN(64, value)
    halves[i * 2 + 1] = BigInt.asUintN(64, value >> 64n)
  })
  return halves
}

/** A character takes so many bytes of UTF-8 at most. */
const BYTES_A_UNIT = 3

function textBuffers(values: Values): Buffers {
  const encoder = new TextEncoder()
  const texts = values as readonly (string | null)[]
  const room = texts.reduce((sum, text) => sum + (text?.length ?? 0), 0) * BYTES_A_UNIT
  const bytes = new Uint8Array(room)
  const offsets = new Int32Array(texts.length + 1)
  let at = 0
  for (let i = 0; i < texts.length; i++) {
    const text = texts[i]
    if (text) at = writeText(text, bytes, at, encoder)
    offsets[i + 1] = at
  }
  return { values: bytes.slice(0, at), offsets }
}

/** Short texts of plain characters are written by hand: a call of the encoder takes longer than they do. */
function writeText(text: string, bytes: Uint8Array, from: number, encoder: TextEncoder): number {
  let at = from
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i)
    if (unit > 127) return from + encoder.encodeInto(text, bytes.subarray(from)).written
    bytes[at++] = unit
  }
  return at
}
