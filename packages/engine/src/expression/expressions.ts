import type { Field, FieldType } from '../table/column.ts'
import { checkExpression } from './check.ts'
import { packagedTools, type ExpressionTools } from './load-packaged.ts'
import type { compilePattern } from './pattern.ts'
import type { ExpressionProblem, ValueType } from './problem.ts'
import { checkFormula, formulaOf, type RowFunction } from './formula.ts'
import { partsOf, type Tree } from './tree.ts'
import type { Typed } from './typed.ts'

/** A column that is worked out from the others. */
export interface ComputedColumn {
  readonly key: string
  readonly expression: string
  /** `boolean`: the result must be yes or no. */
  readonly wanted?: 'boolean'
  /** It serves the grid itself and is nobody's field. */
  readonly internal?: boolean
  /** It goes by what rows come to, `sum(price * stock) / sum(stock)`: it is no column, but what groups are summed up by. */
  readonly overRows?: boolean
  /** Names that stand for a value of their own, where no field is called so. */
  readonly given?: Readonly<Record<string, number | boolean>>
  /** Another column has the same expression: what is wrong with it is told of that one. */
  readonly again?: boolean
}

/** What groups are summed up by: a number of each, from functions over the rows of internal columns. */
export interface BoundFormula {
  /** As it is written. */
  readonly expression: string
  readonly parts: readonly { readonly function: RowFunction; readonly column: string | null }[]
  /** Over fields that are the parts, in their order. */
  readonly typed: Typed
}

/** A computed column whose expression was found right: what it is made from, and the field that it becomes. */
export interface BoundColumn {
  readonly column: ComputedColumn
  readonly typed: Typed
  readonly field: Field
}

/** What is wrong with a computed column. */
export interface ComputedProblem {
  readonly key: string
  readonly problem: ExpressionProblem
}

export type ExpressionResult =
  { readonly ok: true; readonly typed: Typed } | { readonly ok: false; readonly problem: ExpressionProblem }

type Pattern = typeof compilePattern

/** Reads and checks an expression over fields. Loads the parser when first called. */
export async function readExpression(
  text: string,
  fields: readonly Field[],
  tools: ExpressionTools = packagedTools,
): Promise<ExpressionResult> {
  const { parseExpression } = await tools.parser()
  const parsed = parseExpression(text)
  return parsed.ok ? checkExpression(parsed.tree, fields, await patternFor([parsed.tree], tools)) : parsed
}

async function patternFor(trees: readonly Tree[], tools: ExpressionTools): Promise<Pattern | null> {
  const asked = trees.some(tree =>
    [...partsOf(tree)].some(part => part.kind === 'call' && part.name === 'matches'),
  )
  return asked ? (await tools.pattern()).compilePattern : null
}

/** Computed columns whose syntax is read; they can be bound to fields again and again without waiting. */
export interface ParsedColumns {
  readonly trees: readonly { readonly column: ComputedColumn; readonly tree: Tree }[]
  readonly problems: readonly ComputedProblem[]
  readonly pattern: Pattern | null
  readonly formulas: readonly BoundFormula[]
}

/** Reads the syntax of computed columns. Loads the parser when there are any. */
export async function parseColumns(
  columns: readonly ComputedColumn[],
  tools: ExpressionTools = packagedTools,
): Promise<ParsedColumns> {
  if (columns.length === 0) return { trees: [], problems: [], pattern: null, formulas: [] }
  try {
    return await parseAll(columns, tools)
  } catch (error) {
    // Where a file is not there, the columns that need it are not either; the rest of the grid is.
    const reason = error instanceof Error ? error.message : String(error)
    const problem = { code: 'parser-not-there' as const, reason, at: { from: 0, to: 0 } }
    return { trees: [], problems: columns.map(({ key }) => ({ key, problem })), pattern: null, formulas: [] }
  }
}

async function parseAll(columns: readonly ComputedColumn[], tools: ExpressionTools): Promise<ParsedColumns> {
  const { parseExpression } = await tools.parser()
  const trees: { column: ComputedColumn; tree: Tree }[] = []
  const problems: ComputedProblem[] = []
  const formulas: BoundFormula[] = []
  for (const column of columns) {
    const parsed = parseExpression(column.expression)
    if (!parsed.ok) {
      if (!column.again) problems.push({ key: column.key, problem: parsed.problem })
    } else if (column.overRows) {
      const made = boundFormula(column, parsed.tree)
      if ('code' in made) problems.push({ key: column.key, problem: made })
      else {
        formulas.push(made.formula)
        trees.push(...made.columns)
      }
    } else trees.push({ column, tree: parsed.tree })
  }
  return {
    trees,
    problems,
    formulas,
    pattern: await patternFor(
      trees.map(({ tree }) => tree),
      tools,
    ),
  }
}

/** A formula, and the columns that its functions run over. */
function boundFormula(
  { key, expression }: ComputedColumn,
  tree: Tree,
): { readonly formula: BoundFormula; readonly columns: ParsedColumns['trees'] } | ExpressionProblem {
  const formula = formulaOf(tree)
  const typed = checkFormula(formula)
  if ('code' in typed) return typed
  const columns: { column: ComputedColumn; tree: Tree }[] = []
  const parts = formula.parts.map((part, nth) => {
    if (!part.of) return { function: part.function, column: null }
    const column = { key: `${key}:${nth}`, expression: '', internal: true }
    columns.push({ column: { ...column, expression: JSON.stringify(part.of) }, tree: part.of })
    return { function: part.function, column: column.key }
  })
  return { formula: { expression, parts, typed }, columns }
}

export interface BoundColumns {
  /** In an order in which each comes after those it reads; their fields follow the table's own in that order. */
  readonly bound: readonly BoundColumn[]
  readonly problems: readonly ComputedProblem[]
}

/** Checks computed columns over a table's fields and over one another. */
export function bindColumns(parsed: ParsedColumns, fields: readonly Field[]): BoundColumns {
  const bound: BoundColumn[] = []
  const problems: ComputedProblem[] = []
  const own = new Set(fields.map(({ key }) => key))
  let waiting = [...parsed.trees]
  for (;;) {
    const names = new Set(waiting.map(({ column }) => column.key))
    const ready = waiting.find(({ tree }) => !namesIn(tree).some(name => names.has(name) && !own.has(name)))
    if (!ready) break
    waiting = waiting.filter(entry => entry !== ready)
    const { column } = ready
    const known = [...fields, ...bound.map(({ field }) => field)]
    const tree = column.given
      ? withGiven(ready.tree, column.given, new Set(known.map(({ key }) => key)))
      : ready.tree
    const result = checkExpression(tree, known, parsed.pattern)
    const made = result.ok ? boundColumn(column, result.typed, tree) : result.problem
    if (!('code' in made)) bound.push(made)
    else if (!column.again) problems.push({ key: column.key, problem: made })
  }
  const names = waiting.map(({ column }) => column.key)
  for (const { column, tree } of waiting)
    problems.push({ key: column.key, problem: { code: 'circular', names, at: tree.at } })
  return { bound, problems: [...parsed.problems, ...problems] }
}

/** A tree in which names stand for what is given, as far as no field is called so. */
function withGiven(
  tree: Tree,
  given: Readonly<Record<string, number | boolean>>,
  fields: ReadonlySet<string>,
): Tree {
  const { at } = tree
  if (tree.kind === 'name' && Object.hasOwn(given, tree.name) && !fields.has(tree.name))
    return { at, kind: 'literal', value: given[tree.name] }
  if (tree.kind === 'call') return { ...tree, args: tree.args.map(arg => withGiven(arg, given, fields)) }
  if (tree.kind === 'list') return { ...tree, items: tree.items.map(item => withGiven(item, given, fields)) }
  return tree
}

const namesIn = (tree: Tree): string[] =>
  [...partsOf(tree)].flatMap(part =>
    part.kind === 'name' ? [part.name] : part.kind === 'field' ? [part.key] : [],
  )

/** The result's type as that of a field; a problem where it cannot be one. */
function boundColumn(column: ComputedColumn, typed: Typed, { at }: Tree): BoundColumn | ExpressionProblem {
  const { type } = typed
  if (type === 'duration' || type === 'list' || type === 'nothing')
    return { code: 'no-such-result', given: type, wanted: column.wanted ?? 'value', at }
  if (column.wanted === 'boolean' && type !== 'boolean')
    return { code: 'no-such-result', given: type, wanted: 'boolean', at }
  const field: Field = {
    key: column.key,
    ...fieldTypeOf(type, typed.decimals),
    ...(type === 'datetime' && typed.zoned ? { zoned: true } : {}),
    computed: true,
    ...(column.internal ? { internal: true } : {}),
  }
  return { column, typed, field }
}

function fieldTypeOf(
  type: Exclude<ValueType, 'duration' | 'list' | 'nothing'>,
  decimals: number,
): { readonly type: FieldType; readonly decimals?: number } {
  if (type !== 'number') return { type }
  return decimals === 0 ? { type: 'integer' } : { type, decimals }
}
