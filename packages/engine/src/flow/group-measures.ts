import type { GroupMeasure } from '../group/level.ts'
import type { GroupSummaries, Summarised } from '../group/group-summaries.ts'
import type { Runs } from '../summary/runs.ts'
import { kindOf, summaryField } from '../summary/summary.ts'
import { emptyBits, setBit, type Bits } from '../table/bits.ts'
import type { Column, ColumnIndex, Field } from '../table/column.ts'
import { textBlockOf } from '../table/text-block.ts'
import type { Work } from '../work/work.ts'

/** Finds a column's place; undefined: there is none. */
export type PlaceOf = (column: string) => ColumnIndex | undefined

/** Whether a measure depends on the order of rows. */
export function knowsOrder(measure: GroupMeasure | 'key' | 'shown'): boolean {
  return typeof measure === 'object' && ['first', 'last'].includes(kindOf(measure.summary))
}

/** By group of a level: a number that orders groups by the measure; NaN: it comes to nothing. Null: there is no such column. */
export function* measureKeys(
  summaries: GroupSummaries,
  level: number,
  measure: GroupMeasure,
  placeOf: PlaceOf,
  arranged: () => Work<Runs>,
): Work<Float64Array | null> {
  if (measure === 'size') return Float64Array.from(summaries.tree.levels[level].rows)
  const place = placeOf(measure.column)
  if (place === undefined) return null
  const made = yield* summaries.of(level, place, measure.summary, arranged)
  return yield* summaries.sortKeys(made, place)
}

/** A measure as a column of which each group is a row, so that conditions can ask it. Null: there is no such column. */
export function* measureColumn(
  summaries: GroupSummaries,
  level: number,
  measure: GroupMeasure,
  placeOf: PlaceOf,
  arranged: () => Work<Runs>,
): Work<{ readonly field: Field; readonly column: Column } | null> {
  if (measure === 'size') {
    const values = Float64Array.from(summaries.tree.levels[level].rows)
    return { field: { key: 'size', type: 'integer' }, column: { kind: 'number', values, missing: null } }
  }
  const place = placeOf(measure.column)
  if (place === undefined) return null
  const field = summaries.base.table.fields[place]
  const made = yield* summaries.of(level, place, measure.summary, arranged)
  return columnOf(summaries, made, place, summaryField(measure.summary, field))
}

function columnOf(
  summaries: GroupSummaries,
  made: Summarised,
  place: ColumnIndex,
  field: Field,
): { readonly field: Field; readonly column: Column } {
  const size =
    made.kind === 'numbers'
      ? made.numbers.length
      : made.kind === 'rows'
        ? made.rows.length
        : made.values.length
  const values = Array.from({ length: size }, (_, node) => summaries.valueOf(made, place, node))
  const missing = emptyBits(size)
  values.forEach((value, node) => value === null && setBit(missing, node))
  if (field.type === 'boolean') {
    const bits: Bits = emptyBits(size)
    values.forEach((value, node) => value === true && setBit(bits, node))
    return { field, column: { kind: 'boolean', values: bits, missing } }
  }
  if (field.type === 'text' || field.type === 'tags')
    return {
      field,
      column: { kind: 'plain', texts: textBlockOf(values.map(value => String(value ?? ''))), missing },
    }
  const numbers = Float64Array.from(values, value => (value === null ? 0 : Number(value)))
  return { field, column: { kind: 'number', values: numbers, missing } }
}
