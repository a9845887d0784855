import { isText, textOfBytes } from '../add-raw.ts'
import type { Chunk, ColumnFile, Decoder, UnreadColumn, Words } from '../column-file.ts'
import type { LogicalType } from '../logical-type.ts'
import { assemble, Entries } from './assemble.ts'
import { bytesOf, readMetadata, type ColumnChunk, type FileMetadata } from './metadata.ts'
import { readPages, UnreadableError, type Page } from './pages.ts'
import { rawReader } from './raw-values.ts'
import { readSchema, type Node } from './schema.ts'

/** Apache Parquet: row group by row group, read from the file as they are needed. */
export const decode: Decoder = async (file): Promise<ColumnFile | 'encrypted'> => {
  const found = await readMetadata(file)
  if (!found.ok) return 'encrypted'
  const { metadata } = found
  const { fields, columns } = readSchema(metadata)
  const unread: UnreadColumn[] = []
  return {
    rows: metadata.rows,
    fields: fields.map(({ name, type }) => ({ name, type })),
    unread,
    bytes: checkedBytes(metadata, columns),
    chunks: async function* () {
      let start = 0
      for (const group of metadata.groups) {
        for (const [field, node] of fields.entries()) {
          if (unread.some(one => one.field === field)) continue
          try {
            yield* await readField(file, node, field, group.columns, { start, rows: group.rows })
          } catch (error) {
            if (!(error instanceof UnreadableError)) throw named(error, node.name)
            unread.push({ field, name: node.name, reason: error.message })
          }
        }
        start += group.rows
      }
    },
  }
}

const named = (error: unknown, name: string): unknown =>
  error instanceof RangeError ? new RangeError(`column ${name}: ${error.message}`) : error

/** Bytes of all columns once unpacked. Throws where the parts do not fit together. */
function checkedBytes({ groups, rows }: FileMetadata, columns: number): number {
  let bytes = 0
  let sum = 0
  for (const group of groups) {
    sum += group.rows
    if (group.columns.length !== columns)
      throw new RangeError(`a row group has ${group.columns.length} of ${columns} columns`)
    for (const { unpackedBytes } of group.columns) bytes += unpackedBytes
  }
  if (sum !== rows) throw new RangeError(`it tells ${rows} rows and holds ${sum}`)
  return bytes
}

interface GroupRows {
  readonly start: number
  readonly rows: number
}

async function readField(
  file: Blob,
  node: Node,
  field: number,
  chunks: readonly ColumnChunk[],
  group: GroupRows,
): Promise<Iterable<Chunk>> {
  const leaves = leavesOf(node)
  const pages: Page[][] = []
  for (const leaf of leaves) pages.push([...(await pagesOf(file, leaf, chunks[leaf.column], group.rows))])
  return node.children.length === 0 && node.element.repetition !== 'repeated'
    ? flatChunks(node, field, pages[0], group)
    : nestedChunks(node, field, leaves, pages, group)
}

const leavesOf = (node: Node): Node[] =>
  node.children.length === 0 ? [node] : node.children.flatMap(leavesOf)

async function pagesOf(file: Blob, node: Node, chunk: ColumnChunk, rows: number): Promise<Iterable<Page>> {
  const { element, maxDefinition, maxRepetition } = node
  const { codec, values, start, bytes, encrypted } = chunk
  if (encrypted) throw new UnreadableError('it is encrypted')
  if (!codec) throw new UnreadableError('it is packed in a way that is not known')
  if (start + bytes > file.size) throw new RangeError(`it lies beyond the end of the file`)
  if (values > MOST_ENTRIES + rows + bytes * ENTRIES_A_BYTE)
    throw new RangeError(`it tells ${values} values in ${bytes} bytes`)
  if (values < rows || (maxRepetition === 0 && values !== rows))
    throw new RangeError(`it tells ${values} values for ${rows} rows`)
  return readPages(await bytesOf(file, start, start + bytes), {
    element,
    codec,
    maxDefinition,
    maxRepetition,
    entries: values,
  })
}

/** Entries of lists that a column may have, whatever its size, and for each of its bytes. */
const MOST_ENTRIES = 1 << 20
const ENTRIES_A_BYTE = 1024

/** A column of single values: each page is some rows. */
function* flatChunks(
  node: Node,
  field: number,
  pages: readonly Page[],
  { start }: GroupRows,
): Generator<Chunk> {
  const raw = rawOf(node, pages)
  let row = start
  const wordsOf = new Map<Page['dictionary'], Pick<Words, 'count' | 'at'>>()
  for (const { entries, definition, values, dictionary } of pages) {
    const place = definition ? placesOf(definition, node.maxDefinition) : null
    const words =
      dictionary &&
      (wordsOf.get(dictionary) ?? { count: dictionary.length, at: (word: number) => raw(dictionary[word]) })
    if (words) wordsOf.set(dictionary, words)
    const codes = values as ArrayLike<number>
    yield {
      field,
      start: row,
      length: entries,
      at: i => {
        const at = place ? place[i] : i
        if (at < 0) return null
        return raw(dictionary ? dictionary[codes[at]] : values[at])
      },
      ...(words && {
        words: { ...words, code: (i: number) => (place ? (place[i] < 0 ? -1 : codes[place[i]]) : codes[i]) },
      }),
    }
    row += entries
  }
}

/** By row, the place of its value among those that are there; −1: it has none. */
function placesOf(definition: Uint32Array, most: number): Int32Array {
  const places = new Int32Array(definition.length)
  let at = 0
  for (let i = 0; i < places.length; i++) places[i] = definition[i] === most ? at++ : -1
  return places
}

/** Bytes of which the file does not say what they are become texts where all of them are. */
function rawOf(node: Node, pages: readonly Page[]): (stored: unknown) => unknown {
  const leafType: LogicalType =
    node.type.kind === 'list' && node.children.length === 0 ? node.type.of : node.type
  const raw = rawReader(node.element, leafType)
  if (leafType.kind !== 'bytes' || node.element.physical !== 'bytes') return raw
  const isAllText = pages.every(({ values, dictionary }) =>
    Array.from((dictionary ?? values) as ArrayLike<Uint8Array>).every(isText),
  )
  return isAllText ? value => textOfBytes(value as Uint8Array) : raw
}

/** A field of several values, or of parts: put together row by row. */
function* nestedChunks(
  node: Node,
  field: number,
  leaves: readonly Node[],
  pages: readonly Page[][],
  { start, rows }: GroupRows,
): Generator<Chunk> {
  const columns: Entries[] = []
  leaves.forEach((leaf, i) => (columns[leaf.column] = new Entries(pages[i], rawOf(leaf, pages[i]), leaf)))
  for (let row = 0; row < rows; row += ROWS_A_CHUNK) {
    const length = Math.min(ROWS_A_CHUNK, rows - row)
    const values = Array.from({ length }, () => assemble(node, columns))
    yield { field, start: start + row, length, at: i => values[i] }
  }
}

const ROWS_A_CHUNK = 4096
