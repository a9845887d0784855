import { tableFromColumns, tableToIPC, type Column, type Table } from '@uwdata/flechette'
import { Builder } from '@uwdata/flechette/src/encode/builder.js'
import { writeFooter } from '@uwdata/flechette/src/encode/footer.js'
import { MemorySink } from '@uwdata/flechette/src/encode/sink.js'
import { arrowColumn, emptyColumn } from './arrow-columns.ts'
import type { BatchField } from './batch-column.ts'
import type { BatchEncoder } from './batch-encoder.ts'
import { joinedBytes } from './joined-bytes.ts'

/** `ARROW1`, and as far as eight bytes go nothing. */
const MAGIC = Uint8Array.of(0x41, 0x52, 0x52, 0x4f, 0x57, 0x31, 0, 0)
/** The end of messages: a sign that one follows, and that it has no length. */
const END = Uint8Array.of(0xff, 0xff, 0xff, 0xff, 0, 0, 0, 0)

/** A record batch, with its place counted from its own beginning; null: there is none. */
type ToldBatch = { readonly metadataLength: number; readonly bodyLength: number } | null

/** Apache Arrow’s file format: a record batch a batch, texts as they are. */
export const encoder: BatchEncoder = {
  begin(fields) {
    const stream = streamOf(emptyTable(fields))
    return joinedBytes([MAGIC, stream.subarray(0, messageLength(stream))])
  },
  *encode(columns, rows) {
    // By pairs: names that are numbers would come first among an object's keys.
    const made: [string, Column<unknown>][] = []
    for (const column of columns) {
      made.push([column.name, arrowColumn(column)])
      yield
    }
    const stream = streamOf(tableFromColumns(made))
    yield
    const bytes = stream.slice(messageLength(stream), stream.length - END.length)
    const metadataLength = rows > 0 ? messageLength(bytes) : 0
    const told: ToldBatch = rows > 0 ? { metadataLength, bodyLength: bytes.length - metadataLength } : null
    return { bytes: rows > 0 ? bytes : new Uint8Array(0), told }
  },
  end(fields, batches) {
    const sink = new MemorySink()
    const builder = new Builder(sink)
    builder.addBuffer(END)
    const blocks = batches.flatMap(({ at, told }) => (told ? [{ offset: at, ...told }] : []))
    writeFooter(builder, emptyTable(fields).schema, [], blocks, null)
    return sink.finish().slice()
  },
}

const streamOf = (table: Table): Uint8Array<ArrayBuffer> => {
  const bytes = tableToIPC(table, { format: 'stream' })
  if (!bytes) throw new Error('Arrow wrote nothing.')
  return bytes as Uint8Array<ArrayBuffer>
}

/** Bytes of a message up to its body. */
const messageLength = (bytes: Uint8Array): number =>
  8 + new DataView(bytes.buffer, bytes.byteOffset).getInt32(4, true)

const emptyTable = (fields: readonly BatchField[]): Table =>
  tableFromColumns(fields.map((field): [string, Column<unknown>] => [field.name, emptyColumn(field)]))
