import { emptyBits, hasBit, setBit } from '../table/bits.ts'
import type { Column, Table } from '../table/column.ts'
import { textAt, textBlockOf, textCount, wholeBlock, type TextBlock } from '../table/text-block.ts'

/** A table of some rows of another, in the order given. Linear in those rows; dictionaries are shared. */
export function gatherRows(table: Table, rows: Uint32Array): Table {
  return {
    rows: rows.length,
    fields: table.fields,
    columns: table.columns.map(column => gatherColumn(column, rows)),
  }
}

/** The same for few rows of a large table: large dictionaries are left behind. */
export function pickRows(table: Table, rows: Uint32Array): Table {
  const columns = table.columns.map(column => {
    const picked = gatherColumn(column, rows)
    if (picked.kind !== 'coded' || picked.texts.offsets.length < rows.length * 4) return picked
    const { texts, codes, missing, digits } = picked
    return { kind: 'plain' as const, texts: gatherTexts(texts, codes), missing, ...(digits && { digits }) }
  })
  return { rows: rows.length, fields: table.fields, columns }
}

function gatherColumn(column: Column, rows: Uint32Array): Column {
  let missing: Uint32Array | null = null
  if (column.missing) {
    for (let i = 0; i < rows.length; i++) {
      if (hasBit(column.missing, rows[i])) setBit((missing ??= emptyBits(rows.length)), i)
    }
  }
  switch (column.kind) {
    case 'number': {
      const values =
        column.values instanceof Int32Array ? new Int32Array(rows.length) : new Float64Array(rows.length)
      for (let i = 0; i < rows.length; i++) values[i] = column.values[rows[i]]
      return { kind: 'number', values, missing }
    }
    case 'wide': {
      const values = new BigInt64Array(rows.length)
      for (let i = 0; i < rows.length; i++) values[i] = column.values[rows[i]]
      return { kind: 'wide', values, missing }
    }
    case 'boolean': {
      const values = emptyBits(rows.length)
      for (let i = 0; i < rows.length; i++) if (hasBit(column.values, rows[i])) setBit(values, i)
      return { kind: 'boolean', values, missing }
    }
    case 'coded': {
      const codes = new Uint32Array(rows.length)
      for (let i = 0; i < rows.length; i++) codes[i] = column.codes[rows[i]]
      return { ...column, codes, missing }
    }
    case 'plain':
      return { ...column, texts: gatherTexts(column.texts, rows), missing }
  }
}

function gatherTexts(block: TextBlock, rows: Uint32Array): TextBlock {
  // Few rows are read one by one, so that a changed text does not have all others laid out anew.
  if (block.changed && rows.length * 8 < textCount(block))
    return textBlockOf(Array.from(rows, row => textAt(block, row)))
  const { bytes, offsets } = wholeBlock(block)
  const ends = new Uint32Array(rows.length + 1)
  let size = 0
  for (let i = 0; i < rows.length; i++) {
    size += offsets[rows[i] + 1] - offsets[rows[i]]
    ends[i + 1] = size
  }
  const out = new Uint8Array(size)
  for (let i = 0; i < rows.length; i++) {
    let at = ends[i]
    for (let from = offsets[rows[i]], to = offsets[rows[i] + 1]; from < to; from++) out[at++] = bytes[from]
  }
  return { bytes: out, offsets: ends }
}
