import type { Expression } from './expression.ts'
import { readExpression } from './parse-expression.ts'
import { readOrderItem, type OrderItem } from './parse-order.ts'
import { parseSearch, type SearchTerm } from './parse-search.ts'
import { QuestionError } from './problem.ts'
import { TokenReader } from './token-reader.ts'

/** What values are put together to. */
export interface Aggregate {
  /** null: rows are counted. */
  readonly of: Expression | null
  readonly method: string
  readonly as: string
}

/** A step of `$apply`, as the OData extension for data aggregation v4.0 has them. */
export type Transformation =
  | { readonly kind: 'filter'; readonly where: Expression }
  | { readonly kind: 'search'; readonly term: SearchTerm }
  | {
      readonly kind: 'compute'
      readonly columns: readonly { readonly of: Expression; readonly as: string }[]
    }
  | { readonly kind: 'groupby'; readonly by: readonly string[]; readonly aggregates: readonly Aggregate[] }
  | { readonly kind: 'aggregate'; readonly aggregates: readonly Aggregate[] }
  | { readonly kind: 'orderby'; readonly items: readonly OrderItem[] }
  | { readonly kind: 'top' | 'skip'; readonly count: number }
  | { readonly kind: 'topcount' | 'bottomcount'; readonly count: number; readonly by: Expression }

const MOST_STEPS = 32

export function parseApply(text: string): Transformation[] {
  const steps: Transformation[] = []
  const reader = new TokenReader(text, '$apply')
  do {
    if (steps.length >= MOST_STEPS) throw new QuestionError({ code: 'too-long' })
    steps.push(readStep(reader, text))
  } while (reader.takeIf('/'))
  reader.end()
  return steps
}

function readStep(reader: TokenReader, text: string): Transformation {
  const kind = reader.name()
  reader.expect('(')
  const step = readInner(reader, kind, text)
  reader.expect(')')
  return step
}

function readInner(reader: TokenReader, kind: string, text: string): Transformation {
  switch (kind) {
    case 'filter':
      return { kind, where: readExpression(reader) }
    case 'search':
      return { kind, term: readSearch(reader, text) }
    case 'compute':
      return { kind, columns: reader.list(() => ({ of: readExpression(reader), as: readAlias(reader) })) }
    case 'groupby': {
      reader.expect('(')
      const by = reader.isNext(')') ? [] : reader.list(() => readPath(reader))
      reader.expect(')')
      if (!reader.takeIf(',')) return { kind, by, aggregates: [] }
      if (reader.name() !== 'aggregate') reader.fail()
      reader.expect('(')
      const aggregates = reader.list(() => readAggregate(reader))
      reader.expect(')')
      return { kind, by, aggregates }
    }
    case 'aggregate':
      return { kind, aggregates: reader.list(() => readAggregate(reader)) }
    case 'orderby':
      return { kind, items: reader.list(() => readOrderItem(reader)) }
    case 'top':
    case 'skip':
      return { kind, count: readCount(reader) }
    case 'topcount':
    case 'bottomcount': {
      const count = readCount(reader)
      reader.expect(',')
      return { kind, count, by: readExpression(reader) }
    }
    default:
      throw new QuestionError({ code: 'not-offered', what: `$apply ${kind}` })
  }
}

/** A search is written by rules of its own, so that it is taken from the text as it stands. */
function readSearch(reader: TokenReader, text: string): SearchTerm {
  const { at } = reader.next
  let depth = 0
  let end = at
  for (let quoted = false; end < text.length; end++) {
    if (text[end] === '"') quoted = !quoted
    else if (quoted) continue
    else if (text[end] === '(') depth++
    else if (text[end] === ')' && depth-- === 0) break
  }
  while (reader.next.kind !== 'end' && reader.next.at < end) reader.take()
  return parseSearch(text.slice(at, end))
}

function readPath(reader: TokenReader): string {
  const path = [reader.name()]
  while (reader.takeIf('/')) path.push(reader.name())
  return path.join('/')
}

function readAlias(reader: TokenReader): string {
  reader.expect('as')
  return reader.name()
}

function readAggregate(reader: TokenReader): Aggregate {
  if (reader.takeIf('$count')) return { of: null, method: 'count', as: readAlias(reader) }
  const of = readExpression(reader)
  reader.expect('with')
  return { of, method: reader.name(), as: readAlias(reader) }
}

function readCount(reader: TokenReader): number {
  const { kind, text } = reader.next
  if (kind !== 'number' || !/^\d{1,15}$/.test(text)) reader.fail()
  reader.take()
  return Number(text)
}
