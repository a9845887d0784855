import { Type, tableFromIPC, type Batch, type DataType } from '@uwdata/flechette'
import type { Chunk, ChunkKind, ColumnFile, Decoder } from './column-file.ts'
import { takeCompression } from './arrow-compression.ts'

const DAY_MS = 864e5

/** Apache Arrow, file and stream: record batch by record batch. Numbers of 64 bits and decimals come exactly. */
export const decode: Decoder = async (_file, buffer): Promise<ColumnFile> => {
  const bytes = new Uint8Array(await buffer())
  takeCompression()
  const table = tableFromIPC(bytes, { useBigInt: true, useDecimalInt: true })
  // No column takes less than a bit a row; a damaged length would have all of its rows looked at.
  if (table.numRows > bytes.length * 8)
    throw new Error(`it tells ${table.numRows} rows in ${bytes.length} bytes`)
  return {
    rows: table.numRows,
    keys: table.names,
    bytes: bytes.length,
    async *chunks() {
      let start = 0
      for (const [nth, { length }] of (table.children[0]?.data ?? []).entries()) {
        // Batches are there already; between them others get their turn.
        await Promise.resolve()
        for (const [i, name] of table.names.entries()) yield chunkOf(name, table.children[i].data[nth], start)
        start += length
      }
    },
  }
}

function chunkOf(key: string, batch: Batch<unknown>, start: number): Chunk {
  const { type, length } = batch
  const chunk = (kind: ChunkKind, at: (i: number) => unknown): Chunk => ({ key, start, length, kind, at })
  const get = (i: number): unknown => batch.at(i)
  /** What the type gives for a present value is what `map` takes. */
  const mapped =
    (map: (value: never) => unknown) =>
    (i: number): unknown => {
      const value = batch.at(i) as never
      return value === null ? null : map(value)
    }
  switch (type.typeId) {
    case Type.Utf8:
      return { ...chunk('value', get), utf8: utf8Of(batch) }
    case Type.Float:
      return chunk(type.precision === 2 ? 'value' : 'float32', get)
    case Type.Date:
      return chunk(
        'date',
        mapped((ms: number) => Math.floor(ms / DAY_MS)),
      )
    case Type.Timestamp:
      return chunk(
        type.timezone ? 'instant' : 'wall',
        mapped((ms: number) => Math.floor(ms)),
      )
    case Type.Time: {
      const perMs = [1e-3, 1, 1e3, 1e6][type.unit]
      return chunk(
        'time',
        mapped((value: number | bigint) => Math.floor(Number(value) / perMs)),
      )
    }
    case Type.Decimal: {
      const { scale } = type
      return chunk(
        'value',
        mapped((value: number | bigint) => decimalOf(BigInt(value), scale)),
      )
    }
    default:
      return chunk(
        'value',
        mapped((value: unknown) => plain(value, type)),
      )
  }
}

function utf8Of({ values, offsets, validity, nullCount }: Batch<unknown>): Chunk['utf8'] {
  const isNull = (i: number): boolean => nullCount > 0 && ((validity[i >> 3] >> (i & 7)) & 1) === 0
  return { bytes: values as Uint8Array, offsets: offsets as Int32Array, isNull }
}

/** Lists, maps and structures as plain lists and objects; bytes as their hexadecimal digits. */
function plain(value: unknown, type?: DataType): unknown {
  if (value instanceof Uint8Array && (type?.typeId === Type.Binary || type?.typeId === Type.FixedSizeBinary))
    return hexOf(value)
  if (ArrayBuffer.isView(value)) return Array.from(value as unknown as ArrayLike<unknown>)
  if (type?.typeId === Type.Map) return Object.fromEntries(value as [string, unknown][])
  if (Array.isArray(value)) return value.map(one => plain(one))
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, plain(inner)]))
}

/** A decimal of whole units of its last place; as a number where that is exact, else its digits. */
function decimalOf(value: bigint, scale: number): number | string {
  const sign = value < 0n ? '-' : ''
  const digits = String(value < 0n ? -value : value).padStart(scale + 1, '0')
  const text = scale > 0 ? `${sign}${digits.slice(0, -scale)}.${digits.slice(-scale)}` : sign + digits
  return digits.replace(/^0+/, '').length <= 15 ? Number(text) : text
}

const hexOf = (bytes: Uint8Array): string =>
  Array.from(bytes, byte => byte.toString(16).padStart(2, '0')).join('')
