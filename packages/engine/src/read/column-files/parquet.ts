import { parquetMetadataAsync, parquetRead, type FileMetaData, type SchemaElement } from 'hyparquet'
import { compressors } from 'hyparquet-compressors'
import type { Chunk, ChunkKind, ColumnFile, Decoder } from './column-file.ts'

const DAY_MS = 86_400_000

/** Apache Parquet: row group by row group, read from the file as they are needed. */
export const decode: Decoder = async (blob): Promise<ColumnFile> => {
  const file = {
    byteLength: blob.size,
    slice: (start: number, end = blob.size) => {
      if (!(start >= 0 && start <= end && end <= blob.size))
        throw new Error(`bytes ${start} to ${end} are asked of a file of ${blob.size}`)
      return blob.slice(start, end).arrayBuffer()
    },
  }
  const metadata = await parquetMetadataAsync(file)
  const top = topFields(metadata)
  const bytes = metadata.row_groups.reduce((sum, group) => sum + Number(group.total_byte_size), 0)
  return {
    rows: Number(metadata.num_rows),
    keys: top.map(({ name }) => name),
    bytes,
    chunks: async function* () {
      let start = 0
      for (const group of metadata.row_groups) {
        const end = start + Number(group.num_rows)
        for (const field of top) {
          for (const chunk of await readColumn(file, metadata, field, start, end)) yield chunk
        }
        start = end
      }
    },
  }
}

async function readColumn(
  file: Parameters<typeof parquetRead>[0]['file'],
  metadata: FileMetaData,
  field: SchemaElement,
  rowStart: number,
  rowEnd: number,
): Promise<Chunk[]> {
  const chunks: Chunk[] = []
  const kind = kindOf(field)
  await parquetRead({
    file,
    metadata,
    compressors,
    columns: [field.name],
    rowStart,
    rowEnd,
    onChunk: ({ columnData, rowStart: start }) => {
      const at = valuesOf(kind, columnData)
      chunks.push({ key: field.name, start, length: columnData.length, kind, at })
    },
  })
  return chunks
}

/** The fields of the first level; those inside them come with their values. */
function topFields({ schema }: FileMetaData): SchemaElement[] {
  const fields: SchemaElement[] = []
  const skip = (at: number): number => {
    let next = at + 1
    for (let i = 0; i < (schema[at].num_children ?? 0); i++) next = skip(next)
    return next
  }
  for (let at = 1; at < schema.length; at = skip(at)) fields.push(schema[at])
  return fields
}

function kindOf({ type, converted_type, logical_type }: SchemaElement): ChunkKind {
  if (logical_type?.type === 'DATE' || converted_type === 'DATE') return 'date'
  if (logical_type?.type === 'TIME' || converted_type?.startsWith('TIME_')) return 'time'
  if (logical_type?.type === 'TIMESTAMP') return logical_type.isAdjustedToUTC ? 'instant' : 'wall'
  if (converted_type?.startsWith('TIMESTAMP_')) return 'instant'
  return type === 'FLOAT' ? 'float32' : 'value'
}

function valuesOf(kind: ChunkKind, data: ArrayLike<unknown>): (i: number) => unknown {
  const mapped = (map: (value: unknown) => unknown) => (i: number) => {
    const value = data[i]
    return value === null || value === undefined ? null : map(value)
  }
  switch (kind) {
    case 'date':
      return mapped(day => (day instanceof Date ? Math.floor(day.getTime() / DAY_MS) : Number(day)))
    case 'instant':
    case 'wall':
      return mapped(time => (time instanceof Date ? time.getTime() : Number(time)))
    case 'time':
      return mapped(time => Math.floor(typeof time === 'bigint' ? Number(time) / 1000 : Number(time)))
    default:
      return mapped(plain)
  }
}

/** Bytes that are no text are told in hexadecimal. */
function plain(value: unknown): unknown {
  return value instanceof Uint8Array
    ? Array.from(value, byte => byte.toString(16).padStart(2, '0')).join('')
    : value
}
