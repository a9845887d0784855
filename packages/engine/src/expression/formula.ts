import type { Field } from '../table/column.ts'
import { checkExpression } from './check.ts'
import type { ExpressionProblem } from './problem.ts'
import type { Tree } from './tree.ts'
import type { Typed } from './typed.ts'

/** Functions that bring many rows to one value, by the names of summaries. */
const ROW_FUNCTIONS = [
  'sum',
  'mean',
  'minimum',
  'maximum',
  'median',
  'deviation',
  'distinct',
  'present',
  'missing',
  'count',
] as const
export type RowFunction = (typeof ROW_FUNCTIONS)[number]

/** What rows are brought to: a function over what an expression is in each of them; null: over the rows themselves. */
interface FormulaPart {
  readonly function: RowFunction
  readonly of: Tree | null
}

/** An expression over what rows come to: `sum(price * stock) / sum(stock)`. Its parts are called `part0`, `part1` … in `tree`. */
export interface Formula {
  readonly tree: Tree
  readonly parts: readonly FormulaPart[]
}

const isRowFunction = (name: string): name is RowFunction => ROW_FUNCTIONS.some(one => one === name)

/** Splits an expression at its functions over rows; equal ones are one part. */
export function formulaOf(tree: Tree): Formula {
  const parts: FormulaPart[] = []
  const names = new Map<string, number>()
  const split = (at: Tree): Tree => {
    if (at.kind === 'list') return { ...at, items: at.items.map(split) }
    if (at.kind !== 'call') return at
    if (at.method || !isRowFunction(at.name) || at.args.length > 1) return { ...at, args: at.args.map(split) }
    const of = at.args.at(0) ?? null
    const name = JSON.stringify([at.name, of && withoutPlaces(of)])
    let number = names.get(name)
    if (number === undefined) {
      number = parts.length
      names.set(name, number)
      parts.push({ function: at.name, of })
    }
    return { at: at.at, kind: 'name', name: partName(number) }
  }
  return { tree: split(tree), parts }
}

/** What a part is called in the tree of its formula. */
export const partName = (part: number): string => `part${part}`

/** Checks a formula over its parts, which are numbers; a problem where it comes to something else. */
export function checkFormula({ tree, parts }: Formula): Typed | ExpressionProblem {
  const fields = parts.map((_, part): Field => ({ key: partName(part), type: 'number' }))
  const checked = checkExpression(tree, fields, null)
  if (!checked.ok) return checked.problem
  const { typed } = checked
  return typed.type === 'number'
    ? typed
    : { code: 'no-such-result', given: typed.type, wanted: 'value', at: tree.at }
}

/** Two parts that are written alike are equal, wherever they stand. */
function withoutPlaces(tree: Tree): unknown {
  const { at: _, ...rest } = tree
  if (rest.kind === 'call') return { ...rest, args: rest.args.map(withoutPlaces) }
  return rest.kind === 'list' ? { ...rest, items: rest.items.map(withoutPlaces) } : rest
}
