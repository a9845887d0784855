import type { Chunk, ColumnFile, Decoder } from '../column-file.ts'
import type { Member } from '../logical-type.ts'
import { readMessages, type BatchMessage } from './messages.ts'
import { vectorTypes, type VectorType } from './schema.ts'
import { BatchReader, type Vector } from './vectors.ts'

/** Apache Arrow, file and stream: record batch by record batch. */
export const decode: Decoder = async (blob): Promise<ColumnFile> => {
  const bytes = new Uint8Array(await blob.arrayBuffer())
  const { schema, version, parts } = readMessages(bytes)
  const { types, unread } = vectorTypes(schema)
  const batches = parts.flatMap(part => (part.kind === 'rows' ? [part.batch] : []))
  const rows = batches.reduce((sum, batch) => sum + batch.rows, 0)
  // Only columns of nothing take less than a bit a row; a damaged length would have all of its rows looked at.
  if (rows > MOST_ROWS_A_BYTE * bytes.length)
    throw new RangeError(`it tells ${rows} rows in ${bytes.length} bytes`)
  return {
    rows,
    fields: types.map(({ name, type }): Member => ({ name, type })),
    unread,
    bytes: bytes.length,
    async *chunks() {
      const dictionaries = new Map<number, Vector>()
      const wanted = dictionaryTypes(types)
      let start = 0
      for (const part of parts) {
        // All is there already; between batches others get their turn.
        await Promise.resolve()
        if (part.kind === 'dictionary') {
          const { id, isDelta, batch } = part.dictionary
          const type = wanted.get(id)
          if (!type) continue
          const words = new BatchReader(batch, dictionaries, version).vector(type)
          const before = dictionaries.get(id)
          dictionaries.set(id, isDelta && before ? appended(before, words) : words)
          continue
        }
        yield* chunksOf(part.batch, types, new BatchReader(part.batch, dictionaries, version), start)
        start += part.batch.rows
      }
    },
  }
}

/** Packed with lists of equal runs or nothings, so many rows may lie in a byte. */
const MOST_ROWS_A_BYTE = 1024

function* chunksOf(
  { rows }: BatchMessage,
  types: readonly VectorType[],
  reader: BatchReader,
  start: number,
): Generator<Chunk> {
  for (const [field, type] of types.entries()) {
    const { length, at, utf8, words, isNull } = reader.vector(type)
    if (length !== rows) throw new RangeError(`a column has ${length} of ${rows} rows`)
    yield { field, start, length, at, ...(words && { words }), ...(utf8 && { utf8: { ...utf8, isNull } }) }
  }
}

/** What the values of each dictionary are; those of dictionaries within dictionaries come with them. */
function dictionaryTypes(types: readonly VectorType[]): Map<number, VectorType> {
  const found = new Map<number, VectorType>()
  const visit = ({ dictionary, children }: VectorType): void => {
    if (dictionary) {
      found.set(dictionary.id, dictionary.values)
      visit(dictionary.values)
    }
    children.forEach(visit)
  }
  types.forEach(visit)
  return found
}

const appended = (before: Vector, more: Vector): Vector => ({
  length: before.length + more.length,
  at: i => (i < before.length ? before.at(i) : more.at(i - before.length)),
  isNull: i => (i < before.length ? before.isNull(i) : more.isNull(i - before.length)),
})
