import type { Expression } from './expression.ts'
import { parseApply, type Transformation } from './parse-apply.ts'
import { parseExpression } from './parse-expression.ts'
import { parseOrder, type OrderItem } from './parse-order.ts'
import { parseSearch, type SearchTerm } from './parse-search.ts'
import { QuestionError } from './problem.ts'

/** What is asked of the rows of a table. */
export interface Query {
  readonly filter: Expression | null
  readonly search: SearchTerm | null
  readonly order: readonly OrderItem[]
  readonly apply: readonly Transformation[]
  /** null: all properties. */
  readonly select: readonly string[] | null
  readonly top: number | null
  readonly skip: number
  readonly count: boolean
}

/** Names of query options with and without their sign, as v4.01 allows both. */
const optionName = (name: string): string => (name.startsWith('$') ? name : `$${name}`)

const KNOWN = ['$filter', '$search', '$orderby', '$apply', '$select', '$top', '$skip', '$count', '$format']

/** Reads the query options of an address, or of the body of a question that was too long for one. */
export function readQuery(params: URLSearchParams): Query {
  const given = new Map<string, string>()
  for (const [key, value] of params) {
    const name = optionName(key)
    // Names of a host's own that do not look like those of the protocol are let be.
    if (!KNOWN.includes(name)) {
      if (!key.startsWith('$')) continue
      throw new QuestionError({ code: 'unknown-option', name: key })
    }
    given.set(name, value)
  }
  const read = <T>(name: string, parse: (text: string) => T): T | null => {
    const text = given.get(name)
    return text === undefined || text.trim() === '' ? null : parse(text)
  }
  return {
    filter: read('$filter', text => parseExpression(text)),
    search: read('$search', parseSearch),
    order: read('$orderby', parseOrder) ?? [],
    apply: read('$apply', parseApply) ?? [],
    select: read('$select', selected),
    top: read('$top', text => wholeNumber('$top', text)),
    skip: read('$skip', text => wholeNumber('$skip', text)) ?? 0,
    count: read('$count', text => text.trim() === 'true') ?? false,
  }
}

function selected(text: string): readonly string[] | null {
  const names = text.split(',').map(name => name.trim())
  return names.includes('*') ? null : names
}

function wholeNumber(option: string, text: string): number {
  if (!/^\d{1,15}$/.test(text.trim()))
    throw new QuestionError({ code: 'wrong-number', option, text: text.slice(0, 20) })
  return Number(text)
}
