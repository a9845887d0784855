import { sql } from 'kysely'
import type { Sql } from '../dialect/dialect.ts'
import type { Expression } from '../language/expression.ts'
import type { Scope } from './scope.ts'

/** A word that is looked for in a text column, whatever its case and accents: `contains(VastMeadow.fold(site),'ings')`. */
interface Looked {
  readonly property: string
  readonly word: string
}

function lookedFor(expression: Expression): Looked | null {
  if (expression.kind !== 'call' || expression.name !== 'contains') return null
  const [text, word] = expression.args
  if (text?.kind !== 'call' || text.name !== 'VastMeadow.fold') return null
  const [property] = text.args
  if (property?.kind !== 'property' || word?.kind !== 'literal' || word.type !== 'text') return null
  // A text of several lines could be found across two columns.
  return /[\r\n\u0000]/.test(word.text) ? null : { property: property.name, word: word.text }
}

/** What is asked with `or`, part by part. */
export function waysOf(expression: Expression): Expression[] {
  return expression.kind === 'binary' && expression.operator === 'or'
    ? [...waysOf(expression.left), ...waysOf(expression.right)]
    : [expression]
}

/**
 * A word that is looked for in several columns is looked for once, in all of them as one text: folding is dear where an
 * engine does it text by text. `rest`: what is asked besides; null: there are no such columns.
 */
export function foldedLines(
  ways: readonly Expression[],
  { dialect, columns }: Scope,
): { readonly met: Sql; readonly rest: readonly Expression[] } | null {
  const { lines } = dialect
  if (!lines) return null
  const found = new Map<string, Sql[]>()
  const rest: Expression[] = []
  for (const way of ways) {
    const looked = lookedFor(way)
    const column = looked && columns.get(looked.property)
    if (looked && column?.type === 'text' && !column.few)
      found.set(looked.word, [...(found.get(looked.word) ?? []), column.sql])
    else rest.push(way)
  }
  const many = [...found].filter(([, texts]) => texts.length > 1)
  if (many.length === 0 || many.length < found.size) return null
  const met = many.map(([word, texts]) =>
    dialect.contains(dialect.fold(sql`(${lines(texts)})`), sql`cast(${word} as ${dialect.types.text})`),
  )
  return { met: sql`(${sql.join(met, sql` or `)})`, rest }
}
