import type { Tree } from '../../src/expression/tree.ts'
import { tagsOf } from '../../src/table/shown-text.ts'
import type { RowObject } from '../../src/read/rows/read-rows.ts'
import { plainly } from './plainly.ts'

type Any = string | number | boolean | null

const DAY = 86_400_000

/**
 * What an expression comes to in one row, worked out by going down its tree: no types, no columns, no remembering.
 * `row` holds values as the engine keeps them: days, milliseconds, tags as JSON.
 */
export function evaluate(tree: Tree, row: RowObject, rowNumber: number): Any {
  const go = (part: Tree): Any => evaluate(part, row, rowNumber)
  const fieldOf = (part: Tree): Any =>
    ((part.kind === 'name' && part.name === 'fact.number'
      ? rowNumber
      : row[part.kind === 'name' ? part.name : (part as Tree & { kind: 'field' }).key]) ?? null) as Any
  switch (tree.kind) {
    case 'literal':
      return tree.value
    case 'name':
    case 'field':
      return fieldOf(tree)
    case 'list':
      throw new Error('a list alone')
    case 'call':
      break
  }
  const { name, args } = tree
  if (name === 'has') return fieldOf(args[0]) !== null
  if (name === '&&') return go(args[0]) === true && go(args[1]) === true
  if (name === '||') return go(args[0]) === true || go(args[1]) === true
  if (name === '!') return go(args[0]) !== true
  if (name === '?:') return go(args[0]) === true ? go(args[1]) : go(args[2])
  if (name === 'in' && args[1].kind === 'list') {
    const value = go(args[0])
    return value === null ? false : args[1].items.some(item => go(item) === value)
  }
  const values = args.map(go)
  if (values.includes(null)) return ASKING.has(name) ? false : null
  return present(apply(name, values as (string | number | boolean)[], tree.method))
}

/** What is asked of a missing value is answered with no. */
const ASKING = new Set('== != < <= > >= in contains startsWith endsWith matches'.split(' '))
/** Numbers that start with a zero more than needed are names. */
const saysNumber = (text: string): boolean => /^ *-?(0|[1-9]\d*)(\.\d+)?([eE][-+]?\d+)? *$/.test(text)
const present = (value: Any): Any => (typeof value === 'number' && Number.isNaN(value) ? null : value)

function apply(name: string, values: (string | number | boolean)[], method: boolean): Any {
  const [a, b, c] = values as [never, never, never]
  if (name === '-' && values.length === 1) return -a
  switch (name) {
    case '+':
      return a + b
    case '-':
      return a - b
    case '*':
      return (a as number) * b
    case '/':
      return b === 0 ? null : a / b
    case '%':
      return b === 0 ? null : a % b
    case '==':
      return a === b
    case '!=':
      return a !== b
    case '<':
      return a < b
    case '<=':
      return a <= b
    case '>':
      return a > b
    case '>=':
      return a >= b
    case 'in':
      return tagsOf(b).includes(a)
    case 'contains':
      return (a as string).indexOf(b) >= 0
    case 'startsWith':
      return (a as string).slice(0, (b as string).length) === b
    case 'endsWith':
      return (b as string) === '' || (a as string).slice(-(b as string).length) === b
    case 'matches':
      return new RegExp(b, 'u').test(a)
    case 'lower':
      return (a as string).toLowerCase()
    case 'upper':
      return (a as string).toUpperCase()
    case 'trim':
      return (a as string).trim()
    case 'fold':
      return plainly(a as string)
    case 'replace':
      return (a as string).split(b).join(c)
    case 'substring':
      return [...(a as string)].slice(Math.max(0, b), c === undefined ? undefined : Math.max(0, c)).join('')
    case 'size':
      return typeof a === 'string' && (a as string).startsWith('[')
        ? tagsOf(a).length
        : [...(a as string)].length
    case 'string':
      return String(a)
    case 'double':
      return typeof a === 'number' ? a : saysNumber(a) ? Number(a) : null
    case 'int':
      return typeof a === 'number' ? Math.trunc(a) : saysNumber(a) ? Math.trunc(Number(a)) : null
    case 'math.abs':
      return Math.abs(a)
    case 'math.floor':
      return Math.floor(a)
    case 'math.ceil':
      return Math.ceil(a)
    case 'math.round':
      return (a as number) < 0 ? -Math.floor(-a + 0.5) : Math.floor((a as number) + 0.5)
    case 'math.least':
      return Math.min(a, b)
    case 'math.greatest':
      return Math.max(a, b)
    case 'date':
      return Date.parse(a) / DAY
    case 'getFullYear':
      return new Date((a as number) * DAY).getUTCFullYear()
    case 'getMonth':
      return new Date((a as number) * DAY).getUTCMonth() + 1
    case 'getDate':
      return new Date((a as number) * DAY).getUTCDate()
    case 'getDayOfWeek':
      return new Date((a as number) * DAY).getUTCDay() || 7
    default:
      throw new Error(`no ${method ? 'method' : 'function'} ${name}`)
  }
}
