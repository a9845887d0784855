import type { Column, Table } from './column.ts'
import type { ChangedTexts, TextBlock } from './text-block.ts'

/** Where columns and results lie: memory of one thread, or memory that page and worker both see. */
export type Allocate = (bytes: number) => ArrayBufferLike

export const privateMemory: Allocate = bytes => new ArrayBuffer(bytes)
export const sharedMemory: Allocate = bytes => new SharedArrayBuffer(bytes)

/** Whether shared memory can be made and posted here (a page must be cross-origin isolated for it). */
export function canShare(): boolean {
  if (typeof SharedArrayBuffer === 'undefined') return false
  const scope = globalThis as { crossOriginIsolated?: boolean }
  return scope.crossOriginIsolated !== false
}

/** A copy of `array` in the given memory, or the array itself where it lies there already. */
export function settle<T extends Uint8Array | Uint32Array | Int32Array | Float64Array | BigInt64Array>(
  array: T,
  allocate: Allocate,
): T {
  if (allocate === privateMemory && array.byteLength === array.buffer.byteLength) return array
  const make = array.constructor as new (buffer: ArrayBufferLike, offset: number, length: number) => T
  const copy = new make(allocate(array.byteLength), 0, array.length)
  // All kinds of array take their own kind; the checker cannot see that through the type parameter.
  ;(copy as Uint8Array).set(array as Uint8Array)
  return copy
}

/** A table whose arrays lie in the given memory. */
export function settleTable(table: Table, allocate: Allocate): Table {
  if (allocate === privateMemory) return table
  return { ...table, columns: table.columns.map(column => settleColumn(column, allocate)) }
}

/** A column whose arrays lie in the given memory. */
export function settleColumn(column: Column, allocate: Allocate): Column {
  const missing = column.missing && settle(column.missing, allocate)
  switch (column.kind) {
    case 'number':
      return { ...column, missing, values: settle(column.values, allocate) }
    case 'wide':
      return { ...column, missing, values: settle(column.values, allocate) }
    case 'boolean':
      return { ...column, missing, values: settle(column.values, allocate) }
    case 'coded':
    case 'plain': {
      const texts = settleTexts(column.texts, allocate)
      return column.kind === 'plain'
        ? { ...column, missing, texts }
        : { ...column, missing, texts, codes: settle(column.codes, allocate) }
    }
  }
}

function settleTexts({ bytes, offsets, changed }: TextBlock, allocate: Allocate): TextBlock {
  const texts = { bytes: settle(bytes, allocate), offsets: settle(offsets, allocate) }
  return changed ? { ...texts, changed: settleChanged(changed, allocate) } : texts
}

/** Changed texts whose arrays lie in the given memory. */
export function settleChanged({ rows, texts }: ChangedTexts, allocate: Allocate): ChangedTexts {
  return { rows: settle(rows, allocate), texts: settleTexts(texts, allocate) }
}
