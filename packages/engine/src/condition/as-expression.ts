import type { Field } from '../table/column.ts'
import { checkExpression } from '../expression/check.ts'
import { packagedTools, type ExpressionTools } from '../expression/load-packaged.ts'
import { printTree } from '../expression/print-tree.ts'
import type { ExpressionProblem } from '../expression/problem.ts'
import type { Tree } from '../expression/tree.ts'
import { fold } from '../search/fold.ts'
import { spanOf } from './amount.ts'
import { ANY_CLOCK } from './clock.ts'
import type { Condition, ConditionPart } from './condition.ts'
import type { Amount } from './kinds/kind.ts'
import { isKeyOf } from '../work/checked.ts'
import { kindNamed } from './kinds/index.ts'

type Conditions = Readonly<Record<string, Condition>>

/** A set of conditions as one expression, and the columns whose conditions no expression can say. */
export interface SaidConditions {
  readonly text: string
  readonly left: readonly string[]
}

/**
 * Conditions and the free expression beside them as one expression, a line a column. What hangs on the day it is asked,
 * folds tags, or is a host's own stays a condition; its column is named in `left`.
 */
export function conditionsExpression(
  conditions: Conditions,
  where: string,
  fields: readonly Field[],
): SaidConditions {
  const lines: string[] = []
  const left: string[] = []
  for (const [key, condition] of Object.entries(conditions)) {
    const field = fields.find(one => one.key === key)
    if (!field) continue
    const parts = condition.parts.map(part => kindNamed(part.kind).expression(part, field))
    const written = parts.filter(part => part !== null)
    if (written.length < parts.length) left.push(key)
    else lines.push(joined(written, condition.match))
  }
  if (where.trim()) lines.push(lines.length > 0 ? `(${where.trim()})` : where.trim())
  return { text: lines.join(' &&\n'), left }
}

const joined = (parts: readonly string[], match: Condition['match']): string =>
  match === 'all' || parts.length === 1
    ? parts.join(' && ')
    : `(${parts.map(part => (part.includes(' && ') ? `(${part})` : part)).join(' || ')})`

/** What an expression says as conditions, as far as cards can say it, and the rest of it as text. */
export type TakenConditions =
  | { readonly ok: true; readonly conditions: Conditions; readonly where: string }
  | { readonly ok: false; readonly problem: ExpressionProblem }

/** Reads an expression into conditions and what is left. Loads the parser when first called. */
export async function conditionsFrom(
  text: string,
  fields: readonly Field[],
  tools: ExpressionTools = packagedTools,
): Promise<TakenConditions> {
  if (text.trim() === '') return { ok: true, conditions: {}, where: '' }
  const { parseExpression } = await tools.parser()
  const parsed = parseExpression(text)
  if (!parsed.ok) return parsed
  const { compilePattern } = await tools.pattern()
  const checked = checkExpression(parsed.tree, fields, compilePattern)
  if (!checked.ok) return checked
  if (checked.typed.type !== 'boolean') {
    const problem = {
      code: 'no-such-result',
      given: checked.typed.type,
      wanted: 'boolean',
      at: parsed.tree.at,
    } as const
    return { ok: false, problem }
  }
  return { ok: true, ...takeConditions(parsed.tree, fields) }
}

/** One column's question that was found in an expression. */
interface Found {
  readonly column: string
  readonly match: Condition['match']
  readonly parts: readonly ConditionPart[]
}

function takeConditions(tree: Tree, fields: readonly Field[]): { conditions: Conditions; where: string } {
  const conjuncts = flat(tree, '&&')
  const conditions: Record<string, Condition> = {}
  const rest: Tree[] = []
  const present = new Set(conjuncts.flatMap(one => presenceOf(one, fields) ?? []))
  const needed = new Set<string>()
  const takes: { tree: Tree; found: Found }[] = []
  for (const one of conjuncts) {
    const found = questionOf(one, fields, present)
    if (!found) rest.push(one)
    else {
      if (isNegative(found)) needed.add(found.column)
      takes.push({ tree: one, found })
    }
  }
  // `has(x)` beside a question that is turned round is part of that question.
  const asked = takes.filter(
    ({ found }) =>
      !(needed.has(found.column) && found.parts.length === 1 && found.parts[0].kind === 'present'),
  )
  for (const { tree: one, found } of asked) {
    const known = conditions[found.column]
    const plain = found.match === 'all' || found.parts.length === 1
    if (!known) conditions[found.column] = { match: plain ? 'all' : 'any', parts: [...found.parts] }
    else if (known.match === 'all' && plain) known.parts.push(...found.parts)
    else rest.push(one)
  }
  return { conditions, where: printConjuncts(rest) }
}

const isNegative = ({ parts }: Found): boolean =>
  parts.some(
    ({ kind }) => kind === 'excludes' || kind === 'none-of' || kind === 'differs' || kind === 'equals',
  )

const printConjuncts = (rest: readonly Tree[]): string =>
  rest.map(one => (rest.length > 1 && isWeak(one) ? `(${printTree(one)})` : printTree(one))).join(' &&\n')

const isWeak = (tree: Tree): boolean => tree.kind === 'call' && (tree.name === '||' || tree.name === '?:')

function flat(tree: Tree, operator: '&&' | '||'): Tree[] {
  if (tree.kind !== 'call' || tree.name !== operator) return [tree]
  return tree.args.flatMap(arg => flat(arg, operator))
}

const fieldIn = (tree: Tree | undefined, fields: readonly Field[]): Field | null => {
  const key = tree?.kind === 'name' ? tree.name : tree?.kind === 'field' ? tree.key : null
  return fields.find(field => field.key === key) ?? null
}

function presenceOf(tree: Tree, fields: readonly Field[]): string | null {
  const isHas = tree.kind === 'call' && tree.name === 'has'
  return isHas ? (fieldIn(tree.args[0], fields)?.key ?? null) : null
}

/** What a conjunct asks of one column; null where no card can say it. `present`: columns that must have a value. */
function questionOf(tree: Tree, fields: readonly Field[], present: ReadonlySet<string>): Found | null {
  const alternatives = flat(tree, '||')
  if (alternatives.length === 1) return partOf(tree, fields, present)
  const parts: ConditionPart[] = []
  let column: string | null = null
  for (const one of alternatives) {
    const both = flat(one, '&&')
    const within = new Set([...present, ...both.flatMap(inner => presenceOf(inner, fields) ?? [])])
    const asked = both.length > 1 ? both.filter(inner => presenceOf(inner, fields) === null) : both
    const found = asked.length === 1 ? partOf(asked[0], fields, within) : rangeOf(asked, fields)
    if (!found || (column !== null && found.column !== column)) return null
    column = found.column
    parts.push(...found.parts)
  }
  return column === null ? null : { column, match: 'any', parts }
}

/** Two bounds of one column that are both in an alternative. */
function rangeOf(pair: readonly Tree[], fields: readonly Field[]): Found | null {
  const none: ReadonlySet<string> = new Set()
  const [a, b] = pair.length === 2 ? pair.map(one => partOf(one, fields, none)) : [null, null]
  if (!a || !b || a.column !== b.column) return null
  const [low, high] = [a, b].map(({ parts }) => parts[0])
  if (low.kind !== 'at-least' || high.kind !== 'at-most') return null
  return { column: a.column, match: 'all', parts: [{ kind: 'range', from: low.value, to: high.value }] }
}

function partOf(tree: Tree, fields: readonly Field[], present: ReadonlySet<string>): Found | null {
  const one = (field: Field | null, part: ConditionPart | null): Found | null =>
    field && part ? { column: field.key, match: 'all', parts: [part] } : null
  const bare = fieldIn(tree, fields)
  if (bare?.type === 'boolean') return one(bare, { kind: 'equals', value: true })
  if (tree.kind !== 'call') return null
  const [first, second] = tree.args
  if (tree.name === 'has') return one(fieldIn(first, fields), { kind: 'present' })
  if (tree.name === '!') return turned(first, fields, present)
  if (tree.name === 'in') {
    const { field, exact } = subject(first, fields)
    if (second.kind === 'list' && field?.type === 'text') {
      const values = second.items.flatMap(item =>
        item.kind === 'literal' && typeof item.value === 'string' ? [item.value] : [],
      )
      return values.length < second.items.length ? null : one(field, { kind: 'one-of', values, ...exact })
    }
    const tags = fieldIn(second, fields)
    const isTag = tags?.type === 'tags' && first.kind === 'literal' && typeof first.value === 'string'
    return isTag ? one(tags, { kind: 'one-of', values: [first.value], exact: true }) : null
  }
  const { field, exact } = subject(first, fields)
  if (!field) return null
  if (field.type === 'text') return one(field, textPart(tree.name, second, exact))
  const value = amountIn(second, field)
  if (value === null || exact.exact !== true) return null
  const kinds = {
    '>': 'above',
    '>=': 'at-least',
    '<': 'below',
    '<=': 'at-most',
    '==': 'equals',
    '!=': 'differs',
  } as const
  return isKeyOf(kinds, tree.name) ? one(field, { kind: kinds[tree.name], value }) : null
}

/** The field that is asked, and whether its case counts: `fold(x)` asks it folded. */
function subject(
  tree: Tree | undefined,
  fields: readonly Field[],
): { field: Field | null; exact: { exact?: true } } {
  if (tree?.kind === 'call' && tree.name === 'fold')
    return { field: fieldIn(tree.args[0], fields), exact: {} }
  return { field: fieldIn(tree, fields), exact: { exact: true } }
}

function textPart(name: string, value: Tree | undefined, exact: { exact?: true }): ConditionPart | null {
  if (value?.kind !== 'literal' || typeof value.value !== 'string' || value.value === '') return null
  const text = value.value
  // A text that is not folded never equals a folded one.
  const honest = exact.exact || text === fold(text)
  switch (name) {
    case 'contains':
      return honest ? { kind: 'contains', text, ...exact } : null
    case 'startsWith':
      return honest ? { kind: 'starts', text, ...exact } : null
    case 'endsWith':
      return honest ? { kind: 'ends', text, ...exact } : null
    case '==':
      return honest ? { kind: 'equals', value: text, ...exact } : null
    case '!=':
      return honest ? { kind: 'differs', value: text, ...exact } : null
    case 'matches':
      if (exact.exact) return { kind: 'pattern', pattern: text, exact: true }
      return text.startsWith('(?i)') && text.length > 4 ? { kind: 'pattern', pattern: text.slice(4) } : null
    default:
      return null
  }
}

/** A question turned round: of a column that must have a value it is a kind of its own, else only `has` is. */
function turned(tree: Tree, fields: readonly Field[], present: ReadonlySet<string>): Found | null {
  const absent = presenceOf(tree, fields)
  if (absent !== null) return { column: absent, match: 'all', parts: [{ kind: 'missing' }] }
  const found = questionOf(tree, fields, new Set())
  if (!found || !present.has(found.column) || found.parts.length !== 1) return null
  const [part] = found.parts
  switch (part.kind) {
    case 'contains':
      return { ...found, parts: [{ ...part, kind: 'excludes' }] }
    case 'one-of':
      return { ...found, parts: [{ ...part, kind: 'none-of' }] }
    case 'equals':
      if (typeof part.value === 'boolean')
        return { ...found, parts: [{ kind: 'equals', value: !part.value }] }
      return { ...found, parts: [{ ...part, kind: 'differs' }] }
    default:
      return null
  }
}

/** A number, or a text that says a date or a time, as it is written out; null where it is worked out. */
function amountIn(tree: Tree | undefined, field: Field): Amount | null {
  if (!tree) return null
  if (tree.kind === 'call' && tree.name === '-' && tree.args.length === 1) {
    const inner = amountIn(tree.args[0], field)
    return typeof inner === 'number' ? -inner : null
  }
  const isNumber = field.type === 'integer' || field.type === 'number'
  if (tree.kind === 'literal') return isNumber && typeof tree.value === 'number' ? tree.value : null
  const calls: Readonly<Record<string, string>> = { date: 'date', time: 'time', datetime: 'timestamp' }
  if (tree.kind !== 'call' || tree.name !== calls[field.type] || tree.args.length !== 1) return null
  const [said] = tree.args
  if (said.kind !== 'literal' || typeof said.value !== 'string') return null
  const span = spanOf(said.value, { field, clock: ANY_CLOCK })
  // An expression means the moment itself, not the minute or the month that begins with it.
  return span && span.from === span.to ? said.value : span && typeof span.from === 'number' ? span.from : null
}
