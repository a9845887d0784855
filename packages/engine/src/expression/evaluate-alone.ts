import { privateMemory } from '../table/allocate.ts'
import { valueAt, type Value } from '../table/column.ts'
import { finish } from '../work/work.ts'
import { computeColumn } from './compute-column.ts'
import { bindColumns, parseColumns } from './expressions.ts'
import type { ExpressionProblem } from './problem.ts'

/** What an expression comes to that speaks of no row. */
export type Evaluated =
  { readonly ok: true; readonly value: Value } | { readonly ok: false; readonly problem: ExpressionProblem }

/** What an expression comes to over a few names that stand for values, and no row. */
export async function evaluateAlone(
  expression: string,
  given: Readonly<Record<string, number | boolean>>,
): Promise<Evaluated> {
  const parsed = await parseColumns([{ key: 'it', expression, given }])
  const { bound, problems } = bindColumns(parsed, [])
  if (bound.length === 0) return { ok: false, problem: problems[0].problem }
  const column = finish(computeColumn(bound[0].typed, { rows: 1, fields: [], columns: [] }, privateMemory))
  return { ok: true, value: valueAt(column, 0) }
}
