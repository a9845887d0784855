import type { Literal } from './expression.ts'
import { readExpression } from './parse-expression.ts'
import { QuestionError } from './problem.ts'
import { TokenReader } from './token-reader.ts'

/** A row as an address names it: its table, and the values of its key in their order. */
export interface NamedRow {
  readonly table: string
  readonly key: readonly Literal[]
}

const PLACE = /^([A-Za-z_]\w{0,127})\((.*)\)$/s

/** Reads `sightings(17)` and `sites(region='north',nr=3)`; null: it names no row. `keyOf`: the key's names by table. */
export function parseKey(
  text: string,
  keyOf: (table: string) => readonly string[] | undefined,
): NamedRow | null {
  const match = PLACE.exec(text)
  if (!match) return null
  const [, table, inner] = match
  const names = keyOf(table)
  if (!names) return null
  const reader = new TokenReader(inner, 'the key')
  const byName = new Map<string, Literal>()
  const read = (): Literal => {
    const expression = readExpression(reader)
    // A number below zero is read as one that is turned round.
    if (expression.kind === 'negative' && expression.of.kind === 'literal')
      return { ...expression.of, text: `-${expression.of.text}` }
    if (expression.kind !== 'literal' || expression.type === 'null')
      throw new QuestionError({ code: 'not-a-literal', text: inner.slice(0, 100) })
    return expression
  }
  if (reader.afterNext.text === '=')
    reader.list(() => {
      const name = reader.name()
      reader.expect('=')
      byName.set(name, read())
    })
  else if (names.length === 1) byName.set(names[0], read())
  reader.end()
  const key = names.flatMap(name => byName.get(name) ?? [])
  if (key.length < names.length || byName.size > names.length)
    throw new QuestionError({ code: 'unreadable', option: 'the key', at: 0, near: inner.slice(0, 20) })
  return { table, key }
}
