import type { ComputedColumn } from '../expression/expressions.ts'
import type { Format } from '../table/shown-text.ts'
import type { Definition } from './definition.ts'

/** Names of columns that serve the grid itself; no field's name starts so. */
const INTERNAL = '\u0000'

/** The column that tells where the definition's style rule number `nth` holds. */
export const styleKey = (nth: number): string => `${INTERNAL}style:${nth}`

/** The column that tells where an action of a column can be used. */
export const actionKey = (column: string, action: string): string => `${INTERNAL}action:${column}:${action}`

/** What a source must be told of a definition: formats, and all that is worked out. `now`: for relative dates. */
export function bindingOf(
  definition: Definition,
  now: number,
): { readonly formats: Readonly<Record<string, Format>>; readonly computed: readonly ComputedColumn[] } {
  const { columns, locale, zone, styles } = definition
  const formats = Object.fromEntries(
    columns.map(({ key, format }) => [
      key,
      { locale, zone, ...format, ...(format.date === 'relative' ? { now } : {}) },
    ]),
  )
  const computed: ComputedColumn[] = []
  for (const { key, expression, cell } of columns) {
    if (expression !== undefined) computed.push({ key, expression })
    for (const { name, when } of cell.kind === 'actions' ? cell.actions : [])
      if (when)
        computed.push({ key: actionKey(key, name), expression: when, wanted: 'boolean', internal: true })
  }
  for (const [nth, { when }] of styles.entries())
    computed.push({ key: styleKey(nth), expression: when, wanted: 'boolean', internal: true })
  return { formats, computed }
}
