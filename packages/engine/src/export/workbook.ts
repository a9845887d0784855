import type { Format } from '../table/format.ts'
import type { Field } from '../table/column.ts'
import { sheetString, sheetText } from './sheet-writer.ts'

/** A column of the one sheet of a workbook. */
export interface WorkbookColumn {
  readonly title: string
  readonly field: Field
  readonly format: Format
  /** In CSS px. */
  readonly width: number
}

export interface Workbook {
  readonly name: string
  readonly columns: readonly WorkbookColumn[]
  /** Columns from the first on that stay in view, as the headings do. */
  readonly pinned: number
  /** Levels of groups. */
  readonly levels: number
  /** Cells hold what is shown, so that none needs a format. */
  readonly asShown: boolean
}

/** A workbook around the rows of its sheet: what stands before them and behind them, and the files beside the sheet. */
export interface WorkbookFiles {
  readonly sheet: string
  readonly before: string
  readonly after: string
  readonly others: Readonly<Record<string, string>>
}

/** The styles that are always there: plain cells and headings. */
const FIXED_STYLES = 2
/** The numbers of own formats begin here. */
const FIRST_FORMAT = 164
/** Width of a digit in the workbook's font, and the room beside a cell's text, in px. */
const [DIGIT_PX, BESIDE_PX] = [7, 5]

const XML = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n'
const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main'
const RELATIONS = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006'

/** By column: the number of the style of its cells. */
export function styleNumbers({ columns, asShown }: Pick<Workbook, 'columns' | 'asShown'>): number[] {
  const codes = formatCodes(columns)
  return columns.map(column => {
    const code = asShown ? null : formatCode(column)
    return code === null ? 0 : FIXED_STYLES + codes.indexOf(code)
  })
}

const formatCodes = (columns: readonly WorkbookColumn[]): string[] => [
  ...new Set(columns.map(formatCode).filter(code => code !== null)),
]

/** Office Open XML, part 1: one sheet, headings that stay in view, a style for each format of numbers and days. */
export function workbookFiles(workbook: Workbook): WorkbookFiles {
  const { columns, pinned, levels, name } = workbook
  const codes = formatCodes(columns)
  const pane = `<pane${pinned > 0 ? ` xSplit="${pinned}"` : ''} ySplit="1" topLeftCell="${columnLetters(pinned)}2" activePane="${pinned > 0 ? 'bottomRight' : 'bottomLeft'}" state="frozen"/>`
  const widths = columns
    .map(({ width }, nth) => {
      const digits = Math.max(2, (width - BESIDE_PX) / DIGIT_PX).toFixed(2)
      return `<col min="${nth + 1}" max="${nth + 1}" width="${digits}" customWidth="1"/>`
    })
    .join('')
  const headings = columns
    .map(({ title }) => `<c t="inlineStr" s="1"><is>${sheetString(title)}</is></c>`)
    .join('')
  const before = `${XML}<worksheet xmlns="${MAIN}"><sheetPr><outlinePr summaryBelow="0"/></sheetPr><sheetViews><sheetView workbookViewId="0">${pane}</sheetView></sheetViews><sheetFormatPr defaultRowHeight="15"${levels > 0 ? ` outlineLevelRow="${levels}"` : ''}/>${widths ? `<cols>${widths}</cols>` : ''}<sheetData><row>${headings}</row>`
  return {
    sheet: 'xl/worksheets/sheet1.xml',
    before,
    after: '</sheetData></worksheet>',
    others: {
      '[Content_Types].xml': `${XML}<Types xmlns="${PACKAGE}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/><Override PartName="/xl/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml"/></Types>`,
      '_rels/.rels': `${XML}<Relationships xmlns="${PACKAGE}/relationships"><Relationship Id="rId1" Type="${RELATIONS}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
      'xl/workbook.xml': `${XML}<workbook xmlns="${MAIN}" xmlns:r="${RELATIONS}"><sheets><sheet name="${sheetName(name)}" sheetId="1" r:id="rId1"/></sheets></workbook>`,
      'xl/_rels/workbook.xml.rels': `${XML}<Relationships xmlns="${PACKAGE}/relationships"><Relationship Id="rId1" Type="${RELATIONS}/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="rId2" Type="${RELATIONS}/styles" Target="styles.xml"/></Relationships>`,
      'xl/styles.xml': stylesXml(codes),
    },
  }
}

function stylesXml(codes: readonly string[]): string {
  const formats = codes
    .map((code, nth) => `<numFmt numFmtId="${FIRST_FORMAT + nth}" formatCode="${attribute(code)}"/>`)
    .join('')
  const cells = codes
    .map(
      (_, nth) =>
        `<xf numFmtId="${FIRST_FORMAT + nth}" fontId="0" fillId="0" borderId="0" xfId="0" applyNumberFormat="1"/>`,
    )
    .join('')
  return `${XML}<styleSheet xmlns="${MAIN}">${formats ? `<numFmts count="${codes.length}">${formats}</numFmts>` : ''}<fonts count="2"><font><sz val="11"/><name val="Calibri"/></font><font><b/><sz val="11"/><name val="Calibri"/></font></fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf numFmtId="0" fontId="0" fillId="0" borderId="0"/></cellStyleXfs><cellXfs count="${FIXED_STYLES + codes.length}"><xf numFmtId="0" fontId="0" fillId="0" borderId="0" xfId="0"/><xf numFmtId="0" fontId="1" fillId="0" borderId="0" xfId="0" applyFont="1"/>${cells}</cellXfs></styleSheet>`
}

const DATE_CODES = {
  iso: 'yyyy-mm-dd',
  short: 'dd/mm/yyyy',
  medium: 'd mmm yyyy',
  long: 'd mmmm yyyy',
  month: 'mmmm yyyy',
  relative: 'yyyy-mm-dd',
}

/** How a sheet shows the values of a column, in its own language for that; null: as they are. */
function formatCode({ field, format }: Pick<WorkbookColumn, 'field' | 'format'>): string | null {
  const day = DATE_CODES[format.date ?? 'iso']
  switch (field.type) {
    case 'date':
      return day
    case 'time':
      return 'hh:mm:ss'
    case 'datetime':
      return `${day} hh:mm:ss`
    case 'integer':
    case 'number':
      return numberCode(field, format)
    default:
      return null
  }
}

function numberCode({ type, decimals: own = 0 }: Field, format: Format): string | null {
  const { number = 'plain', decimals = type === 'integer' ? 0 : own, locale = 'en' } = format
  const point = (digits: number): string => (digits > 0 ? `.${'0'.repeat(digits)}` : '')
  switch (number) {
    case 'percent':
      return `0${point(format.decimals ?? Math.max(0, own - 2))}%`
    case 'currency': {
      const parts = new Intl.NumberFormat(locale, { style: 'currency', currency: format.currency ?? 'EUR' })
      const sign = signOf(parts, 'currency')
      const digits = format.decimals ?? parts.resolvedOptions().maximumFractionDigits ?? 2
      return sign.before ? `"${sign.text}"#,##0${point(digits)}` : `#,##0${point(digits)} "${sign.text}"`
    }
    case 'unit': {
      const parts = new Intl.NumberFormat(locale, { style: 'unit', unit: format.unit ?? 'meter' })
      return `0${point(decimals)} "${signOf(parts, 'unit').text}"`
    }
    case 'grouped':
      return `#,##0${point(decimals)}`
    default:
      return decimals > 0 && type === 'number' ? `0${point(decimals)}` : null
  }
}

function signOf(
  format: Intl.NumberFormat,
  type: 'currency' | 'unit',
): { readonly text: string; readonly before: boolean } {
  const parts = format.formatToParts(1)
  const at = parts.findIndex(part => part.type === type)
  const text = (parts.at(at)?.value ?? '').replaceAll('"', '')
  return { text, before: at < parts.findIndex(part => part.type === 'integer') }
}

/** The letters by which a sheet names a column, counted from 0. */
function columnLetters(place: number): string {
  let letters = ''
  for (let left = place + 1; left > 0; left = Math.floor((left - 1) / 26))
    letters = String.fromCharCode(65 + ((left - 1) % 26)) + letters
  return letters
}

/** Names of sheets have at most 31 characters, and some never. */
const sheetName = (name: string): string =>
  attribute(
    name
      .replace(/[[\]:*?/\\]/g, ' ')
      .replace(/^'+|'+$/g, '')
      .trim()
      .slice(0, 31) || 'Rows',
  )

const attribute = (text: string): string => sheetText(text).replaceAll('"', '&quot;')
