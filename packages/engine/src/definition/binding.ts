import type { ComputedColumn } from '../expression/expressions.ts'
import type { Format } from '../table/format.ts'
import type { Level } from '../group/level.ts'
import type { Summary } from '../summary/summary.ts'
import type { Definition } from './definition.ts'

/** Names of columns that serve the grid itself; no field's name starts so. */
const INTERNAL = '\u0000'

/** The column that tells where the definition's style rule number `nth` holds. */
export const styleKey = (nth: number): string => `${INTERNAL}style:${nth}`

/** The column that tells where an action of a column can be used. */
export const actionKey = (column: string, action: string): string => `${INTERNAL}action:${column}:${action}`

/** The column by which a column is ordered whose order goes by an expression. */
export const orderKey = (column: string): string => `${INTERNAL}order:${column}`

/** The column whose values make the groups of a level that goes by an expression. */
export const levelKey = (level: number): string => `${INTERNAL}level:${level}`

/** What a column's summary is worked out as that goes by an expression. */
export const summaryKey = (column: string): string => `${INTERNAL}summary:${column}`

/** The column that tells where the arrangement's free expression holds. */
export const WHERE_KEY = `${INTERNAL}where`

/**
 * What a source must be told of a definition: formats, and all that is worked out. `now`: for relative dates; `where`:
 * the arrangement's free expression; `groups` and `summaries`: its own, which
 * may go by expressions.
 */
export function bindingOf(
  definition: Definition,
  now: number,
  where = '',
  groups: readonly Level[] = [],
  summaries: Readonly<Record<string, Summary>> = {},
): {
  readonly formats: Readonly<Record<string, Format>>
  readonly computed: readonly ComputedColumn[]
  readonly locale?: string
} {
  const { columns, locale, zone, styles } = definition
  const formats = Object.fromEntries(
    columns.map(({ key, format }) => [
      key,
      { locale, zone, ...format, ...(format.date === 'relative' ? { now } : {}) },
    ]),
  )
  const computed: ComputedColumn[] = []
  for (const { key, expression, cell, order } of columns) {
    if (expression !== undefined) computed.push({ key, expression })
    if (order.by === 'expression')
      computed.push({ key: orderKey(key), expression: order.expression ?? '', internal: true })
    for (const { name, when } of cell.kind === 'actions' ? cell.actions : [])
      if (when)
        computed.push({ key: actionKey(key, name), expression: when, wanted: 'boolean', internal: true })
  }
  for (const [nth, { when }] of styles.entries())
    computed.push({ key: styleKey(nth), expression: when, wanted: 'boolean', internal: true })
  if (where.trim()) computed.push({ key: WHERE_KEY, expression: where, wanted: 'boolean', internal: true })
  for (const [level, { bucket }] of groups.entries())
    if (bucket.by === 'expression')
      computed.push({ key: levelKey(level), expression: bucket.expression, internal: true })
  for (const [column, summary] of Object.entries(summaries))
    if (typeof summary === 'object' && summary.kind === 'expression')
      computed.push({
        key: summaryKey(column),
        expression: summary.expression,
        internal: true,
        overRows: true,
      })
  return { formats, computed, locale }
}
