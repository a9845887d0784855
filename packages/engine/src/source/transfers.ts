import { arraysOf } from '../table/column.ts'
import type { RowsInput } from './rows-input.ts'

/** The buffers of a table that a message can hand over instead of copying. */
export function transfersOf(input: RowsInput): ArrayBuffer[] {
  if (input.kind !== 'table') return []
  const buffers = new Set<ArrayBuffer>()
  for (const column of input.table.columns) {
    for (const array of arraysOf(column)) if (array.buffer instanceof ArrayBuffer) buffers.add(array.buffer)
  }
  return [...buffers]
}
