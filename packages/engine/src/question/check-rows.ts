import { checkRows as check, type RowProblem } from '../check/check-rows.ts'
import type { RowRules } from '../check/row-rules.ts'
import { parseColumns, type ComputedColumn, type ParsedColumns } from '../expression/expressions.ts'
import { plainValue } from '../check/plain-value.ts'
import type { Value } from '../table/column.ts'
import { rowOfId, type RowId } from '../table/row-id.ts'
import { sure } from '../work/checked.ts'
import { keepNewest } from '../work/keep-newest.ts'
import type { Question } from './question.ts'

export interface CheckRowsArgs {
  /** Rows as they are to be: those that are there with the values that change, new ones with all that they have. */
  readonly rows: readonly { readonly id: RowId | null; readonly values: Readonly<Record<string, Value>> }[]
  readonly rules: RowRules
  /** Columns that are worked out, of which checks may speak. */
  readonly computed: readonly ComputedColumn[]
  /** Rows that are to go: what they have does not count. */
  readonly without: readonly RowId[]
}

const KEPT = 8
const parsed = new Map<string, ParsedColumns>()
const columnsOf = ({ computed, rules }: CheckRowsArgs): ComputedColumn[] => [
  ...computed,
  ...rules.rules.map(({ key, expression }) => ({
    key,
    expression,
    wanted: 'boolean' as const,
    internal: true,
  })),
]

/** What is wrong with rows by checks that need more than a value: expressions, patterns, other rows. */
export const checkRows: Question<CheckRowsArgs, RowProblem[]> = {
  async load(args) {
    const columns = columnsOf(args)
    const signature = JSON.stringify(columns)
    if (parsed.has(signature)) return
    parsed.set(signature, await parseColumns(columns))
    keepNewest(parsed, KEPT)
  },
  *answer({ edits, pending: { table, absent } }, args) {
    const fields = new Map(table.fields.map(field => [field.key, field]))
    const rows = args.rows.map(({ id, values }) => {
      const own = Object.entries(values).filter(([key]) => fields.has(key))
      const row = id === null ? null : rowOfId(table, id)
      return {
        // A row that is there no more is checked as if it were new.
        row: row !== null && row < 0 ? null : row,
        values: Object.fromEntries(own),
        plain: Object.fromEntries(own.map(([key, value]) => [key, plainValue(value, sure(fields.get(key)))])),
      }
    })
    const without = args.without.map(id => rowOfId(table, id)).filter(row => row >= 0)
    const columns = parsed.get(JSON.stringify(columnsOf(args)))
    if (!columns) throw new Error('The checks were not read before they were asked.')
    return yield* check(table, absent, rows, args.rules, columns, without, edits.table)
  },
}
