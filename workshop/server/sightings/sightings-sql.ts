import type { RecipeInput } from '@vast-meadow/engine'

type Column = RecipeInput['columns'][number]

/** A number from 0 up to 1 that follows from the row and the column alone. */
const chance = (nth: number, stream = 0): string =>
  `((hash(i * 1000003 + ${nth * 101 + stream}) >> 11) / 9007199254740992.0)`

const quoted = (text: string): string => `'${text.replaceAll("'", "''")}'`
const list = (texts: readonly string[]): string => `[${texts.map(quoted).join(', ')}]`
const leaning = (of: string, lean = 1): string => (lean > 1 ? `power(${of}, ${lean})` : of)

/** One of some texts by a chance. */
const oneOf = (texts: readonly string[], by: string): string =>
  `(${list(texts)})[1 + cast(floor(${by} * ${texts.length}) as integer)]`

const composed = ({ parts, between = ' ' }: Extract<Column, { kind: 'compose' }>): string[] =>
  parts.reduce<string[]>(
    (before, part) =>
      before.length === 0 ? [...part] : before.flatMap(one => part.map(other => one + between + other)),
    [],
  )

/** The texts that recur in a column, in the order in which they are made; null: they hardly do. */
function textsOf(column: Column, columns: readonly Column[]): string[] | null {
  switch (column.kind) {
    case 'pick':
      return [...column.of]
    case 'compose':
      return composed(column)
    case 'within': {
      const outer = columns.find(({ key }) => key === column.column)
      const outside = outer ? (textsOf(outer, columns) ?? []) : []
      return outside.flatMap(text =>
        Array.from({ length: column.count }, (_, i) => text + column.between + (i + 1)),
      )
    }
    default:
      return null
  }
}

const typeName = (nth: number): string => `texts_${nth}`

/** The statements that make an empty table for the rows of a recipe. Texts that recur are kept once, in their order. */
export function tableStatements(table: string, { columns }: RecipeInput, locale: string): string[] {
  const collator = new Intl.Collator(locale)
  const types = columns.flatMap((column, nth) => {
    const texts = textsOf(column, columns)
    if (!texts) return []
    const ordered = [...new Set(texts)].sort(collator.compare)
    return [`create type ${typeName(nth)} as enum (${ordered.map(quoted).join(', ')})`]
  })
  const fields = columns.map((column, nth) => `"${column.key}" ${sqlType(column, nth, columns)}`)
  return [...types, `create table "${table}" (${fields.join(', ')})`]
}

function sqlType(column: Column, nth: number, columns: readonly Column[]): string {
  switch (column.kind) {
    case 'count':
      return 'integer not null'
    case 'number':
      return column.decimals ? `decimal(${9 + column.decimals}, ${column.decimals})` : 'integer'
    case 'date':
      return 'date'
    case 'time':
      return 'timestamptz'
    case 'yes-no':
      return 'boolean'
    default:
      return textsOf(column, columns) ? typeName(nth) : 'varchar'
  }
}

/** The statement that adds rows `from` up to `to` of a recipe. */
export function rowsStatement(table: string, { columns }: RecipeInput, from: number, to: number): string {
  const cells = columns.map((column, nth) => {
    const cell = cellOf(column, nth, columns)
    return column.missing
      ? `case when ${chance(nth, 99)} < ${column.missing} then null else ${cell} end`
      : cell
  })
  return `insert into "${table}" select ${cells.join(', ')} from range(${from}, ${to}) r(i)`
}

const DAY_S = 86_400
const daysBetween = (from: string, to: string): number => (Date.parse(to) - Date.parse(from)) / (DAY_S * 1000)

function cellOf(column: Column, nth: number, columns: readonly Column[]): string {
  const by = chance(nth)
  switch (column.kind) {
    case 'count':
      return `i + ${column.start ?? 1}`
    case 'number':
      return `round(${column.from} + ${column.to - column.from} * ${leaning(by, column.lean)}, ${column.decimals ?? 0})`
    case 'date':
      return `date '${column.from}' + cast(floor(${by} * ${daysBetween(column.from, column.to) + 1}) as integer)`
    case 'time':
      return `timestamptz '${column.from} 00:00:00+00' + to_seconds(floor(${by} * ${daysBetween(column.from, column.to) * DAY_S}))`
    case 'yes-no':
      return `${by} < ${column.yes ?? 0.5}`
    case 'pick':
      return oneOf(column.of, leaning(by, column.lean))
    case 'compose':
      return oneOf(composed(column), leaning(by, column.lean))
    case 'within': {
      const outer = columns.findIndex(({ key }) => key === column.column)
      const around = columns[outer]
      if (!around) throw new RangeError(`There is no column “${column.column}”.`)
      const inner = `cast(1 + floor(${by} * ${column.count}) as integer)`
      return `${cellOf(around, outer, columns)} || ${quoted(column.between)} || ${inner}`
    }
    case 'remark': {
      const { least, most, words } = column
      const said = Array.from({ length: most }, (_, i) => oneOf(words, chance(nth, i + 1)))
      return `array_to_string(([${said.join(', ')}])[1:${least} + cast(floor(${by} * ${most - least + 1}) as integer)], ' ')`
    }
  }
}
