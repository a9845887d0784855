import type { ColumnChunk, FileMetaData, RowGroup, SchemaElement, SchemaTree } from 'hyparquet'
import { ByteWriter } from 'hyparquet-writer/src/bytewriter.js'
import { writeColumn } from 'hyparquet-writer/src/column.js'
import { encodeNestedValues } from 'hyparquet-writer/src/dremel.js'
import { writeMetadata } from 'hyparquet-writer/src/metadata.js'
import { schemaPathResolver } from 'hyparquet-writer/src/schema.js'
import { snappyCompress } from 'hyparquet-writer/src/snappy.js'
import type { BatchColumn, BatchField, BatchType } from './batch-column.ts'
import type { BatchEncoder } from './batch-encoder.ts'

/** `PAR1`, at both ends of a file. */
const MAGIC = Uint8Array.of(0x50, 0x41, 0x52, 0x31)
const PAGE_BYTES = 1 << 20

/** Of a row group, with places counted from its own beginning. */
interface ToldGroup {
  readonly columns: readonly ColumnChunk[]
  readonly rows: number
  readonly bytes: number
}

/** Apache Parquet: a row group a batch, pages packed by Snappy, dictionaries where they are smaller. */
export const encoder: BatchEncoder = {
  begin: () => MAGIC.slice(),
  *encode(columns, rows) {
    const writer = new ByteWriter()
    const chunks: ColumnChunk[] = []
    for (const column of columns) {
      // Without a row there is no page, and no group.
      if (rows > 0) chunks.push(writeOne(writer, column))
      yield
    }
    const told: ToldGroup = { columns: chunks, rows, bytes: writer.offset }
    return { bytes: new Uint8Array(writer.getBuffer()), told }
  },
  end(fields, batches, rows) {
    const groups = batches
      .map(({ at, told }) => placed(told as ToldGroup, at))
      .filter(one => one.num_rows > 0n)
    const metadata = {
      version: 2,
      created_by: 'Vast Meadow',
      schema: schemaOf(fields),
      num_rows: BigInt(rows),
      row_groups: groups,
    }
    const writer = new ByteWriter()
    // The length of the whole is what is written, and no part of it.
    writeMetadata(writer, metadata as unknown as FileMetaData)
    writer.appendBytes(MAGIC)
    return new Uint8Array(writer.getBuffer())
  },
}

function writeOne(writer: ByteWriter, { values, ...field }: BatchColumn): ColumnChunk {
  const path = leafOf(schemaPathResolver(schemaOf([field]))([field.name]))
  const schemaPath = path.map(({ element }) => element)
  const { chunk } = writeColumn({
    writer,
    column: {
      columnName: schemaPath
        .slice(1)
        .map(element => element.name)
        .join('.'),
      element: schemaPath[schemaPath.length - 1],
      schemaPath,
      codec: 'SNAPPY',
      compressors: { SNAPPY: snappyCompress },
      stats: true,
      pageSize: PAGE_BYTES,
      columnIndex: false,
      offsetIndex: false,
    },
    pageData: encodeNestedValues(path, values as unknown[]),
  })
  return chunk
}

/** From the root to what holds the values. */
function leafOf(path: SchemaTree[]): SchemaTree[] {
  const child = path[path.length - 1].children.at(0)
  return child ? leafOf([...path, child]) : path
}

function placed({ columns, rows, bytes }: ToldGroup, at: number): RowGroup {
  const by = BigInt(at)
  const moved = columns.map(({ meta_data: meta, ...chunk }): ColumnChunk => {
    const dictionary = meta?.dictionary_page_offset
    return {
      ...chunk,
      file_offset: chunk.file_offset + by,
      meta_data: meta && {
        ...meta,
        data_page_offset: meta.data_page_offset + by,
        ...(dictionary !== undefined && { dictionary_page_offset: dictionary + by }),
      },
    }
  })
  const unpacked = columns.reduce(
    (sum, { meta_data: meta }) => sum + (meta?.total_uncompressed_size ?? 0n),
    0n,
  )
  return {
    columns: moved,
    total_byte_size: unpacked,
    num_rows: BigInt(rows),
    total_compressed_size: BigInt(bytes),
  }
}

const TEXT = { type: 'BYTE_ARRAY', converted_type: 'UTF8', logical_type: { type: 'STRING' } } as const
const moment = (isAdjustedToUTC: boolean): Partial<SchemaElement> => ({
  type: 'INT64',
  ...(isAdjustedToUTC && { converted_type: 'TIMESTAMP_MILLIS' }),
  logical_type: { type: 'TIMESTAMP', isAdjustedToUTC, unit: 'MILLIS' },
})

/** A number of 128 bits. */
const decimal = ({ precision = 1, scale = 0 }: BatchField): Partial<SchemaElement> => ({
  type: 'FIXED_LEN_BYTE_ARRAY',
  type_length: 16,
  converted_type: 'DECIMAL',
  precision,
  scale,
  logical_type: { type: 'DECIMAL', precision, scale },
})

const ELEMENTS: Readonly<Record<Exclude<BatchType, 'texts' | 'decimal'>, Partial<SchemaElement>>> = {
  text: TEXT,
  int32: { type: 'INT32' },
  int64: { type: 'INT64' },
  double: { type: 'DOUBLE' },
  boolean: { type: 'BOOLEAN' },
  day: { type: 'INT32', converted_type: 'DATE', logical_type: { type: 'DATE' } },
  clock: {
    type: 'INT32',
    converted_type: 'TIME_MILLIS',
    logical_type: { type: 'TIME', isAdjustedToUTC: false, unit: 'MILLIS' },
  },
  moment: moment(false),
  instant: moment(true),
}

function schemaOf(fields: readonly BatchField[]): SchemaElement[] {
  const elements = fields.flatMap((field): SchemaElement[] => {
    const { name, type } = field
    return type === 'texts'
      ? [
          {
            name,
            repetition_type: 'OPTIONAL',
            num_children: 1,
            converted_type: 'LIST',
            logical_type: { type: 'LIST' },
          },
          { name: 'list', repetition_type: 'REPEATED', num_children: 1 },
          { name: 'element', repetition_type: 'OPTIONAL', ...TEXT },
        ]
      : [{ name, repetition_type: 'OPTIONAL', ...(type === 'decimal' ? decimal(field) : ELEMENTS[type]) }]
  })
  return [{ name: 'rows', num_children: fields.length }, ...elements]
}
