import type { BinaryOperator, Expression } from './expression.ts'
import { TokenReader } from './token-reader.ts'

/** By how tightly they bind, the loosest first, as OData v4.01 part 2, 5.1.1.17 says. */
const BINDING: readonly (readonly BinaryOperator[])[] = [
  ['or'],
  ['and'],
  ['eq', 'ne'],
  ['gt', 'ge', 'lt', 'le'],
  ['add', 'sub'],
  ['mul', 'div', 'divby', 'mod'],
]
/** `in` binds as the comparisons of greater and less do. */
const IN_LEVEL = 3

export function parseExpression(text: string, option = '$filter'): Expression {
  const reader = new TokenReader(text, option)
  const expression = readExpression(reader)
  reader.end()
  return expression
}

export const readExpression = (reader: TokenReader): Expression => reader.within(() => readLevel(reader, 0))

function readLevel(reader: TokenReader, level: number): Expression {
  if (level === BINDING.length) return readUnary(reader)
  let left = readLevel(reader, level + 1)
  for (;;) {
    const { kind, text } = reader.next
    const operator = kind === 'name' ? BINDING[level].find(name => name === text) : undefined
    if (operator) {
      reader.take()
      left = { kind: 'binary', operator, left, right: readLevel(reader, level + 1) }
    } else if (level === IN_LEVEL && reader.takeIf('in')) {
      reader.expect('(')
      const list = reader.isNext(')') ? [] : reader.list(() => readExpression(reader))
      reader.expect(')')
      left = { kind: 'in', of: left, list }
    } else return left
  }
}

function readUnary(reader: TokenReader): Expression {
  if (reader.isNext('not') && !isCall(reader)) {
    reader.take()
    return { kind: 'not', of: reader.within(() => readUnary(reader)) }
  }
  if (reader.takeIf('not')) {
    // `not (…)` reads like a call; the brackets are those of an expression.
    return { kind: 'not', of: reader.within(() => readPrimary(reader)) }
  }
  if (reader.takeIf('-')) return { kind: 'negative', of: reader.within(() => readUnary(reader)) }
  return readPrimary(reader)
}

const isCall = (reader: TokenReader): boolean =>
  reader.afterNext.kind === 'sign' && reader.afterNext.text === '('

function readPrimary(reader: TokenReader): Expression {
  if (reader.takeIf('(')) {
    const inner = readExpression(reader)
    reader.expect(')')
    return inner
  }
  const { kind, text } = reader.next
  switch (kind) {
    case 'text':
    case 'date':
    case 'time':
    case 'moment':
      reader.take()
      return { kind: 'literal', type: kind, text }
    case 'guid':
      reader.take()
      return { kind: 'literal', type: 'text', text }
    case 'number':
      reader.take()
      return { kind: 'literal', type: /^[-+]?\d+$/.test(text) ? 'integer' : 'number', text }
    case 'name':
      return readNamed(reader)
    default:
      return reader.fail()
  }
}

const WORDS: Readonly<Record<string, Expression>> = {
  null: { kind: 'literal', type: 'null', text: 'null' },
  true: { kind: 'literal', type: 'boolean', text: 'true' },
  false: { kind: 'literal', type: 'boolean', text: 'false' },
  INF: { kind: 'literal', type: 'number', text: 'INF' },
  NaN: { kind: 'literal', type: 'number', text: 'NaN' },
}

function readNamed(reader: TokenReader): Expression {
  const call = isCall(reader)
  const name = reader.name()
  if (call) {
    reader.expect('(')
    const args = reader.isNext(')') ? [] : reader.list(() => readExpression(reader))
    reader.expect(')')
    return { kind: 'call', name, args }
  }
  if (Object.hasOwn(WORDS, name)) return WORDS[name]
  const path = [name]
  while (reader.takeIf('/')) {
    const step = reader.name()
    if ((step === 'any' || step === 'all') && reader.isNext('('))
      return readLambda(reader, step, path.join('/'))
    path.push(step)
  }
  return { kind: 'property', name: path.join('/') }
}

function readLambda(reader: TokenReader, kind: 'any' | 'all', property: string): Expression {
  reader.expect('(')
  if (kind === 'any' && reader.takeIf(')')) return { kind, property, variable: '', test: null }
  const variable = reader.name()
  reader.expect(':')
  const test = readExpression(reader)
  reader.expect(')')
  return { kind, property, variable, test }
}
