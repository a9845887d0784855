import { privateMemory, settle, type Allocate } from '../../table/allocate.ts'
import { emptyBits, setBit } from '../../table/bits.ts'
import type { Column, Table } from '../../table/column.ts'
import { TextBuilder } from '../../table/text-builder.ts'
import { textBlockOf } from '../../table/text-block.ts'
import type { Work } from '../../work/work.ts'
import { cellMakers, type CellMaker } from './make-cells.ts'
import type { Recipe } from './recipe.ts'

/** Rows made between two looks at whether the work still goes on. */
const BATCH = 1 << 14

/** Makes the whole table of a recipe, column by column. `onCells` hears how many cells are made. */
export function* makeTable(
  recipe: Recipe,
  allocate: Allocate = privateMemory,
  onCells: (cells: number) => void = () => {},
): Work<Table> {
  const makers = cellMakers(recipe)
  const columns: Column[] = []
  for (const [i, maker] of makers.entries()) {
    columns.push(yield* makeColumn(maker, recipe.rows, allocate, row => onCells(i * recipe.rows + row)))
  }
  return { rows: recipe.rows, fields: makers.map(maker => maker.field), columns }
}

function* makeColumn(
  maker: CellMaker,
  rows: number,
  allocate: Allocate,
  onRow: (row: number) => void,
): Work<Column> {
  if (maker.list) return yield* makeListed(maker.list, rows, allocate, onRow)
  if (maker.field.type === 'text') return yield* makeTexts(maker, rows, allocate, onRow)
  const missing = emptyBits(rows)
  let anyMissing = false
  const note = (row: number): 0 => {
    setBit(missing, row)
    anyMissing = true
    return 0
  }
  const settled = (): Column['missing'] => (anyMissing ? settle(missing, allocate) : null)
  if (maker.field.type === 'boolean') {
    const values = emptyBits(rows)
    for (let row = 0; row < rows; row++) {
      const value = maker.value(row)
      if (value === null) note(row)
      else if (value) setBit(values, row)
      if (row % BATCH === BATCH - 1) {
        onRow(row)
        yield
      }
    }
    return { kind: 'boolean', values: settle(values, allocate), missing: settled() }
  }
  const whole = maker.field.type === 'date' || maker.field.type === 'integer'
  const bytes = allocate(rows * (whole ? 4 : 8))
  const values = whole ? new Int32Array(bytes) : new Float64Array(bytes)
  for (let row = 0; row < rows; row++) {
    values[row] = (maker.value(row) as number | null) ?? note(row)
    if (row % BATCH === BATCH - 1) {
      onRow(row)
      yield
    }
  }
  return { kind: 'number', values, missing: settled() }
}

function* makeListed(
  list: NonNullable<CellMaker['list']>,
  rows: number,
  allocate: Allocate,
  onRow: (row: number) => void,
): Work<Column> {
  const codes = new Uint32Array(allocate(rows * 4))
  const missing = emptyBits(rows)
  let anyMissing = false
  for (let row = 0; row < rows; row++) {
    const place = list.place(row)
    if (place < 0) {
      setBit(missing, row)
      anyMissing = true
    } else codes[row] = place
    if (row % BATCH === BATCH - 1) {
      onRow(row)
      yield
    }
  }
  const block = textBlockOf(list.texts)
  const texts = { bytes: settle(block.bytes, allocate), offsets: settle(block.offsets, allocate) }
  return { kind: 'coded', codes, texts, missing: anyMissing ? settle(missing, allocate) : null }
}

function* makeTexts(
  maker: CellMaker,
  rows: number,
  allocate: Allocate,
  onRow: (row: number) => void,
): Work<Column> {
  const builder = new TextBuilder()
  for (let row = 0; row < rows; row++) {
    const value = maker.value(row) as string | null
    if (value === null) builder.addMissing()
    else builder.addText(value)
    if (row % BATCH === BATCH - 1) {
      onRow(row)
      yield
    }
  }
  return builder.finish(allocate)
}
