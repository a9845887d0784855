import { privateMemory, settle, type Allocate } from './allocate.ts'
import type { Column, Table } from './column.ts'
import type { ChangedTexts, TextBlock } from './text-block.ts'

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
