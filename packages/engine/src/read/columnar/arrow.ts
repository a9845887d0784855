import { DataType, Precision, tableFromIPC, type RecordBatch, type Vector } from 'apache-arrow'
import type { Chunk, ChunkKind, ColumnarFile, Decoder } from './columnar-file.ts'

/** Apache Arrow, file and stream: record batch by record batch. */
export const decode: Decoder = async (_file, buffer): Promise<ColumnarFile> => {
  const bytes = new Uint8Array(await buffer())
  const table = tableFromIPC(bytes)
  // No column takes less than a bit a row; a damaged length would have all of its rows looked at.
  if (table.numRows > bytes.length * 8)
    throw new Error(`it tells ${table.numRows} rows in ${bytes.length} bytes`)
  return {
    rows: table.numRows,
    keys: table.schema.fields.map(field => field.name),
    bytes: bytes.length,
    async *chunks() {
      let start = 0
      for (const batch of table.batches) {
        // Batches are there already; between them others get their turn.
        await Promise.resolve()
        for (const chunk of chunksOf(batch, start)) yield chunk
        start += batch.numRows
      }
    },
  }
}

function* chunksOf(batch: RecordBatch, start: number): Iterable<Chunk> {
  for (const [i, field] of batch.schema.fields.entries()) {
    const vector = batch.getChildAt(i)
    if (vector) yield chunkOf(field.name, vector, start)
  }
}

function chunkOf(key: string, vector: Vector, start: number): Chunk {
  const type = vector.type as DataType
  const chunk = (kind: ChunkKind, at: (i: number) => unknown): Chunk => ({
    key,
    start,
    length: vector.length,
    kind,
    at,
  })
  const get = (i: number): unknown => vector.get(i)
  /** What the vector's type gives for a present value is what `map` takes. */
  const mapped =
    (map: (value: never) => unknown) =>
    (i: number): unknown => {
      const value = vector.get(i) as never
      return value === null ? null : map(value)
    }
  if (DataType.isUtf8(type)) return { ...chunk('value', get), utf8: utf8Of(vector) }
  if (DataType.isFloat(type)) return chunk(type.precision === Precision.DOUBLE ? 'value' : 'float32', get)
  if (DataType.isDate(type))
    return chunk(
      'date',
      mapped((ms: number | Date) => Math.floor(Number(ms) / 864e5)),
    )
  if (DataType.isTimestamp(type)) {
    const zoned = type.timezone
    return chunk(
      zoned ? 'instant' : 'wall',
      mapped((ms: number) => Math.floor(ms)),
    )
  }
  if (DataType.isTime(type)) {
    const perMs = [1e-3, 1, 1e3, 1e6][type.unit]
    return chunk(
      'time',
      mapped((value: number | bigint) => Math.floor(Number(value) / perMs)),
    )
  }
  if (DataType.isDecimal(type)) {
    const { scale } = type
    return chunk(
      'value',
      mapped((words: Uint32Array) => decimalOf(words, scale)),
    )
  }
  if (DataType.isBinary(type) || DataType.isFixedSizeBinary(type))
    return chunk(
      'value',
      mapped((bytes: Uint8Array) => hexOf(bytes)),
    )
  return chunk('value', mapped(plain))
}

function utf8Of(vector: Vector): Chunk['utf8'] {
  // A batch's column is one run of data.
  const [data] = vector.data
  const { values, valueOffsets, offset, nullBitmap, nullCount } = data as unknown as {
    values: Uint8Array
    valueOffsets: Int32Array
    offset: number
    nullBitmap: Uint8Array
    nullCount: number
  }
  const isNull = (i: number): boolean =>
    nullCount > 0 && ((nullBitmap[(offset + i) >> 3] >> ((offset + i) & 7)) & 1) === 0
  return { bytes: values, offsets: valueOffsets, isNull }
}

/** Lists and structures as plain lists and objects. */
function plain(value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value
  if ('toJSON' in value && typeof value.toJSON === 'function')
    return plainDeep((value as { toJSON(): unknown }).toJSON())
  return value
}

function plainDeep(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(plain)
  if (typeof value !== 'object' || value === null || value instanceof Date) return value
  if (Object.getPrototypeOf(value) !== Object.prototype && Object.getPrototypeOf(value) !== null)
    return plain(value)
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, plain(inner)]))
}

/** A decimal of little-endian 32-bit words, two's complement; as a number where that is exact, else its digits. */
function decimalOf(words: Uint32Array, scale: number): number | string {
  let value = 0n
  for (let i = words.length - 1; i >= 0; i--) value = (value << 32n) | BigInt(words[i])
  value = BigInt.asIntN(words.length * 32, value)
  const sign = value < 0n ? '-' : ''
  const digits = String(value < 0n ? -value : value).padStart(scale + 1, '0')
  const text = scale > 0 ? `${sign}${digits.slice(0, -scale)}.${digits.slice(-scale)}` : sign + digits
  return digits.replace(/^0+/, '').length <= 15 ? Number(text) : text
}

const hexOf = (bytes: Uint8Array): string =>
  Array.from(bytes, byte => byte.toString(16).padStart(2, '0')).join('')
