import type { Expression } from './expression.ts'
import { readExpression } from './parse-expression.ts'
import { TokenReader } from './token-reader.ts'

export interface OrderItem {
  readonly by: Expression
  readonly descending: boolean
}

export function parseOrder(text: string): OrderItem[] {
  const reader = new TokenReader(text, '$orderby')
  const items = reader.list(() => readOrderItem(reader))
  reader.end()
  return items
}

export function readOrderItem(reader: TokenReader): OrderItem {
  const by = readExpression(reader)
  const descending = reader.takeIf('desc')
  if (!descending) reader.takeIf('asc')
  return { by, descending }
}
