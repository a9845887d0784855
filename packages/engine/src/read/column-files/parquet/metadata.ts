import { deserializeTCompactProtocol } from 'hyparquet/src/thrift.js'

/** Physical types, as the format numbers them. */
const PHYSICAL = ['boolean', 'int32', 'int64', 'int96', 'float', 'double', 'bytes', 'fixed'] as const
export type Physical = (typeof PHYSICAL)[number]
const CODECS = ['UNCOMPRESSED', 'SNAPPY', 'GZIP', 'LZO', 'BROTLI', 'LZ4', 'ZSTD', 'LZ4_RAW'] as const
export type Codec = (typeof CODECS)[number]
const REPETITIONS = ['required', 'optional', 'repeated'] as const

/** An element of the schema, in the order of its tree. */
export interface Element {
  readonly name: string
  readonly repetition: (typeof REPETITIONS)[number]
  /** null: it has elements within. */
  readonly physical: Physical | null
  readonly typeLength: number
  readonly children: number
  /** The older way of saying what values mean, by its number. */
  readonly converted: number | null
  readonly scale: number
  /** The newer way: the number of the annotation, and what it says besides. */
  readonly logical: { readonly id: number; readonly facts: Thrift } | null
}

/** One column of one row group. */
export interface ColumnChunk {
  readonly encrypted: boolean
  readonly codec: Codec | null
  readonly values: number
  /** Where its pages lie. */
  readonly start: number
  readonly bytes: number
  readonly unpackedBytes: number
}

export interface FileMetadata {
  readonly rows: number
  readonly elements: readonly Element[]
  readonly groups: readonly { readonly rows: number; readonly columns: readonly ColumnChunk[] }[]
}

/** A structure as it is stored: by number of field. */
export type Thrift = Readonly<Record<string, unknown>>

const FOOTER_BYTES = 8
const FIRST_FETCH = 1 << 16

/** What became of the search for metadata. */
export type Found =
  { readonly ok: true; readonly metadata: FileMetadata } | { readonly ok: false; readonly encrypted: true }

/** The metadata that stands at the end of a Parquet file (parquet-format 2.10). Throws where they cannot be. */
export async function readMetadata(file: Blob): Promise<Found> {
  const tail = await bytesOf(file, Math.max(0, file.size - FIRST_FETCH), file.size)
  const end = tail.length - FOOTER_BYTES
  if (end < 0) throw new RangeError('it is too short')
  const magic = String.fromCharCode(...tail.subarray(end + 4))
  if (magic === 'PARE') return { ok: false, encrypted: true }
  if (magic !== 'PAR1') throw new RangeError('it does not end as such a file does')
  const length = new DataView(tail.buffer, tail.byteOffset + end).getUint32(0, true)
  const start = file.size - FOOTER_BYTES - length
  if (start < 0) throw new RangeError(`metadata of ${length} bytes do not fit into it`)
  const bytes = await bytesOf(file, start, file.size - FOOTER_BYTES)
  const told = deserializeTCompactProtocol({ view: viewOf(bytes), offset: 0 }) as Thrift
  return {
    ok: true,
    metadata: {
      rows: count(told.field_3),
      elements: list(told.field_2).map(elementOf),
      groups: list(told.field_4).map(group => ({
        rows: count(group.field_3),
        columns: list(group.field_1).map(columnOf),
      })),
    },
  }
}

export const bytesOf = async (file: Blob, from: number, to: number): Promise<Uint8Array<ArrayBuffer>> =>
  new Uint8Array(await file.slice(from, to).arrayBuffer())

export const viewOf = (bytes: Uint8Array): DataView =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)

function elementOf(told: Thrift): Element {
  const logical = record(told.field_10)
  const id = logical ? Object.keys(logical)[0] : undefined
  return {
    name: text(told.field_4),
    repetition: REPETITIONS[small(told.field_3)] ?? 'required',
    physical: typeof told.field_1 === 'number' ? (PHYSICAL[told.field_1] ?? null) : null,
    typeLength: small(told.field_2),
    children: small(told.field_5),
    converted: typeof told.field_6 === 'number' ? told.field_6 : null,
    scale: small(told.field_7),
    logical:
      logical && id ? { id: Number(id.replace('field_', '')), facts: record(logical[id]) ?? {} } : null,
  }
}

function columnOf(told: Thrift): ColumnChunk {
  const of = record(told.field_3)
  const encrypted = told.field_8 !== undefined
  if (!of) return { encrypted, codec: null, values: 0, start: 0, bytes: 0, unpackedBytes: 0 }
  const pages = count(of.field_9)
  const dictionary = of.field_11 === undefined ? 0 : count(of.field_11)
  return {
    encrypted,
    codec: CODECS[small(of.field_4)] ?? null,
    values: count(of.field_5),
    start: dictionary > 0 && dictionary < pages ? dictionary : pages,
    bytes: count(of.field_7),
    unpackedBytes: count(of.field_6),
  }
}

function record(value: unknown): Thrift | null {
  return typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Thrift) : null
}

function list(value: unknown): Thrift[] {
  if (!Array.isArray(value)) throw new RangeError('a list of its metadata is not there')
  return value.map(one => {
    const entry = record(one)
    if (!entry) throw new RangeError('a list of its metadata holds something else')
    return entry
  })
}

/** A whole number that is not negative. */
function count(value: unknown): number {
  const number = Number(value)
  if (!Number.isSafeInteger(number) || number < 0)
    throw new RangeError(Number.isNaN(number) ? 'a count is not there' : `a count of ${number} cannot be`)
  return number
}

const small = (value: unknown): number => (typeof value === 'number' ? value : 0)
const text = (value: unknown): string => (value instanceof Uint8Array ? new TextDecoder().decode(value) : '')
