import type { Format } from '../table/format.ts'
import { DAY_MS } from '../table/calendar.ts'
import type { Field, Value } from '../table/column.ts'
import { plainWriter } from '../table/plain-text.ts'
import { zoneOffset } from '../table/zone.ts'
import { cellWriter, headOf, type CellWriter, type TextWriter } from './cell-writer.ts'
import type { WrittenColumn } from './written-column.ts'

/** Rows of a sheet, its headings included, that any program reads. */
export const MOST_SHEET_ROWS = 1_048_576
/** Characters that a cell of a sheet holds; longer texts are cut there. */
const MOST_CHARACTERS = 32_767
/** The day that sheets count as 0. They take 1900 for a leap year, so that days before March of it are counted differently. */
const FIRST_DAY = 25_569
const FIRST_SAFE = 61
/** Numbers with more digits than a double has stay texts. */
const MOST_DIGITS = 15

/** How a column of a sheet is written beside its values. */
export interface SheetColumn {
  readonly format: Format
  /** The number of its cells' style among the workbook's. */
  readonly style: number
}

/**
 * The writer of the rows of a sheet: numbers, truths, days and moments as what they are, all else as texts. Texts are no
 * formulas here, whatever they begin with. `levels`: by line, in how many groups it stands.
 */
export function sheetWriter(
  columns: readonly WrittenColumn[],
  sheet: readonly SheetColumn[],
  values: 'shown' | 'raw',
  levels: readonly number[],
): TextWriter {
  const write = (column: WrittenColumn, nth: number): CellWriter => sheetCell(column, sheet[nth], values)
  return {
    cells: columns.map(write),
    heads: columns.map((column, nth) => write(headOf(column), nth)),
    before: nth => (levels[nth] > 0 ? `<row outlineLevel="${levels[nth]}">` : '<row>'),
    between: '',
    after: '</row>',
  }
}

function sheetCell(
  { field, column, show }: WrittenColumn,
  sheet: SheetColumn,
  values: 'shown' | 'raw',
): CellWriter {
  const write = values === 'shown' ? (value: Value) => textCell(show(value)) : valueCell(field, sheet)
  return cellWriter(field, column, '<c/>', write)
}

function valueCell(field: Field, { format, style }: SheetColumn): (value: Value) => string {
  const styled = style > 0 ? ` s="${style}"` : ''
  const plain = plainWriter(field)
  const number = (value: number): string => `<c${styled}><v>${value}</v></c>`
  /** Days and moments that sheets do not count alike are written out. */
  const counted = (days: number, value: Value): string =>
    days >= FIRST_SAFE ? number(days) : textCell(plain(value))
  switch (field.type) {
    case 'integer':
    case 'number':
      return value => {
        if (typeof value === 'number' && Number.isFinite(value)) return number(value)
        const text = plain(value)
        const isExact = text.replace(/\D/g, '').length <= MOST_DIGITS && /^-?\d+(?:\.\d+)?$/.test(text)
        return isExact ? number(Number(text)) : textCell(text)
      }
    case 'boolean':
      return value => `<c t="b"><v>${value === true ? 1 : 0}</v></c>`
    case 'date':
      return value => counted(Number(value) + FIRST_DAY, value)
    case 'time':
      return value => number(Number(value) / DAY_MS)
    case 'datetime': {
      const { zone } = format
      const offset = field.zoned && zone !== undefined && zone !== 'UTC' ? zoneOffset(zone) : null
      return value => {
        const ms = Number(value)
        return counted((ms + (offset?.(ms) ?? 0)) / DAY_MS + FIRST_DAY, value)
      }
    }
    default:
      return value => textCell(plain(value))
  }
}

const textCell = (text: string): string => `<c t="inlineStr"><is>${sheetString(text)}</is></c>`

/** A text as an element. Room at its ends, and lines, would be taken for the writing of XML. */
export const sheetString = (text: string): string =>
  `<t${/^\s|\s$|\n/.test(text) ? ' xml:space="preserve"' : ''}>${sheetText(text)}</t>`

/** Characters that XML does not have, and what looks like the sign for one, as `_x000B_`. */
const CONTROL =
  /[\u0000-\u0008\u000B\u000C\u000D\u000E-\u001F\uFFFE\uFFFF]|_(?=x[0-9A-Fa-f]{4}_)|[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/g

/** A text within XML, as Office Open XML writes it. */
export const sheetText = (text: string): string =>
  text
    .slice(0, MOST_CHARACTERS)
    .replace(CONTROL, sign => `_x${sign.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}_`)
    .replace(/[&<>]/g, sign => (sign === '&' ? '&amp;' : sign === '<' ? '&lt;' : '&gt;'))
