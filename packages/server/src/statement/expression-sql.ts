import { sql } from 'kysely'
import { PERIODS, RECURRING_PARTS, type Dialect, type Sql, type TimeKind } from '../dialect/dialect.ts'
import type { BinaryOperator, Expression, Literal, ValueType } from '../language/expression.ts'
import { QuestionError } from '../language/problem.ts'
import { foldedLines, waysOf } from './folded-lines.ts'
import { columnOf, type Digits, type Scope, type Typed } from './scope.ts'

const wrong = (what: string, given: string): never => {
  throw new QuestionError({ code: 'wrong-type', what, given })
}

const isNumber = ({ type }: Pick<Typed, 'type'>): boolean => type === 'integer' || type === 'number'
const isText = ({ type }: Typed): boolean => type === 'text' || type === 'null'

/** An expression as a part of a statement. Values in it become parameters. */
export function expressionSql(expression: Expression, scope: Scope): Typed {
  switch (expression.kind) {
    case 'literal':
      return literalSql(expression, scope)
    case 'property':
      return columnOf(scope, expression.name)
    case 'call':
      return callSql(expression.name, expression.args, scope)
    case 'negative': {
      const of = expressionSql(expression.of, scope)
      if (!isNumber(of)) wrong('-', of.type)
      return { sql: sql`(- ${of.sql})`, type: of.type }
    }
    case 'binary':
      return Object.hasOwn(ARITHMETIC, expression.operator)
        ? arithmeticSql(expression, scope)
        : { sql: conditionSql(expression, scope), type: 'boolean' }
    default:
      return { sql: conditionSql(expression, scope), type: 'boolean' }
  }
}

/**
 * An expression that is true or not. `turned`: it stands within a `not`, so that what a missing value makes unknown in
 * a statement must be false, as the protocol has it.
 */
export function conditionSql(expression: Expression, scope: Scope, turned = false): Sql {
  switch (expression.kind) {
    case 'not':
      return sql`not ${conditionSql(expression.of, scope, !turned)}`
    case 'binary': {
      const { operator, left, right } = expression
      const joined = operator === 'or' ? foldedLines(waysOf(expression), scope) : null
      if (joined) {
        const rest = joined.rest.map(way => conditionSql(way, scope, turned))
        return sql`(${sql.join([joined.met, ...rest], sql` or `)})`
      }
      if (operator === 'and' || operator === 'or')
        return sql`(${conditionSql(left, scope, turned)} ${sql.raw(operator)} ${conditionSql(right, scope, turned)})`
      if (COMPARED.has(operator)) return comparisonSql(operator, left, right, scope, turned)
      return wrong('boolean', operator)
    }
    case 'in':
      return inSql(expression.of, expression.list, scope, turned)
    case 'any':
    case 'all':
      return lambdaSql(expression, scope)
    default: {
      const { sql: made, type } = expressionSql(expression, scope)
      if (type !== 'boolean' && type !== 'null') wrong('boolean', type)
      return type === 'null' ? sql`false` : made
    }
  }
}

const COMPARED: ReadonlyMap<BinaryOperator, string> = new Map([
  ['eq', '='],
  ['ne', '<>'],
  ['gt', '>'],
  ['ge', '>='],
  ['lt', '<'],
  ['le', '<='],
])

function comparisonSql(
  operator: BinaryOperator,
  left: Expression,
  right: Expression,
  scope: Scope,
  turned: boolean,
): Sql {
  const [one, other] = sidesOf(left, right, scope)
  const isEqual = operator === 'eq' || operator === 'ne'
  if (one.type === 'null' || other.type === 'null') {
    // A word that stands for no value is equal to itself alone, and neither less nor greater.
    if (!isEqual) return sql`false`
    const there = one.type === 'null' ? other : one
    if (there.type === 'null') return operator === 'eq' ? sql`true` : sql`false`
    return operator === 'eq' ? sql`(${there.sql} is null)` : sql`(${there.sql} is not null)`
  }
  const compare = (a: Sql, b: Sql): Sql => sql`${a} ${sql.raw(COMPARED.get(operator) ?? '=')} ${b}`
  const compared = isEqual
    ? compare(one.sql, other.sql)
    : orderCompared([left, one], [right, other], compare, scope)
  if (operator === 'ne') return sql`(${compared} or (${one.sql} is null) <> (${other.sql} is null))`
  return turned ? scope.dialect.sure(compared) : sql`(${compared})`
}

/** Which of two comes first. A column that is in its order by itself is not so beside a text that is none of its own. */
function orderCompared(
  [left, one]: readonly [Expression, Typed],
  [right, other]: readonly [Expression, Typed],
  compare: (a: Sql, b: Sql) => Sql,
  scope: Scope,
): Sql {
  const { dialect } = scope
  const text = sql`cast(${sql.id('one')} as ${dialect.types.text})`
  // Each of few texts is compared once, and rows are looked up among those.
  const among = (column: Typed, met: Sql): Sql =>
    sql`${column.sql} in (select one from (${column.few}) as few where ${met})`
  if (one.few && right.kind === 'literal')
    return among(one, compare(dialect.collated(text), dialect.collated(other.sql)))
  if (other.few && left.kind === 'literal')
    return among(other, compare(dialect.collated(one.sql), dialect.collated(text)))
  if ((one.few ?? other.few) && one.ranked !== other.ranked)
    return compare(dialect.collated(one.sql), dialect.collated(other.sql))
  return compare(orderedSql(one, scope), orderedSql(other, scope))
}

/** Two sides that can be compared; a literal takes on what the other side is. */
function sidesOf(left: Expression, right: Expression, scope: Scope): [Typed, Typed] {
  const one = expressionSql(left, scope)
  const other = expressionSql(right, scope)
  const sides: [Typed, Typed] = [asOther(left, one, other, scope), asOther(right, other, one, scope)]
  const [{ type: a }, { type: b }] = sides
  const alike = a === b || a === 'null' || b === 'null' || (isNumber(sides[0]) && isNumber(sides[1]))
  const several = (a === 'tags' || b === 'tags') && a !== 'null' && b !== 'null'
  if (!alike || several) wrong(b, a)
  return sides
}

function asOther(expression: Expression, typed: Typed, other: Typed, scope: Scope): Typed {
  if (other.digits) return decimalSql(expression, other.digits, scope) ?? typed
  return expression.kind === 'literal' && other.type === 'moment' && other.wall
    ? literalSql(expression, scope, true)
    : typed
}

/** A number as written, where a decimal has room for it beside those of a column; null: it is none, or has none. */
function decimalSql(expression: Expression, beside: Digits, { dialect }: Scope): Typed | null {
  const minus = expression.kind === 'negative' ? '-' : ''
  const literal = expression.kind === 'negative' ? expression.of : expression
  const parts = literal.kind === 'literal' ? /^(\d+)(?:\.(\d+))?$/.exec(literal.text) : null
  if (literal.kind !== 'literal' || !isNumber(literal) || !parts) return null
  const [, whole, fraction = ''] = parts
  const type = dialect.decimal({
    whole: Math.max(whole.length, beside.whole),
    fraction: Math.max(fraction.length, beside.fraction),
  })
  return type && { sql: sql`cast(${minus + literal.text} as ${type})`, type: 'number' }
}

/** By what a value is ordered. */
export const orderedSql = ({ sql: of, type, ranked }: Typed, { dialect }: Scope): Sql =>
  type === 'text' && !ranked ? dialect.collated(of) : of

function inSql(of: Expression, list: readonly Expression[], scope: Scope, turned: boolean): Sql {
  const literals = list.map(one => {
    if (one.kind !== 'literal') throw new QuestionError({ code: 'not-a-literal', text: one.kind })
    return one
  })
  const present = literals.filter(({ type }) => type !== 'null')
  const either: Sql[] = []
  if (present.length < literals.length) either.push(comparisonSql('eq', of, NULL, scope, turned))
  if (present.length > 0) {
    const sides = present.map(one => sidesOf(of, one, scope))
    const among = sql`${sides[0][0].sql} in (${sql.join(sides.map(([, side]) => side.sql))})`
    either.push(turned ? scope.dialect.sure(among) : among)
  }
  return either.length === 0 ? sql`false` : sql`(${sql.join(either, sql` or `)})`
}

const NULL: Literal = { kind: 'literal', type: 'null', text: 'null' }

function lambdaSql(
  { kind, property, variable, test }: Extract<Expression, { kind: 'any' | 'all' }>,
  scope: Scope,
): Sql {
  const of = columnOf(scope, property)
  if (of.type !== 'tags') wrong('tags', of.type)
  const met = (one: Sql): Sql => {
    if (!test) return sql`true`
    const columns = new Map(scope.columns)
    columns.set(variable, { sql: one, type: 'text' })
    const inner = { ...scope, columns }
    return kind === 'any' ? conditionSql(test, inner) : sql`not ${conditionSql(test, inner, true)}`
  }
  const any = scope.dialect.sure(scope.dialect.anyOf(of.sql, met))
  return kind === 'any' ? any : sql`not ${any}`
}

function literalSql({ type, text }: Literal, { dialect }: Scope, wall = false): Typed {
  const cast = (to: Sql, value: unknown = text): Sql => sql`cast(${value} as ${to})`
  switch (type) {
    case 'null':
      return { sql: sql`null`, type }
    case 'boolean':
      return { sql: text === 'true' ? sql`true` : sql`false`, type }
    case 'integer': {
      const fits = BigInt(text) >= -(2n ** 63n) && BigInt(text) < 2n ** 63n
      return fits
        ? { sql: cast(dialect.types.integer), type }
        : literalSql({ kind: 'literal', type: 'number', text }, { dialect, columns: new Map() })
    }
    case 'number':
      return { sql: cast(dialect.types.number, numberText(text)), type }
    case 'date':
      return { sql: cast(dialect.types.date, dateText(text)), type }
    case 'time':
      return { sql: cast(dialect.types.time), type }
    case 'moment':
      return wall
        ? { sql: cast(dialect.types.wall, momentText(text)), type, wall }
        : { sql: cast(dialect.types.moment, momentText(text)), type }
    default:
      return { sql: cast(dialect.types.text, wordText(text)), type: 'text' }
  }
}

/** Databases keep no character of nought. */
export function wordText(text: string): string {
  return text.includes('\u0000') ? noSuch(text.replaceAll('\u0000', '␀')) : text
}

/** As engines write what no digits say. */
const numberText = (text: string): string => {
  const value = Number(text.replace('INF', 'Infinity'))
  return Number.isNaN(value)
    ? 'NaN'
    : value === Infinity
      ? 'Infinity'
      : value === -Infinity
        ? '-Infinity'
        : String(value)
}

const noSuch = (text: string): never => {
  throw new QuestionError({ code: 'not-a-literal', text })
}

/** A date that there is: engines would tell of others in words of their own. */
function dateText(text: string): string {
  const match = /^(\d{4})-(\d\d)-(\d\d)$/.exec(text)
  const date = match && new Date(`${text}T00:00:00Z`)
  return !date || Number.isNaN(date.getTime()) || date.toISOString().slice(0, 10) !== text
    ? noSuch(text)
    : text
}

/** In UTC, to the microsecond. */
function momentText(text: string): string {
  const match = /^(\d{4}-\d\d-\d\d)T(\d\d:\d\d(?::\d\d)?)(?:\.(\d{1,12}))?(Z|[-+]\d\d:\d\d)$/.exec(text)
  if (!match) return noSuch(text)
  const [, day, time, fraction = '', offset] = match
  const moment = new Date(`${dateText(day)}T${time.length === 5 ? `${time}:00` : time}${offset}`)
  if (Number.isNaN(moment.getTime())) return noSuch(text)
  return `${moment.toISOString().slice(0, 19)}.${fraction.slice(0, 6).padEnd(6, '0')}Z`
}

type Call = (args: readonly Typed[], scope: Scope, written: readonly Expression[]) => Typed

/** The one property that expressions speak of; null: none, or several. */
function onlyProperty(expressions: readonly Expression[]): string | null {
  const names = new Set<string>()
  let others = false
  const look = (expression: Expression): void => {
    if (expression.kind === 'property') names.add(expression.name)
    else if (expression.kind === 'call') expression.args.forEach(look)
    else if (expression.kind !== 'literal') others = true
  }
  expressions.forEach(look)
  return names.size === 1 && !others ? [...names][0] : null
}

/**
 * A test of a text. Where a column has few different ones, each of these is tested once, and rows are looked up among
 * those that met it.
 */
const test =
  (make: Call): Call =>
  (args, scope, written) => {
    const name = onlyProperty(written)
    const column = name === null ? undefined : scope.columns.get(name)
    if (name === null || !column?.few) return make(args, scope, written)
    const one = sql`cast(${sql.id('one')} as ${scope.dialect.types.text})`
    const inner: Scope = { ...scope, columns: new Map([[name, { sql: one, type: 'text' }]]) }
    const met = make(
      written.map(arg => expressionSql(arg, inner)),
      inner,
      written,
    )
    const among = sql`${column.sql} in (select one from (${column.few}) as few where ${met.sql})`
    return { sql: sql`(${among})`, type: 'boolean' }
  }

const texts =
  (make: (scope: Scope, ...args: Sql[]) => Sql, type: ValueType, count: number): Call =>
  (args, scope) => {
    const other = args.find(arg => !isText(arg))
    if (other) wrong('text', other.type)
    if (args.length !== count) wrong(`${count}`, `${args.length}`)
    return { sql: make(scope, ...args.map(arg => arg.sql)), type }
  }

const numeric =
  (make: (of: Sql, dialect: Dialect) => Sql): Call =>
  ([of], { dialect }) => {
    if (!of || !isNumber(of)) return wrong('number', of?.type ?? 'null')
    // Whole numbers stay what they are.
    return of.type === 'integer' ? of : { sql: make(of.sql, dialect), type: of.type }
  }

const timeKind = ({ type, wall }: Typed): TimeKind =>
  type === 'moment' ? (wall ? 'wall' : 'moment') : type === 'time' ? 'time' : 'date'

const datePart =
  (part: 'year' | 'month' | 'day' | 'hour' | 'minute' | 'second', types: readonly ValueType[]): Call =>
  ([of], { dialect }) => {
    if (!of || !types.includes(of.type)) return wrong('date', of?.type ?? 'null')
    return { sql: dialect.datePart(part, of.sql, timeKind(of)), type: 'integer' }
  }

/** All that is white space; databases by themselves take spaces away alone. */
const SPACES =
  '\t\n\v\f\r \u00a0\u1680\u2000\u2001\u2002\u2003\u2004\u2005\u2006\u2007\u2008\u2009\u200a\u2028\u2029\u202f\u205f\u3000\ufeff'

/** The functions of the protocol that are answered, and those of the grid's own. */
const CALLS: Readonly<Partial<Record<string, Call>>> = {
  contains: test(texts(({ dialect }, a, b) => dialect.contains(a, b), 'boolean', 2)),
  startswith: test(texts(({ dialect }, a, b) => dialect.starts(a, b), 'boolean', 2)),
  endswith: test(texts(({ dialect }, a, b) => dialect.ends(a, b), 'boolean', 2)),
  indexof: texts(({ dialect }, a, b) => dialect.position(a, b), 'integer', 2),
  length: texts((_, a) => sql`length(${a})`, 'integer', 1),
  tolower: texts((_, a) => sql`lower(${a})`, 'text', 1),
  toupper: texts((_, a) => sql`upper(${a})`, 'text', 1),
  trim: texts((_, a) => sql`trim(both ${SPACES} from ${a})`, 'text', 1),
  concat: texts((_, a, b) => sql`(${a} || ${b})`, 'text', 2),
  'VastMeadow.fold': texts(({ dialect }, a) => dialect.fold(a), 'text', 1),
  substring: (args, _, written) => {
    const [of, from, count] = args
    if (!of || !isText(of)) return wrong('text', of?.type ?? 'null')
    for (const [i, number] of args.slice(1).entries()) {
      const given = written[i + 1]
      if (number.type !== 'integer' || given.kind !== 'literal' || given.text.startsWith('-'))
        wrong('integer', number.type)
    }
    const start = sql`cast(${from.sql} + 1 as integer)`
    return count
      ? { sql: sql`substr(${of.sql}, ${start}, cast(${count.sql} as integer))`, type: 'text' }
      : { sql: sql`substr(${of.sql}, ${start})`, type: 'text' }
  },
  matchespattern: test(([of, pattern], { dialect }, written) => {
    if (!dialect.matches) throw new QuestionError({ code: 'not-offered', what: 'matchespattern' })
    const given = written.at(1)
    if (!of || !isText(of)) return wrong('text', of?.type ?? 'null')
    if (given?.kind !== 'literal' || given.type !== 'text') return wrong('text', pattern?.type ?? 'null')
    return { sql: dialect.matches(of.sql, pattern.sql), type: 'boolean' }
  }),
  floor: numeric(of => sql`floor(${of})`),
  ceiling: numeric(of => sql`ceil(${of})`),
  round: numeric((of, dialect) => dialect.round(of)),
  year: datePart('year', ['date', 'moment']),
  month: datePart('month', ['date', 'moment']),
  day: datePart('day', ['date', 'moment']),
  hour: datePart('hour', ['moment', 'time']),
  minute: datePart('minute', ['moment', 'time']),
  second: datePart('second', ['moment', 'time']),
  date: ([of], { dialect }) =>
    of?.type === 'moment'
      ? { sql: sql`cast(${of.sql} as ${dialect.types.date})`, type: 'date' }
      : wrong('moment', of?.type ?? 'null'),
  'VastMeadow.startOf': ([of], { dialect }, written) => {
    const given = written.at(1)
    const period = given?.kind === 'literal' ? PERIODS.find(name => name === given.text) : undefined
    if (!of || (of.type !== 'date' && of.type !== 'moment')) return wrong('date', of?.type ?? 'null')
    if (!period) return wrong(PERIODS.join(', '), given?.kind === 'literal' ? given.text : '')
    const start = dialect.startOf(period, of.sql, timeKind(of))
    const type = of.type === 'date' && period === 'hour' ? 'date' : of.type
    return type === 'date'
      ? { sql: sql`cast(${start} as ${dialect.types.date})`, type }
      : { sql: start, type, wall: of.wall }
  },
  'VastMeadow.partOf': ([of], { dialect }, written) => {
    const given = written.at(1)
    const part = given?.kind === 'literal' ? RECURRING_PARTS.find(name => name === given.text) : undefined
    if (!of || !['date', 'moment', 'time'].includes(of.type)) return wrong('date', of?.type ?? 'null')
    if (!part || (of.type === 'time' && part !== 'hour'))
      return wrong(RECURRING_PARTS.join(', '), given?.kind === 'literal' ? given.text : '')
    return { sql: dialect.partOf(part, of.sql, timeKind(of)), type: 'integer' }
  },
  'VastMeadow.number': ([of], { dialect }) =>
    of && ['date', 'moment', 'time'].includes(of.type)
      ? { sql: dialect.numberOf(of.sql, timeKind(of)), type: 'number' }
      : wrong('date', of?.type ?? 'null'),
  'VastMeadow.breakOf': ([of, ...breaks], _, written) => {
    if (!of || !isNumber(of)) return wrong('number', of?.type ?? 'null')
    const wild = written.findIndex((one, i) => i > 0 && (one.kind !== 'literal' || !isNumber(breaks[i - 1])))
    if (wild > 0 || breaks.length === 0) return wrong('number', breaks.at(wild - 1)?.type ?? 'null')
    const ways = breaks.map(({ sql: end }, i) => sql`when ${of.sql} < ${end} then ${sql.lit(i)}`)
    const number = sql`case when ${of.sql} is null then null ${sql.join(ways, sql` `)} else ${sql.lit(breaks.length)} end`
    return { sql: number, type: 'integer' }
  },
  cast: ([of], { dialect }, written) => {
    const to = written.at(1)
    if (!of || to?.kind !== 'property' || to.name !== 'Edm.String') return wrong('Edm.String', of?.type ?? '')
    if (!['text', 'integer', 'date', 'boolean'].includes(of.type)) return wrong('Edm.String', of.type)
    return { sql: sql`cast(${of.sql} as ${dialect.types.text})`, type: 'text' }
  },
}

/** Names of the functions that are answered, those of the grid's own with their namespace. */
export const FUNCTION_NAMES: readonly string[] = Object.keys(CALLS)

function callSql(name: string, args: readonly Expression[], scope: Scope): Typed {
  const call = Object.hasOwn(CALLS, name) ? CALLS[name] : undefined
  if (call) {
    // The type that is cast to is written like a property.
    const made = args.map((arg, i) =>
      name === 'cast' && i === 1 ? literalSql(NULL, scope) : expressionSql(arg, scope),
    )
    return call(made, scope, args)
  }
  throw new QuestionError({ code: 'no-such-function', name })
}

type Arithmetic = (a: Sql, b: Sql, whole: boolean, dialect: Dialect) => Sql

const ARITHMETIC: Readonly<Partial<Record<BinaryOperator, Arithmetic>>> = {
  add: (a, b) => sql`(${a} + ${b})`,
  sub: (a, b) => sql`(${a} - ${b})`,
  mul: (a, b) => sql`(${a} * ${b})`,
  div: (a, b) => sql`(${a} / nullif(${b}, 0))`,
  divby: (a, b) => sql`(${a} / nullif(${b}, 0))`,
  mod: (a, b, whole, dialect) => dialect.remainder(a, sql`nullif(${b}, 0)`, whole),
}

/** Sums and products. Computed as floating point but for remainders and whole numbers, whose division is a whole one. */
function arithmeticSql(
  { operator, left, right }: Extract<Expression, { kind: 'binary' }>,
  scope: Scope,
): Typed {
  const make = ARITHMETIC[operator]
  const [a, b] = [expressionSql(left, scope), expressionSql(right, scope)]
  if (!make || !isNumber(a) || !isNumber(b)) return wrong('number', isNumber(a) ? b.type : a.type)
  const whole = a.type === 'integer' && b.type === 'integer' && operator !== 'divby'
  const asNumber = ({ sql: of }: Typed): Sql => sql`cast(${of} as ${scope.dialect.types.number})`
  const { dialect } = scope
  if (!whole) return { sql: make(asNumber(a), asNumber(b), whole, dialect), type: 'number' }
  return operator === 'div'
    ? {
        sql: sql`cast(trunc(${make(asNumber(a), asNumber(b), whole, dialect)}) as ${dialect.types.integer})`,
        type: 'integer',
      }
    : { sql: make(a.sql, b.sql, whole, dialect), type: 'integer' }
}
