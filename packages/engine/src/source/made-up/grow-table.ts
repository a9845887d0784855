import { type Allocate } from '../../table/allocate.ts'
import { settleTable } from '../../table/settle-table.ts'
import type { Column, Field, Table } from '../../table/column.ts'
import { textAt, textCount } from '../../table/text-block.ts'
import { TextBuilder } from '../../table/text-builder.ts'
import { gatherRows } from '../../edit/gather-rows.ts'
import { checkKey } from '../../key/propose-keys.ts'
import type { Work } from '../../work/work.ts'
import { chance } from './chance.ts'

const BATCH = 65_536

/**
 * A table `times` as long that follows the sample: its own rows first, then whole rows of it drawn at random, so that
 * each column keeps its distribution and columns keep what they have to do with each other. Columns in which no value
 * comes twice go on so: whole numbers count on, texts get a number.
 */
export function* growTable(sample: Table, times: number, seed: number, allocate: Allocate): Work<Table> {
  const { rows, fields } = sample
  const total = rows * times
  const picks = new Uint32Array(total)
  for (let row = 0; row < total; row++) {
    picks[row] = row < rows ? row : Math.floor(chance(seed, row, 0) * rows)
    if (row % BATCH === BATCH - 1) yield
  }
  const grown = gatherRows(sample, picks)
  const columns: Column[] = []
  for (const [place, field] of fields.entries()) {
    const unique = rows > 1 && (yield* isUnique(sample, field))
    columns.push(unique ? yield* goneOn(grown.columns[place], rows, total) : grown.columns[place])
    yield
  }
  return settleTable({ rows: total, fields, columns }, allocate)
}

function* isUnique(table: Table, field: Field): Work<boolean> {
  if (field.type !== 'integer' && field.type !== 'text') return false
  return (yield* checkKey(table, [field.key])).unique
}

/** The column with values of their own in the rows behind the sample's. */
function* goneOn(column: Column, from: number, to: number): Work<Column> {
  switch (column.kind) {
    case 'number': {
      const values = Float64Array.from(column.values)
      let highest = values.subarray(0, from).reduce((a, b) => Math.max(a, b), -Infinity)
      for (let row = from; row < to; row++) values[row] = ++highest
      const small = highest <= 0x7fffffff && column.values instanceof Int32Array
      return { ...column, values: small ? Int32Array.from(values) : values }
    }
    case 'wide': {
      const values = column.values.slice()
      let highest = values.subarray(0, from).reduce((a, b) => (a > b ? a : b))
      for (let row = from; row < to; row++) values[row] = ++highest
      return { ...column, values }
    }
    case 'coded':
    case 'plain': {
      const texts = new TextBuilder()
      const taken = new Set<string>()
      for (let i = 0; i < Math.min(from, textCount(column.texts)); i++) taken.add(textAt(column.texts, i))
      for (let row = 0; row < to; row++) {
        const text = textAt(column.texts, column.kind === 'coded' ? column.codes[row] : row)
        texts.addText(row < from ? text : fresh(`${text} ${row + 1}`, taken))
        if (row % BATCH === BATCH - 1) yield
      }
      return texts.finish()
    }
    case 'boolean':
      return column
  }
}

/** A row's number makes its text another than all others, unless the sample has just that one. */
const fresh = (text: string, taken: ReadonlySet<string>): string =>
  taken.has(text) ? fresh(`${text}′`, taken) : text
