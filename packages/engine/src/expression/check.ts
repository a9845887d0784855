import { DAY_MS } from '../table/calendar.ts'
import type { Field } from '../table/column.ts'
import { nearestName } from '../table/nearest-name.ts'
import { tagsOf } from '../table/shown-text.ts'
import { zoneOffset } from '../table/zone.ts'
import { NUMBER_LIKE } from './functions/calendar-functions.ts'
import { readable, instantText, tellsInstant } from './functions/conversions.ts'
import { scalarFunctions } from './functions/index.ts'
import type { Overload, Scalar, ScalarFunction } from './functions/scalar-function.ts'
import type { compilePattern } from './pattern.ts'
import type { ExpressionProblem, ValueType } from './problem.ts'
import type { TextRange, Tree } from './tree.ts'
import type { Arithmetic, Comparison, Typed } from './typed.ts'
import { isKeyOf, isOneOf } from '../work/checked.ts'

export type CheckResult =
  { readonly ok: true; readonly typed: Typed } | { readonly ok: false; readonly problem: ExpressionProblem }

/** Results are not shown with more digits than this unless a format asks for them. */
const MOST_DECIMALS = 6
/** Digits that a quotient is shown with where its parts do not say more. */
const QUOTIENT_DECIMALS = 2

/** Names that stand for facts about the row; a field of the same name comes first. */
export const FACTS = ['fact.number'] as const

/**
 * Finds what the names stand for and whether the types fit. `pattern` is needed only where `matches` is called, see
 * `asksForPatterns`.
 */
export function checkExpression(
  tree: Tree,
  fields: readonly Field[],
  pattern: typeof compilePattern | null = null,
): CheckResult {
  try {
    return { ok: true, typed: new Checker(fields, pattern).check(tree) }
  } catch (error) {
    if (error instanceof Misfit) return { ok: false, problem: error.problem }
    throw error
  }
}

class Misfit extends Error {
  readonly problem: ExpressionProblem
  constructor(problem: ExpressionProblem) {
    super(problem.code)
    this.problem = problem
  }
}

type Call = Extract<Tree, { kind: 'call' }>

const COMPARISONS: readonly Comparison[] = ['==', '!=', '<', '<=', '>', '>=']
const ARITHMETIC: readonly Arithmetic[] = ['+', '-', '*', '/', '%']

class Checker {
  private readonly fields: readonly Field[]
  private readonly pattern: typeof compilePattern | null

  constructor(fields: readonly Field[], pattern: typeof compilePattern | null) {
    this.fields = fields
    this.pattern = pattern
  }

  check(tree: Tree): Typed {
    switch (tree.kind) {
      case 'literal':
        return literal(tree.value)
      case 'name':
      case 'field':
        return this.checkName(tree)
      case 'list':
        throw new Misfit({ code: 'not-in-dialect', what: 'A list that is not behind “in”', at: tree.at })
      case 'call':
        return this.checkCall(tree)
    }
  }

  private checkName(tree: Extract<Tree, { kind: 'name' | 'field' }>): Typed {
    const name = tree.kind === 'name' ? tree.name : tree.key
    const place = this.fields.findIndex(field => field.key === name)
    if (place >= 0) {
      const { type, zoned, decimals = type === 'number' ? MOST_DECIMALS : 0 } = this.fields[place]
      return { kind: 'field', place, type: type === 'integer' ? 'number' : type, decimals, zoned }
    }
    if (tree.kind === 'name' && name === 'fact.number')
      return { kind: 'row-number', type: 'number', decimals: 0 }
    const nearest = nearestName(name, [...this.fields.map(field => field.key), ...FACTS])
    throw new Misfit({ code: 'unknown-name', name, nearest, at: tree.at })
  }

  private checkCall(tree: Call): Typed {
    const { name, args } = tree
    if (name === 'has') return this.checkHas(tree)
    if (name === 'in' && args[1].kind === 'list') return this.checkAmong(tree, args[1].items)
    if (name === 'matches' && tree.method) return this.checkMatches(tree)
    const given = args.map(arg => this.check(arg))
    if (name === '&&' || name === '||') {
      const [left, right] = given
      this.want(tree, given, ['boolean', 'boolean'])
      return { kind: name === '&&' ? 'both' : 'either', left, right, type: 'boolean', decimals: 0 }
    }
    if (name === '!') {
      this.want(tree, given, ['boolean'])
      return { kind: 'not', of: given[0], type: 'boolean', decimals: 0 }
    }
    if (name === '?:') return this.checkChoice(tree, given)
    if (name === 'in') return this.checkTagged(tree, given)
    if (isOneOf(COMPARISONS, name)) return this.checkComparison(tree, name, given)
    if (name === '-' && given.length === 1) return this.checkNegation(tree, given[0])
    if (isOneOf(ARITHMETIC, name)) return this.checkArithmetic(tree, name, given)
    return this.checkFunction(tree, given)
  }

  private want(tree: Call, given: readonly Typed[], ...wanted: readonly ValueType[][]): void {
    const fits = wanted.some(types => types.every((type, i) => given[i].type === type))
    if (!fits) throw misfit(tree, given, wanted)
  }

  private checkHas(tree: Call): Typed {
    const [arg] = tree.args
    if (tree.args.length !== 1 || (arg.kind !== 'name' && arg.kind !== 'field'))
      throw new Misfit({ code: 'not-in-dialect', what: 'has(…) of anything but one field', at: tree.at })
    const of = this.checkName(arg)
    if (of.kind !== 'field') return literal(true)
    return { kind: 'has', place: of.place, type: 'boolean', decimals: 0 }
  }

  private checkAmong(tree: Call, items: readonly Tree[]): Typed {
    const of = this.check(tree.args[0])
    const values = new Set<Scalar>()
    for (const item of items) {
      const checked = this.check(item)
      if (checked.type !== of.type) throw misfit(tree, [of, checked], [[of.type, of.type]])
      if (checked.kind !== 'constant')
        throw new Misfit({ code: 'must-be-written-out', name: 'in', at: item.at })
      values.add(checked.value)
    }
    if (of.type === 'nothing' || of.type === 'tags') throw misfit(tree, [of], [['text', 'list']])
    return call('boolean', [of], (value: Scalar) => values.has(value))
  }

  private checkTagged(tree: Call, given: readonly Typed[]): Typed {
    this.want(tree, given, ['text', 'tags'])
    return call('boolean', given, (tag: string, tags: string) => tagsOf(tags).includes(tag))
  }

  private checkMatches(tree: Call): Typed {
    const given = tree.args.map(arg => this.check(arg))
    const [of, pattern] = given
    if (given.length !== 2 || of.type !== 'text' || pattern.type !== 'text')
      throw misfit(tree, given, [['text', 'text']])
    if (pattern.kind !== 'constant')
      throw new Misfit({ code: 'must-be-written-out', name: 'matches', at: tree.args[1].at })
    const text = String(pattern.value)
    const test = this.pattern?.(text)
    if (!test) throw new Misfit({ code: 'not-readable', what: 'pattern', text, at: tree.args[1].at })
    return call('boolean', [of], (value: string) => test(value))
  }

  private checkChoice(tree: Call, [condition, yes, no]: readonly Typed[]): Typed {
    if (condition.type !== 'boolean') throw misfit(tree, [condition], [['boolean']])
    const type = yes.type === 'nothing' ? no.type : yes.type
    if (type === 'nothing' || (no.type !== 'nothing' && no.type !== type))
      throw new Misfit({ code: 'branches-differ', given: [yes.type, no.type], at: tree.at })
    // What may be wall time is.
    const zoned = [yes, no].every(branch => branch.type === 'nothing' || branch.zoned === true)
    return { kind: 'choose', condition, yes, no, type, zoned, decimals: Math.max(yes.decimals, no.decimals) }
  }

  private checkComparison(tree: Call, operator: Comparison, given: readonly Typed[]): Typed {
    const [left, right] = given
    if (left.type === 'nothing' || right.type === 'nothing')
      throw new Misfit({ code: 'nothing-compared', at: tree.at })
    const equality = operator === '==' || operator === '!='
    const comparable =
      left.type === right.type && left.type !== 'tags' && (equality || left.type !== 'boolean')
    if (!comparable) {
      const orderly = equality ? COMPARED : COMPARED.filter(type => type !== 'boolean')
      const wanted = left.type !== right.type && orderly.includes(left.type) ? [left.type] : orderly
      throw misfit(
        tree,
        given,
        wanted.map(type => [type, type]),
      )
    }
    if (NUMBER_LIKE.has(left.type))
      return { kind: 'compare', operator, left, right, type: 'boolean', decimals: 0 }
    return call('boolean', given, TEXT_COMPARISONS[operator])
  }

  private checkNegation(tree: Call, of: Typed): Typed {
    if (of.type !== 'number' && of.type !== 'duration') throw misfit(tree, [of], [['number'], ['duration']])
    return {
      kind: 'arithmetic',
      operator: '-',
      left: { ...literal(0), type: of.type },
      right: of,
      type: of.type,
      decimals: of.decimals,
    }
  }

  private checkArithmetic(tree: Call, operator: Arithmetic, given: readonly Typed[]): Typed {
    const [left, right] = given
    if (left.type === 'number' && right.type === 'number') {
      const decimals = Math.min(MOST_DECIMALS, decimalsOf(operator, left.decimals, right.decimals))
      return { kind: 'arithmetic', operator, left, right, type: 'number', decimals }
    }
    const overloads = SUMS[operator] ?? []
    const fitting = overloads.find(({ takes }) => takes[0] === left.type && takes[1] === right.type)
    if (!fitting) throw misfit(tree, given, [['number', 'number'], ...overloads.map(({ takes }) => takes)])
    return { ...call(fitting.gives, given, fitting.apply), zoned: given.some(({ zoned }) => zoned) }
  }

  private checkFunction(tree: Call, given: readonly Typed[]): Typed {
    const { name, method, at } = tree
    const known = scalarFunctions.find(fn => fn.name === name && fn.method === method)
    if (!known)
      throw new Misfit({ code: 'unknown-function', name, nearest: nearestFunction(name, method), at })
    const overload = known.overloads.find(
      ({ takes }) => takes.length === given.length && takes.every((type, i) => type === given[i].type),
    )
    if (!overload)
      throw misfit(
        tree,
        given,
        known.overloads.map(({ takes }) => takes),
      )
    this.checkWritten(known, tree, given)
    const decimals =
      overload.decimals?.(given.map(arg => arg.decimals)) ?? Math.max(0, ...given.map(arg => arg.decimals))
    const [first] = given
    const apply = name === 'string' && first.zoned ? instantText : overload.apply
    const zoned =
      name === 'timestamp' && first.kind === 'constant' ? tellsInstant(String(first.value)) : undefined
    return { ...call(overload.gives, given, apply), zoned, decimals: Math.min(MOST_DECIMALS, decimals) }
  }

  /** Dates and zones that are written out must be such. */
  private checkWritten({ name, method }: ScalarFunction, tree: Call, given: readonly Typed[]): void {
    const last = given.length - 1
    const written = given[last]
    if (written?.kind !== 'constant' || written.type !== 'text') return
    const text = String(written.value)
    const at: TextRange = tree.args[last].at
    const wrong =
      isKeyOf(readable, name) && !method
        ? Number.isNaN(readable[name](text))
        : method && name.startsWith('get') && zoneOffset(text) === null
    if (!wrong) return
    const what: ValueType = !isKeyOf(readable, name) ? 'text' : name === 'timestamp' ? 'datetime' : name
    if (method) throw new Misfit({ code: 'not-in-dialect', what: `“${text}” as a time zone`, at })
    throw new Misfit({ code: 'not-readable', what, text, at })
  }
}

/** What can be compared with its like. */
const COMPARED: readonly ValueType[] = ['number', 'text', 'boolean', 'date', 'time', 'datetime', 'duration']

function literal(value: Scalar): Typed {
  if (value === null) return { kind: 'constant', value, type: 'nothing', decimals: 0 }
  if (typeof value === 'number') {
    const decimals = String(value).split('.')[1]?.length ?? 0
    return { kind: 'constant', value, type: 'number', decimals: Math.min(MOST_DECIMALS, decimals) }
  }
  return { kind: 'constant', value, type: typeof value === 'boolean' ? 'boolean' : 'text', decimals: 0 }
}

/** A call; of constants alone it is worked out at once. */
function call(type: ValueType, args: readonly Typed[], apply: Overload['apply']): Typed {
  const constants = args.flatMap(arg => (arg.kind === 'constant' && !isGone(arg.value) ? [arg.value] : []))
  if (constants.length === args.length) {
    const value = apply(...(constants as never[]))
    if (!isGone(value)) return { kind: 'constant', value, type, decimals: 0 }
  }
  return { kind: 'call', apply, args, type, decimals: 0 }
}

const isGone = (value: Scalar): boolean => value === null || Number.isNaN(value)

function misfit(tree: Call, given: readonly Typed[], wanted: readonly (readonly ValueType[])[]): Misfit {
  const name = tree.name === '?:' ? '?' : tree.name
  return new Misfit({ code: 'wrong-types', name, given: given.map(({ type }) => type), wanted, at: tree.at })
}

function nearestFunction(name: string, method: boolean): string | null {
  const others = scalarFunctions.filter(fn => fn.method === method).map(fn => fn.name)
  return nearestName(name, method ? [...others, 'matches'] : [...others, 'has'])
}

function decimalsOf(operator: Arithmetic, left: number, right: number): number {
  if (operator === '*') return left + right
  if (operator === '/') return Math.max(QUOTIENT_DECIMALS, left, right)
  return Math.max(left, right)
}

/** Texts by their code units, no before yes. */
const TEXT_COMPARISONS: Readonly<Record<Comparison, Overload['apply']>> = {
  '==': (a: Scalar, b: Scalar) => a === b,
  '!=': (a: Scalar, b: Scalar) => a !== b,
  '<': (a: string, b: string) => a < b,
  '<=': (a: string, b: string) => a <= b,
  '>': (a: string, b: string) => a > b,
  '>=': (a: string, b: string) => a >= b,
}

const add = (a: number, b: number): number => a + b
const subtract = (a: number, b: number): number => a - b

/** What `+` and `-` do beside numbers. A day moves by the whole days of a duration. */
const SUMS: Readonly<Partial<Record<Arithmetic, readonly Overload[]>>> = {
  '+': [
    { takes: ['text', 'text'], gives: 'text', apply: (a: string, b: string) => a + b },
    {
      takes: ['date', 'duration'],
      gives: 'date',
      apply: (day: number, ms: number) => day + Math.trunc(ms / DAY_MS),
    },
    { takes: ['datetime', 'duration'], gives: 'datetime', apply: add },
    { takes: ['duration', 'duration'], gives: 'duration', apply: add },
  ],
  '-': [
    { takes: ['date', 'date'], gives: 'duration', apply: (a: number, b: number) => (a - b) * DAY_MS },
    {
      takes: ['date', 'duration'],
      gives: 'date',
      apply: (day: number, ms: number) => day - Math.trunc(ms / DAY_MS),
    },
    { takes: ['datetime', 'datetime'], gives: 'duration', apply: subtract },
    { takes: ['datetime', 'duration'], gives: 'datetime', apply: subtract },
    { takes: ['time', 'time'], gives: 'duration', apply: subtract },
    { takes: ['duration', 'duration'], gives: 'duration', apply: subtract },
  ],
}
