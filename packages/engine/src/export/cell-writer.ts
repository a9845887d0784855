import type { Column, Field, Value } from '../table/column.ts'
import { valueAt } from '../table/column.ts'
import { plainWriter } from '../table/plain-text.ts'
import { tagsOf, type Show } from '../table/shown-text.ts'

/** Formats of rows as text. */
export const TEXT_FORMATS = ['csv', 'json', 'ndjson'] as const
export type TextFormat = (typeof TEXT_FORMATS)[number]

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

/** A column to write: its field, its cells, and how it shows them. */
export interface WrittenColumn {
  readonly field: Field
  readonly column: Column
  readonly show: Show
}

/** Writes one row. */
export type RowWriter = (row: number) => string

/** The writer of rows in a format. A row of CSV ends in a line break; of JSON nothing stands around it. */
export function rowWriter(columns: readonly WrittenColumn[], rules: TextRules): RowWriter {
  if (rules.format === 'csv') {
    const { separator = ',' } = rules
    const cells = columns.map(column => csvCell(column, rules))
    return row => `${cells.map(cell => cell(row)).join(separator)}\r\n`
  }
  const cells = columns.map(column => jsonMember(column, rules))
  return row => `{${cells.map(cell => cell(row)).join(',')}}`
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

function csvCell({ field, column, show }: WrittenColumn, rules: TextRules): RowWriter {
  const write = rules.values === 'raw' ? plainWriter(field) : show
  const isText = field.type === 'text' || field.type === 'tags'
  return row => {
    const value = valueAt(column, row)
    if (value === null) return ''
    const text = write(value)
    return quoted(isText ? neutralised(text, rules) : text, rules)
  }
}

function jsonMember({ field, column, show }: WrittenColumn, { values }: TextRules): RowWriter {
  const name = JSON.stringify(field.key)
  const write = values === 'raw' ? jsonValue(field) : (value: Value) => JSON.stringify(show(value))
  return row => {
    const value = valueAt(column, row)
    return `${name}:${value === null ? 'null' : write(value)}`
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
