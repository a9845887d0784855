import type { Table } from '../../table/column.ts'
import { breathe, CancelledError, runSliced } from '../../work/work.ts'
import { RowColumns, type KeyNode } from '../columns/row-columns.ts'
import type { ValueColumn } from '../columns/value-column.ts'
import { allocateOf, memoryLimit, ReadError, stopIfCancelled, type ReadCall } from '../read-call.ts'
import type { ReadOptions } from '../read-report.ts'
import { addValue, decimalsOf } from '../rows/read-rows.ts'
import type { ColumnReading } from '../types/column-reading.ts'
import type { Chunk, ColumnFile, Decoder } from './column-file.ts'
import { errorOf } from '../../work/checked.ts'

export interface ColumnFileTable {
  readonly table: Table
  readonly readings: readonly ColumnReading[]
}

const SLICE_ROWS = 8192
const SLICE_MS = 8

/** Reads a file of columns through its decoder. Rejects with `ReadError` and `CancelledError`. */
export async function readColumnFile(
  format: 'arrow' | 'parquet',
  blob: Blob,
  buffer: () => Promise<ArrayBuffer>,
  load: () => Promise<{ readonly decode: Decoder }>,
  options: ReadOptions,
  call: ReadCall,
): Promise<ColumnFileTable> {
  const { decode } = await load().catch((error: unknown) => {
    throw new ReadError({ code: 'no-decoder', format, reason: errorOf(error).message })
  })
  try {
    const file = await decode(blob, buffer)
    refuseBeyond(file.bytes, call)
    return await fillColumns(format, file, options, call)
  } catch (error) {
    if (error instanceof ReadError || error instanceof CancelledError) throw error
    const reason = error instanceof Error ? error.message : String(error)
    throw new ReadError({ code: 'damaged', format, reason })
  }
}

function refuseBeyond(needBytes: number, call: ReadCall): void {
  const allowedBytes = call.memoryBytes ?? memoryLimit()
  if (needBytes > allowedBytes) throw new ReadError({ code: 'too-large', needBytes, allowedBytes })
}

async function fillColumns(
  format: string,
  file: ColumnFile,
  options: ReadOptions,
  call: ReadCall,
): Promise<ColumnFileTable> {
  const columns = new RowColumns()
  const nodes = new Map(file.keys.map(key => [key, columns.root.child(key)]))
  const cells = file.rows * file.keys.length
  let done = 0
  let rows = 0
  let sliceStarted = performance.now()
  for await (const chunk of file.chunks()) {
    const node = nodes.get(chunk.key)
    if (!node) continue
    for (let from = 0; from < chunk.length; from += SLICE_ROWS) {
      fillSlice(columns, node, chunk, from, Math.min(chunk.length, from + SLICE_ROWS))
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
  if (rows !== file.rows && file.keys.length > 0)
    throw new ReadError({ code: 'damaged', format, reason: `it tells ${file.rows} rows and holds ${rows}` })
  columns.rows = rows
  const work = columns.finish(options.columns ?? {}, false, allocateOf(call), file.keys)
  return await runSliced(work, { cancelled: call.cancelled })
}

function fillSlice(columns: RowColumns, node: KeyNode, chunk: Chunk, from: number, to: number): void {
  const { at, kind, start, utf8 } = chunk
  for (let i = from; i < to; i++) {
    columns.rows = start + i
    if (utf8) {
      const column = columns.columnAt(node)
      const { offsets } = utf8
      if (utf8.isNull(i) || offsets[i] === offsets[i + 1]) column.addMissing()
      else column.addTextBytes(utf8.bytes, offsets[i], offsets[i + 1])
      continue
    }
    const value = at(i)
    if (value === null || value === undefined) columns.columnAt(node).addMissing()
    else if (kind === 'value') addValue(columns, node, value)
    else addNumeric(columns.columnAt(node), kind, Number(value))
  }
}

function addNumeric(column: ValueColumn, kind: Exclude<Chunk['kind'], 'value'>, value: number): void {
  switch (kind) {
    case 'date': {
      column.addDay(value)
      return
    }
    case 'time': {
      column.addClock(value)
      return
    }
    case 'wall':
    case 'instant': {
      column.addTime(value, kind)
      return
    }
    case 'float32': {
      // A 32-bit number is written with the digits that tell it from its neighbours, not with those of its double.
      column.addNumber(value, decimalsOf(Number(value.toPrecision(7))))
      return
    }
  }
}
