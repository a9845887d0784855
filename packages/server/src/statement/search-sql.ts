import { sql } from 'kysely'
import type { Sql } from '../dialect/dialect.ts'
import type { SearchTerm } from '../language/parse-search.ts'
import { wordText } from './expression-sql.ts'
import type { Scope } from './scope.ts'

/** Rows of which every word stands in some text or tag, without regard to case and accents. */
export function searchSql(term: SearchTerm, scope: Scope): Sql {
  switch (term.kind) {
    case 'not':
      return sql`not ${searchSql(term.of, scope)}`
    case 'and':
    case 'or': {
      const sides = term.terms.map(one => searchSql(one, scope))
      return sql`(${sql.join(sides, term.kind === 'and' ? sql` and ` : sql` or `)})`
    }
    default:
      return wordSql(term.text, scope)
  }
}

function wordSql(word: string, { dialect, columns }: Scope): Sql {
  const wanted = dialect.fold(sql`${wordText(word)}`)
  const holds = (text: Sql): Sql => dialect.contains(dialect.fold(text), wanted)
  const texts = [...columns.values()].filter(({ type, few }) => type === 'text' && !few)
  const { lines } = dialect
  if (lines && texts.length > 1 && !/[\r\n]/.test(word)) {
    const all = holds(sql`(${lines(texts.map(({ sql: of }) => of))})`)
    const others = [...columns].filter(([, column]) => !texts.includes(column))
    return others.some(([, { type }]) => type === 'text' || type === 'tags')
      ? sql`(${all} or ${wordSql(word, { dialect, columns: new Map(others) })})`
      : all
  }
  const places = [...columns.values()].flatMap(({ sql: of, type, few }) => {
    if (few) return [dialect.sure(sql`${of} in (select one from (${few}) as few where ${holds(sql`one`)})`)]
    if (type === 'text') return [dialect.sure(holds(of))]
    return type === 'tags' ? [dialect.sure(dialect.anyOf(of, holds))] : []
  })
  return places.length === 0 ? sql`false` : sql`(${sql.join(places, sql` or `)})`
}
