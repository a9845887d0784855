import { parse } from '@bufbuild/cel'
import type { ExpressionProblem } from './problem.ts'
import type { TextRange, Tree } from './tree.ts'
import { sure } from '../work/checked.ts'

// This file is built to stand complete beside the engine, and loaded when a definition has expressions.

type Parsed = NonNullable<ReturnType<typeof parse>['expr']>

export type ParseResult =
  { readonly ok: true; readonly tree: Tree } | { readonly ok: false; readonly problem: ExpressionProblem }

/** Reads the syntax of the Common Expression Language into a tree. */
export function parseExpression(text: string): ParseResult {
  try {
    const { expr, sourceInfo } = parse(text)
    return { ok: true, tree: new Reader(text, sourceInfo?.positions ?? {}).read(expr) }
  } catch (error) {
    if (error instanceof NotInDialect) return { ok: false, problem: error.problem }
    return { ok: false, problem: syntaxProblem(text, error) }
  }
}

/** What a text that ends in it still waits for. */
const WAITS = /(&&|\|\||[-+*/%<>=!?:,.]|\bin)\s*$/

/**
 * What is wrong where nothing could be read. The parser tells where it gave up, which is often before the fault; what
 * is left open and what ends too early is found here.
 */
function syntaxProblem(text: string, error: unknown): ExpressionProblem {
  const open = notClosed(text)
  if (open) return { code: 'not-closed', found: text[open.from], at: open }
  const end = text.trimEnd().length
  if (end === 0 || WAITS.test(text))
    return { code: 'not-written-right', found: null, at: { from: end, to: end } }
  const { location } = error as { location?: { start: { offset: number } } }
  // Blanks where the parser stopped are nobody's fault.
  const stopped = location?.start.offset ?? 0
  const from = stopped + (/^\s*/.exec(text.slice(stopped))?.[0] ?? '').length
  const found = /^[\p{L}\p{N}_]+|^./u.exec(text.slice(from))?.[0] ?? null
  return { code: 'not-written-right', found, at: { from, to: from + (found ?? '').length } }
}

/** The last bracket or quote that is opened and not closed. */
function notClosed(text: string): TextRange | null {
  const open: number[] = []
  let quote = -1
  for (let i = 0; i < text.length; i++) {
    const character = text[i]
    if (quote >= 0) {
      if (character === '\\') i++
      else if (character === text[quote]) quote = -1
    } else if (character === '"' || character === "'") quote = i
    else if ('([{'.includes(character)) open.push(i)
    else if (')]}'.includes(character)) open.pop()
  }
  const from = quote >= 0 ? quote : open.pop()
  return from === undefined ? null : { from, to: from + 1 }
}

class NotInDialect extends Error {
  readonly problem: ExpressionProblem
  constructor(what: string, at: TextRange) {
    super(what)
    this.problem = { code: 'not-in-dialect', what, at }
  }
}

/** Operators by the names that the parser gives them. */
const OPERATORS: Readonly<Record<string, string>> = {
  '_&&_': '&&',
  '_||_': '||',
  '!_': '!',
  '-_': '-',
  '_+_': '+',
  '_-_': '-',
  '_*_': '*',
  '_/_': '/',
  '_%_': '%',
  '_==_': '==',
  '_!=_': '!=',
  '_<_': '<',
  '_<=_': '<=',
  '_>_': '>',
  '_>=_': '>=',
  '_?_:_': '?:',
  '@in': 'in',
}

class Reader {
  private readonly text: string
  private readonly positions: Readonly<Record<string, number>>

  constructor(text: string, positions: Readonly<Record<string, number>>) {
    this.text = text
    this.positions = positions
  }

  read(expr: Parsed): Tree {
    const { exprKind: kind } = expr
    switch (kind.case) {
      case 'constExpr':
        return this.readLiteral(expr, kind.value.constantKind)
      case 'identExpr':
        return { kind: 'name', name: kind.value.name, at: this.wordAt(expr.id, kind.value.name) }
      case 'selectExpr':
        return this.readSelect(expr, kind.value)
      case 'callExpr':
        return this.readCall(expr, kind.value)
      case 'listExpr':
        return {
          kind: 'list',
          items: kind.value.elements.map(item => this.read(item)),
          at: this.at(expr.id, 1),
        }
      case 'structExpr':
        throw new NotInDialect('A map in braces', this.at(expr.id, 1))
      case 'comprehensionExpr':
        throw new NotInDialect('Going through a list, with exists, all, map or filter,', this.at(expr.id, 1))
      default:
        throw new NotInDialect('This', this.at(expr.id, 1))
    }
  }

  private readLiteral(
    expr: Parsed,
    literal: { readonly case?: string; readonly value?: unknown },
  ): Extract<Tree, { kind: 'literal' }> {
    const at = this.at(expr.id, 1)
    switch (literal.case) {
      case 'int64Value':
      case 'uint64Value':
        return { kind: 'literal', value: Number(literal.value), at }
      case 'doubleValue':
      case 'boolValue':
      case 'stringValue':
        return { kind: 'literal', value: literal.value as string | number | boolean, at }
      case 'nullValue':
        return { kind: 'literal', value: null, at }
      default:
        throw new NotInDialect('A literal of bytes', at)
    }
  }

  private readSelect(expr: Parsed, select: { operand?: Parsed; field: string; testOnly: boolean }): Tree {
    const operand = this.read(sure(select.operand))
    if (operand.kind !== 'name')
      throw new NotInDialect(`“.${select.field}” behind what is no name`, this.at(expr.id, 1))
    const at = { from: operand.at.from, to: this.end(expr.id, select.field) }
    const name: Tree =
      operand.name === 'row'
        ? { kind: 'field', key: select.field, at }
        : { kind: 'name', name: `${operand.name}.${select.field}`, at }
    return select.testOnly ? { kind: 'call', name: 'has', method: false, args: [name], at } : name
  }

  private readCall(expr: Parsed, call: { target?: Parsed; function: string; args: readonly Parsed[] }): Tree {
    if (call.function === '_[_]') return this.readIndex(expr, call.args)
    const args = call.args.map(arg => this.read(arg))
    const operator = OPERATORS[call.function]
    const at = this.wordAt(expr.id, operator === '?:' ? '?' : (operator ?? call.function))
    if (!call.target) return { kind: 'call', name: operator ?? call.function, method: false, args, at }
    const target = this.read(call.target)
    // `math.abs(x)` is a function with a point in its name.
    if (target.kind === 'name' && target.name === 'math')
      return { kind: 'call', name: `math.${call.function}`, method: false, args, at }
    return { kind: 'call', name: call.function, method: true, args: [target, ...args], at }
  }

  private readIndex(expr: Parsed, [of, index]: readonly Parsed[]): Tree {
    const at = this.at(expr.id, 1)
    const [owner, key] = [this.read(of), this.read(index)]
    if (
      owner.kind !== 'name' ||
      owner.name !== 'row' ||
      key.kind !== 'literal' ||
      typeof key.value !== 'string'
    )
      throw new NotInDialect('A place in brackets, but for row["…"],', at)
    const close = this.text.indexOf(']', key.at.from)
    return { kind: 'field', key: key.value, at: { from: owner.at.from, to: close < 0 ? at.to : close + 1 } }
  }

  private at(id: bigint, length: number): TextRange {
    const from = this.positions[String(id)] ?? 0
    return { from, to: Math.min(this.text.length, from + length) }
  }

  /** Where a word stands: calls and selections are noted at their bracket or point. */
  private wordAt(id: bigint, word: string): TextRange {
    const noted = this.positions[String(id)] ?? 0
    if (this.text.startsWith(word, noted)) return { from: noted, to: noted + word.length }
    const after = this.text.indexOf(word, noted)
    const before = this.text.lastIndexOf(word, noted)
    const from = before >= 0 && (after < 0 || noted - before <= after - noted) ? before : after
    return from < 0 ? this.at(id, 1) : { from, to: from + word.length }
  }

  private end(id: bigint, field: string): number {
    const at = this.text.indexOf(field, this.positions[String(id)] ?? 0)
    return at < 0 ? this.text.length : at + field.length
  }
}
