import { describe, expect, it } from 'vitest'
import { columnsAhead } from '../src/search/columns-ahead.ts'
import type { Column, Field, Table } from '../src/table/column.ts'
import { textBlockOf } from '../src/table/text-block.ts'

const number: Column = { kind: 'number', values: new Float64Array(0), missing: null }
const plain: Column = { kind: 'plain', texts: textBlockOf(['a']), missing: null }
const coded: Column = { kind: 'coded', codes: new Uint32Array(1), texts: textBlockOf(['a']), missing: null }

/** A table that says it has so many rows. */
function tableOf(rows: number, columns: readonly [string, Column][]): Table {
  const fields = columns.map(([key, { kind }]): Field => ({
    key,
    type: kind === 'number' ? 'number' : 'text',
  }))
  return { rows, fields, columns: columns.map(([, column]) => column) }
}

describe('columns made ready for searches', () => {
  it('are those that are searched, texts first', () => {
    const table = tableOf(1000, [
      ['n', number],
      ['note', plain],
      ['m', number],
      ['site', coded],
    ])
    expect(columnsAhead(table, ['n', 'site', 'note'])).toEqual(['note', 'site', 'n'])
    expect(columnsAhead(table, [])).toEqual([])
  })

  it('are as many as there is room for', () => {
    const table = tableOf(5_000_000, [
      ['a', number],
      ['b', number],
      ['c', number],
      ['site', coded],
    ])
    expect(columnsAhead(table, ['a', 'b', 'c', 'site'])).toEqual(['site', 'a', 'b'])
  })

  it('are none that serve the grid itself', () => {
    const table = tableOf(10, [
      ['a', plain],
      ['b', plain],
    ])
    const fields = table.fields.map(field => ({ ...field, internal: field.key === 'b' }))
    expect(columnsAhead({ ...table, fields }, ['a', 'b'])).toEqual(['a'])
  })
})
