import type { Allocate } from '../../table/allocate.ts'
import { valueAt, type Column, type Field } from '../../table/column.ts'
import { settleColumn } from '../../table/settle-table.ts'
import { shower } from '../../table/shown-text.ts'
import { TextBuilder } from '../../table/text-builder.ts'
import type { Work } from '../../work/work.ts'
import type { ColumnReading, ColumnReadOptions } from '../types/column-reading.ts'
import { plainReading, settleText } from '../types/settle-text.ts'
import type { TextColumn } from '../types/survey-texts.ts'
import type { ValueColumn } from './value-column.ts'

export interface SettledValues {
  readonly field: Field
  readonly column: Column
  readonly reading: ColumnReading
}

/** A column of values with types of their own, as it is to stay: as asked for, or by its own type. */
export function* settleValues(
  values: ValueColumn,
  key: string,
  asked: ColumnReadOptions | undefined,
  textNumbers: boolean,
  allocate: Allocate,
): Work<SettledValues> {
  const { notNumbers, finer } = values
  const settled = yield* settle(values.finish(key), values.rows, asked, textNumbers, allocate)
  if (notNumbers === 0 && finer === 0) return settled
  const reading = { ...settled.reading, ...(notNumbers > 0 && { notNumbers }), ...(finer > 0 && { finer }) }
  return { ...settled, reading }
}

function* settle(
  { field, column }: { field: Field; column: Column },
  rows: number,
  asked: ColumnReadOptions | undefined,
  textNumbers: boolean,
  allocate: Allocate,
): Work<SettledValues> {
  if (field.type === 'text')
    return yield* settleText(field.key, column as TextColumn, rows, asked, textNumbers, allocate)
  const whole = asked?.type === 'number' && field.type === 'integer' && !field.wide
  if (asked?.type && asked.type !== field.type && !whole) {
    const text = yield* writtenOut(field, column, rows)
    return yield* settleText(field.key, text, rows, asked, textNumbers, allocate)
  }
  return { field, column: settleColumn(column, allocate), reading: plainReading(field) }
}

/** A column written out as text, exactly as its values are shown. */
export function* writtenOut(field: Field, column: Column, rows: number): Work<TextColumn> {
  const show = shower(field)
  const texts = new TextBuilder()
  for (let row = 0; row < rows; row++) {
    const value = valueAt(column, row)
    if (value === null) texts.addMissing()
    else texts.addText(field.type === 'number' ? String(value) : show(value))
    if ((row & 8191) === 8191) yield
  }
  return texts.finish()
}
