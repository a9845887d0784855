import type { ComputedColumn } from '../expression/expressions.ts'
import type { Field } from '../table/column.ts'
import type { Format } from '../table/format.ts'
import type { Level } from '../group/level.ts'
import type { Summary } from '../summary/summary.ts'
import type { Definition } from './definition.ts'
import { formatsOf } from './formats.ts'

/** Names of columns that serve the grid itself; no field's name starts so. */
const INTERNAL = '\u0000'

/** The column that tells where the definition's style rule number `nth` holds. */
export const styleKey = (nth: number): string => `${INTERNAL}style:${nth}`

/** The column that tells where an action of a column can be used. */
export const actionKey = (column: string, action: string): string => `${INTERNAL}action:${column}:${action}`

/** The column that tells where an action of a column is there. */
export const actionShownKey = (column: string, action: string): string =>
  `${INTERNAL}shown:${column}:${action}`

/** The column that tells where cells of a column can be changed. */
export const editableKey = (column: string): string => `${INTERNAL}edit:${column}`

/** The column that tells where a check of rows holds, by its number. */
export const checkKeyOf = (nth: number): string => `${INTERNAL}check:${nth}`

/**
 * The column that tells where a rule holds whose key is `key`, in rows that are selected; only there where the rule
 * speaks of what is.
 */
export const whenSelected = (key: string): string => `${key}:selected`

/** Names that stand in rules for whether the row is selected, and how many are. */
const SELECTION_NAMES = /\bselected(Count)?\b/
export const speaksOfSelection = (expression: string): boolean => SELECTION_NAMES.test(expression)
export const speaksOfCount = (expression: string): boolean => /\bselectedCount\b/.test(expression)

/** The fields that rules may speak of: those of the rows, and what is selected. */
export const fieldsOfRules = (fields: readonly Field[]): Field[] => {
  const own: Field[] = [
    { key: 'selected', type: 'boolean' },
    { key: 'selectedCount', type: 'integer' },
  ]
  return [...fields, ...own.filter(({ key }) => !fields.some(field => field.key === key))]
}

/** The columns that tell where a rule holds. */
function ruleColumns(key: string, expression: string, selectedCount: number): ComputedColumn[] {
  const rule = { expression, wanted: 'boolean', internal: true } as const
  if (!speaksOfSelection(expression)) return [{ key, ...rule }]
  return [
    { key, ...rule, given: { selected: false, selectedCount } },
    { key: whenSelected(key), ...rule, given: { selected: true, selectedCount }, again: true },
  ]
}

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
 * may go by expressions; `selectedCount`: how many rows are selected, for rules that speak of it.
 */
export function bindingOf(
  definition: Definition,
  now: number,
  where = '',
  groups: readonly Level[] = [],
  summaries: Readonly<Record<string, Summary>> = {},
  selectedCount = 0,
): {
  readonly formats: Readonly<Record<string, Format>>
  readonly computed: readonly ComputedColumn[]
  readonly locale?: string
} {
  const { columns, locale, styles } = definition
  const formats = formatsOf(definition, now)
  const computed: ComputedColumn[] = []
  for (const { key, expression, cell, order, edit } of columns) {
    if (expression !== undefined) computed.push({ key, expression })
    if (order.by === 'expression')
      computed.push({ key: orderKey(key), expression: order.expression ?? '', internal: true })
    if (edit?.when) computed.push(...ruleColumns(editableKey(key), edit.when, selectedCount))
    for (const { name, when, shown } of cell.kind === 'actions' ? cell.actions : []) {
      if (shown) computed.push(...ruleColumns(actionShownKey(key, name), shown, selectedCount))
      if (when) computed.push(...ruleColumns(actionKey(key, name), when, selectedCount))
    }
  }
  for (const [nth, { when }] of styles.entries())
    computed.push(...ruleColumns(styleKey(nth), when, selectedCount))
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
