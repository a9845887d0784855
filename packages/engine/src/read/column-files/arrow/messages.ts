import { FlatTable } from './flat-buffer.ts'

/** Kinds of message, as the format numbers them. */
const [SCHEMA, DICTIONARY_BATCH, RECORD_BATCH] = [1, 2, 3]
const MAGIC = 'ARROW1'
/** Stands before the length of a message; writers before format version 5 leave it out. */
const CONTINUATION = 0xffffffff

/** Rows of all columns, or values of a dictionary: how many, and where their buffers lie in a body. */
export interface BatchMessage {
  readonly rows: number
  /** By vector, in the order of the schema's tree: values, and how many of them are null. */
  readonly nodes: readonly (readonly number[])[]
  /** Offset and length of each buffer. */
  readonly buffers: readonly (readonly number[])[]
  /** By vector of views: how many buffers of data it has. */
  readonly variadic: readonly number[]
  readonly compression: 'lz4' | 'zstd' | null
  readonly body: Uint8Array
}

interface DictionaryMessage {
  readonly id: number
  readonly isDelta: boolean
  readonly batch: BatchMessage
}

/** An Arrow file or stream taken apart: its messages in the order in which they count. */
export interface Messages {
  readonly schema: FlatTable
  readonly version: number
  readonly parts: readonly (
    | { readonly kind: 'dictionary'; readonly dictionary: DictionaryMessage }
    | { readonly kind: 'rows'; readonly batch: BatchMessage }
  )[]
}

/**
 * Takes an Arrow file or stream apart (Apache Arrow columnar format 1.4, "Serialization and Interprocess Communication").
 * Nothing of the bodies is read. Throws `RangeError` where the file says what cannot be.
 */
export function readMessages(bytes: Uint8Array): Messages {
  const isFile = String.fromCharCode(...bytes.subarray(0, 6)) === MAGIC
  return isFile ? readFooter(bytes) : readStream(bytes, 0)
}

function readFooter(bytes: Uint8Array): Messages {
  const end = String.fromCharCode(...bytes.subarray(-6))
  const view = viewOf(bytes)
  const length = bytes.length < 22 ? 0 : view.getInt32(bytes.length - 10, true)
  // Without its end the file is a stream behind its first eight bytes.
  if (end !== MAGIC || length <= 0 || length > bytes.length - 18) return readStream(bytes, 8)
  const footer = FlatTable.root(bytes.subarray(bytes.length - 10 - length, bytes.length - 10))
  const schema = footer.table(1)
  if (!schema) throw new RangeError('it has no schema')
  const blocks = (field: number): number[] => footer.structs(field, 3).map(([offset]) => offset)
  const parts = [...blocks(2), ...blocks(3)]
    .sort((a, b) => a - b)
    .map(at => messageAt(bytes, at))
    .filter(message => message !== null)
    .flatMap(({ part }) => (part ? [part] : []))
  return { schema, version: footer.int16(0, 0), parts }
}

function readStream(bytes: Uint8Array, from: number): Messages {
  let schema: FlatTable | null = null
  let version = 4
  const parts: Messages['parts'][number][] = []
  for (let at = from; ;) {
    const message = messageAt(bytes, at)
    if (!message) break
    at = message.end
    schema ??= message.schema
    version = message.version
    if (message.part) parts.push(message.part)
  }
  if (!schema) throw new RangeError('it has no schema')
  return { schema, version, parts }
}

interface Message {
  readonly version: number
  readonly schema: FlatTable | null
  readonly part: Messages['parts'][number] | null
  readonly end: number
}

/** The message at a place; null at the end. */
function messageAt(bytes: Uint8Array, at: number): Message | null {
  if (at + 4 > bytes.length) return null
  const view = viewOf(bytes)
  let start = at
  let length = view.getUint32(start, true)
  start += 4
  if (length === CONTINUATION) {
    if (start + 4 > bytes.length) return null
    length = view.getUint32(start, true)
    start += 4
  }
  if (length === 0) return null
  if (start + length > bytes.length) throw new RangeError('it ends within a message')
  const message = FlatTable.root(bytes.subarray(start, start + length))
  const bodyStart = start + length
  const bodyLength = message.int64(3, 0)
  if (bodyLength < 0 || bodyStart + bodyLength > bytes.length)
    throw new RangeError(`it ends within ${bodyLength} bytes of rows`)
  const body = bytes.subarray(bodyStart, bodyStart + bodyLength)
  const header = message.table(2)
  const kind = message.int8(1, 0)
  return {
    version: message.int16(0, 0),
    schema: kind === SCHEMA ? header : null,
    part: header && partOf(kind, header, body),
    end: bodyStart + bodyLength,
  }
}

function partOf(kind: number, header: FlatTable, body: Uint8Array): Messages['parts'][number] | null {
  if (kind === RECORD_BATCH) return { kind: 'rows', batch: batchOf(header, body) }
  const data = kind === DICTIONARY_BATCH ? header.table(1) : null
  if (!data) return null
  const dictionary = { id: header.int64(0, 0), isDelta: header.boolean(2), batch: batchOf(data, body) }
  return { kind: 'dictionary', dictionary }
}

function batchOf(table: FlatTable, body: Uint8Array): BatchMessage {
  const compression = table.table(3)
  return {
    rows: table.int64(0, 0),
    nodes: table.structs(1, 2),
    buffers: table.structs(2, 2),
    variadic: table.int64s(4),
    compression: compression ? (compression.int8(0, 0) === 1 ? 'zstd' : 'lz4') : null,
    body,
  }
}

const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
