import type { Table } from '../../table/column.ts'
import { errorOf } from '../../work/checked.ts'
import { breathe, CancelledError, runSliced } from '../../work/work.ts'
import { settleValues, type SettledValues } from '../columns/settle-values.ts'
import { allocateOf, memoryLimit, ReadError, stopIfCancelled, type ReadCall } from '../read-call.ts'
import { FaultList, type Fault, type ReadOptions } from '../read-report.ts'
import { askedOf, type ColumnReading } from '../types/column-reading.ts'
import type { Chunk, ColumnFile, Decoder, Words } from './column-file.ts'
import { leavesOf, memberOf, type Leaf } from './leaves.ts'

export interface ColumnFileTable {
  readonly table: Table
  readonly readings: readonly ColumnReading[]
  readonly faults: readonly Fault[]
}

const SLICE_ROWS = 8192
const SLICE_MS = 8
/**
 * A table may take so many times the bytes of its file, and so much besides: columns of equal values are packed to nearly
 * nothing, but a damaged header may promise anything.
 */
const MOST_TIMES = 64
const FREE_BYTES = 512 << 20
/** What a value takes at least while it is read. */
const BYTES_A_VALUE = 8

/** Reads a file of columns through its decoder. Rejects with `ReadError` and `CancelledError`. */
export async function readColumnFile(
  format: 'arrow' | 'parquet',
  blob: Blob,
  load: () => Promise<{ readonly decode: Decoder }>,
  options: ReadOptions,
  call: ReadCall,
): Promise<ColumnFileTable> {
  const { decode } = await load().catch((error: unknown) => {
    throw new ReadError({ code: 'no-decoder', format, reason: errorOf(error).message })
  })
  try {
    const file = await decode(blob)
    if (file === 'encrypted') throw new ReadError({ code: 'encrypted', format })
    return await fillColumns(format, blob, file, options, call)
  } catch (error) {
    if (error instanceof ReadError || error instanceof CancelledError) throw error
    throw new ReadError({ code: 'damaged', format, reason: errorOf(error).message })
  }
}

function refuseBeyond(needBytes: number, fileBytes: number, call: ReadCall): void {
  const allowedBytes = Math.min(call.memoryBytes ?? memoryLimit(), FREE_BYTES + MOST_TIMES * fileBytes)
  if (needBytes > allowedBytes) throw new ReadError({ code: 'too-large', needBytes, allowedBytes })
}

async function fillColumns(
  format: string,
  blob: Blob,
  file: ColumnFile,
  options: ReadOptions,
  call: ReadCall,
): Promise<ColumnFileTable> {
  const fields = leavesOf(file.fields)
  const leafCount = fields.reduce((sum, leaves) => sum + leaves.length, 0)
  refuseBeyond(Math.max(file.bytes, file.rows * leafCount * BYTES_A_VALUE), blob.size, call)
  const cells = file.rows * fields.length
  let done = 0
  let rows = 0
  let heldBytes = 0
  let sliceStarted = performance.now()
  for await (const chunk of file.chunks()) {
    for (let from = 0; from < chunk.length; from += SLICE_ROWS) {
      const to = Math.min(chunk.length, from + SLICE_ROWS)
      const leaves = fields[chunk.field]
      const before = bytesOf(leaves)
      for (const leaf of leaves) fillSlice(leaf, chunk, from, to)
      // Texts may be far longer than what says them: a dictionary has each once.
      heldBytes += bytesOf(leaves) - before
      refuseBeyond(heldBytes, blob.size, call)
      if (performance.now() - sliceStarted < SLICE_MS) continue
      stopIfCancelled(call)
      await breathe()
      sliceStarted = performance.now()
    }
    done += chunk.length
    rows = Math.max(rows, chunk.start + chunk.length)
    call.onBytes?.(Math.round((file.bytes * done) / Math.max(1, cells)), file.bytes)
  }
  // A damaged file may promise any number of rows.
  if (rows !== file.rows && fields.some((_, place) => !isUnread(file, place)))
    throw new ReadError({ code: 'damaged', format, reason: `it tells ${file.rows} rows and holds ${rows}` })
  const settled: SettledValues[] = []
  for (const [place, leaves] of fields.entries()) {
    if (isUnread(file, place)) continue
    for (const { key, values } of leaves) {
      values.fillTo(file.rows)
      const work = settleValues(values, key, askedOf(options.columns, key), false, allocateOf(call))
      settled.push(await runSliced(work, { cancelled: call.cancelled }))
    }
  }
  if (settled.length === 0) {
    const [first] = file.unread
    if (!first) throw new ReadError({ code: 'empty' })
    throw new ReadError({ code: 'damaged', format, reason: `column ${first.name}: ${first.reason}` })
  }
  const unread = new FaultList('unread-column')
  for (const { name, reason } of file.unread) unread.add(0, `${name}: ${reason}`)
  return {
    table: {
      rows: file.rows,
      fields: settled.map(({ field }) => field),
      columns: settled.map(({ column }) => column),
    },
    readings: settled.map(({ reading }) => reading),
    faults: FaultList.found(unread),
  }
}

const bytesOf = (leaves: readonly Leaf[]): number => leaves.reduce((sum, { values }) => sum + values.bytes, 0)

const isUnread = ({ unread }: ColumnFile, place: number): boolean =>
  unread.some(({ field }) => field === place)

function fillSlice(leaf: Leaf, chunk: Chunk, from: number, to: number): void {
  const { values, add, path } = leaf
  const { at, start, utf8, words } = chunk
  values.fillTo(start + from)
  if (words && path.length === 0) fillWords(leaf, words, from, to)
  else if (utf8) {
    const { bytes, offsets, isNull } = utf8
    for (let i = from; i < to; i++) {
      if (isNull(i) || offsets[i] === offsets[i + 1]) values.addMissing()
      else values.addTextBytes(bytes, offsets[i], offsets[i + 1])
    }
  } else if (path.length === 0) for (let i = from; i < to; i++) add(values, at(i))
  else for (let i = from; i < to; i++) add(values, memberOf(at(i), path))
}

/** Each word is read once; rows that have it again take it from the first one. */
function fillWords({ values, add, firsts: known }: Leaf, words: Words, from: number, to: number): void {
  let firsts = known.get(words.at)
  if (!firsts) known.set(words.at, (firsts = new Int32Array(words.count).fill(-1)))
  for (let i = from; i < to; i++) {
    const word = words.code(i)
    if (word < 0) values.addMissing()
    else if (firsts[word] >= 0) values.addSame(firsts[word])
    else {
      const { rows, told } = values
      add(values, words.at(word))
      // What is missing, or cut, is counted every time.
      if (values.told === told + 1) firsts[word] = rows
    }
  }
}
