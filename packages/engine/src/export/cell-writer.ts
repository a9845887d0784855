import type { TextFormat } from './formats.ts'
import type { Field, Value } from '../table/column.ts'
import { isMissing, valueAt } from '../table/column.ts'
import { plainWriter } from '../table/plain-text.ts'
import { tagsOf } from '../table/shown-text.ts'
import type { Work } from '../work/work.ts'
import { HEAD_LINE, type WrittenColumn, type WrittenLines } from './written-column.ts'

export interface TextRules {
  readonly format: TextFormat
  /** `shown`: as the columns write their values; `raw`: as other programs read them. */
  readonly values: 'shown' | 'raw'
  /** Of CSV: what stands between cells. */
  readonly separator?: ',' | ';' | '\t'
  /**
   * Of CSV: a text that a spreadsheet would take for a formula gets an apostrophe before it; numbers and dates never do.
   * Default: true.
   */
  readonly neutral?: boolean
}

/** Writes a column's cell of one line: by the row's number in the table, or by the line's place in its part. */
export type CellWriter = (row: number, nth: number) => string

/** How lines become texts: what each column writes, and what stands before, between and behind the cells of a line. */
export interface TextWriter {
  readonly cells: readonly CellWriter[]
  /** Of the heads of groups. */
  readonly heads: readonly CellWriter[]
  readonly before: (nth: number) => string
  readonly between: string
  readonly after: string
}

/** The writer of rows in a format. A row of CSV ends in a line break; of JSON nothing stands around it. */
export function textWriter(columns: readonly WrittenColumn[], rules: TextRules): TextWriter {
  const isCsv = rules.format === 'csv'
  const write = isCsv ? csvCell : jsonMember
  const before = (): string => (isCsv ? '' : '{')
  return {
    cells: columns.map(column => write(column, rules)),
    heads: columns.map(column => write(headOf(column), rules)),
    before,
    between: isCsv ? (rules.separator ?? ',') : ',',
    after: isCsv ? '\r\n' : '}',
  }
}

/** What a column writes in the lines of groups' heads. */
export function headOf({ heads, ...column }: WrittenColumn): WrittenColumn {
  if (column.column.kind === 'part') return column
  const nothing = { field: column.field, show: column.show, column: { kind: 'part' as const, values: [] } }
  const { field, ...of } = heads ?? nothing
  return { ...column, ...of, field: { ...field, key: column.field.key } }
}

/** Lines as texts, column by column: so each column's cells are read as they lie, which is a fifth quicker than row by row. */
export function* writeRows(
  { cells, heads, before, between, after }: TextWriter,
  rows: WrittenLines,
): Work<string[]> {
  const texts = Array.from(rows, (_, nth) => before(nth))
  for (const [nth, cell] of cells.entries()) {
    const first = nth === 0 ? '' : between
    const head = heads[nth]
    for (let i = 0; i < rows.length; i++)
      texts[i] += first + (rows[i] === HEAD_LINE ? head(HEAD_LINE, i) : cell(rows[i], i))
    yield
  }
  for (let i = 0; i < rows.length; i++) texts[i] += after
  return texts
}

/** The line of headings of CSV. */
export const csvHeadings = (titles: readonly string[], rules: TextRules): string =>
  `${titles.map(title => quoted(neutralised(title, rules), rules)).join(rules.separator ?? ',')}\r\n`

/** What spreadsheets take for the beginning of a formula (the OWASP list). */
const FORMULA = /^[=+\-@\t\r]/

const neutralised = (text: string, { neutral = true }: TextRules): string =>
  neutral && FORMULA.test(text) ? `'${text}` : text

/** A field as RFC 4180 has it. An empty text stands in quotes, so that it differs from a missing one. */
function quoted(text: string, { separator = ',' }: TextRules): string {
  if (text === '') return '""'
  return text.includes(separator) || /["\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
}

function csvCell({ field, column, show }: WrittenColumn, rules: TextRules): CellWriter {
  const write = rules.values === 'raw' ? plainWriter(field) : show
  const isText = field.type === 'text' || field.type === 'tags'
  // Digits, days and truths as other programs read them hold nothing that would have to stand in quotes.
  if (rules.values === 'raw' && !isText) return cellWriter(field, column, '', write)
  return cellWriter(field, column, '', value => {
    const text = write(value)
    return quoted(isText ? neutralised(text, rules) : text, rules)
  })
}

function jsonMember({ field, column, show }: WrittenColumn, { values }: TextRules): CellWriter {
  const name = JSON.stringify(field.key)
  const write = values === 'raw' ? jsonValue(field) : (value: Value) => JSON.stringify(show(value))
  return cellWriter(field, column, `${name}:null`, value => `${name}:${write(value)}`)
}

/** Beyond this many different days what was written is forgotten, so that memory is bounded. */
const MOST_REMEMBERED = 32_768

/** Texts that recur are written once, days too; numbers and moments hardly recur, and are written faster than looked up. */
export function cellWriter(
  field: Field,
  column: WrittenColumn['column'],
  missing: string,
  write: (value: Value) => string,
): CellWriter {
  if (column.kind === 'part') {
    const { values } = column
    return (_, nth) => {
      const value = values[nth] ?? null
      return value === null ? missing : write(value)
    }
  }
  if (column.kind === 'coded') {
    const known: string[] = []
    return row => {
      if (isMissing(column, row)) return missing
      const code = column.codes[row]
      return (known[code] ??= write(valueAt(column, row)))
    }
  }
  if (column.kind === 'number' && field.type === 'date') {
    const known = new Map<number, string>()
    return row => {
      if (isMissing(column, row)) return missing
      const value = column.values[row]
      const before = known.get(value)
      if (before !== undefined) return before
      if (known.size >= MOST_REMEMBERED) known.clear()
      const text = write(value)
      known.set(value, text)
      return text
    }
  }
  return row => {
    const value = valueAt(column, row)
    return value === null ? missing : write(value)
  }
}

/** JSON has no sign of nothing but a number’s own, and no infinity. */
const jsonNumber = (value: Value): string =>
  typeof value !== 'number'
    ? String(value)
    : Object.is(value, -0)
      ? '-0'
      : Number.isFinite(value)
        ? String(value)
        : 'null'

/** Numbers as numbers, those of 64 bits by all of their digits; tags as a list. */
function jsonValue(field: Field): (value: Value) => string {
  switch (field.type) {
    case 'integer':
    case 'number':
      return jsonNumber
    case 'boolean':
      return String
    case 'tags':
      return value => JSON.stringify(tagsOf(String(value)))
    default: {
      const write = plainWriter(field)
      return value => JSON.stringify(write(value))
    }
  }
}
