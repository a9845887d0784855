import type { Encoding } from '../read/bytes/encoding.ts'
import type { Fault, FileFormat, ReadProblem, ReadReport } from '../read/read-report.ts'
import type { FieldType } from '../table/column.ts'
import { styleText } from './style-text.ts'
import type { ColumnReading } from '../read/types/column-reading.ts'

export const FORMAT_NAMES: Readonly<Record<FileFormat | 'rows', string>> = {
  csv: 'delimited text',
  json: 'JSON',
  ndjson: 'newline-delimited JSON',
  arrow: 'Apache Arrow',
  parquet: 'Apache Parquet',
  rows: 'row objects',
}

export const ENCODING_NAMES: Readonly<Record<Encoding, string>> = {
  'utf-8': 'UTF-8',
  'utf-16le': 'UTF-16, little-endian',
  'utf-16be': 'UTF-16, big-endian',
  'windows-1252': 'Windows-1252',
}

const DELIMITER_NAMES: Readonly<Record<string, string>> = {
  ',': 'commas',
  ';': 'semicolons',
  '\t': 'tabs',
  '|': 'bars',
  ' ': 'spaces',
}

const count = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`

/** What was read and how, in sentences, the most general first; what concerns single columns comes last. */
export const reportSentences = (report: ReadReport): string[] => [
  ...generalSentences(report),
  ...columnSentences(report),
]

/** What of single columns could be read otherwise. */
export const columnSentences = (report: ReadReport): string[] =>
  report.columns.flatMap(column => [...columnTexts(column)])

export const TYPE_NAMES: Readonly<Record<FieldType, string>> = {
  text: 'text',
  integer: 'whole numbers',
  number: 'numbers',
  boolean: 'yes or no',
  date: 'dates',
  time: 'times of day',
  datetime: 'dates with times',
  tags: 'tags',
}

/** The same without what of single columns could be read otherwise, which findings tell. */
export function generalSentences(report: ReadReport): string[] {
  const lost = report.columns.flatMap(column => [...lossTexts(column)])
  return [howText(report), ...skipped(report), ...report.faults.map(faultText), ...lost]
}

function howText({ format, gzip, encoding, byteOrderMark, csv, json }: ReadReport): string {
  const parts = [`Read as ${FORMAT_NAMES[format]}${gzip ? ', packed with gzip' : ''}`]
  if (encoding) parts.push(`in ${ENCODING_NAMES[encoding]}${byteOrderMark ? ' with a byte-order mark' : ''}`)
  if (csv) {
    parts.push(`fields parted by ${DELIMITER_NAMES[csv.delimiter] ?? `“${csv.delimiter}”`}`)
    parts.push(csv.header ? 'the first line names the columns' : 'without a header line')
  }
  if (json?.rowsPath) parts.push(`rows at ${json.rowsPath}`)
  if (json?.header) parts.push('the first row names the columns')
  return `${parts.join(', ')}.`
}

function* skipped({ csv, json, notUtf8Line }: ReadReport): Iterable<string> {
  if (notUtf8Line !== null)
    yield `Line ${notUtf8Line} is not UTF-8, so the file was taken to be Windows-1252. Choose the encoding if letters look wrong.`
  if (json?.total) yield `The document tells ${json.total.rows} rows in all, at ${json.total.path}.`
  if (!csv) return
  if (csv.delimiterLine) yield `The first line names the delimiter and is no row.`
  if (csv.blankLines > 0) yield `${count(csv.blankLines, 'blank line was', 'blank lines were')} passed over.`
  if (csv.commentLines > 0)
    yield `${count(csv.commentLines, 'line of comment was', 'lines of comment were')} passed over.`
  if (csv.renamed.length > 0) yield `Columns without a name of their own are called ${firstOf(csv.renamed)}.`
}

/** Names that are listed. */
const LISTED = 5

function firstOf(names: readonly string[]): string {
  const more = names.length - LISTED
  const listed = names.slice(0, LISTED).join(', ')
  return more > 0 ? `${listed} and so on, ${names.length} in all` : listed
}

/** A fault in one sentence, with where it was seen first. */
export function faultText({ code, count: n, examples }: Fault): string {
  const lines = examples.map(({ line }) => line)
  const more = n > lines.length ? ', …' : ''
  const where = lines.length === 0 ? '' : ` (line ${lines.join(', ')}${more})`
  switch (code) {
    case 'ragged':
      return `${count(n, 'line does', 'lines do')} not have as many fields as the first (${examples.map(({ line, text }) => `line ${line} has ${text}`).join(', ')}${more}). Short ones are padded with missing values, long ones add columns.`
    case 'over-wide':
      return `${count(n, 'line has', 'lines have')} far more fields than the first (${examples.map(({ line, text }) => `line ${line} has ${text}`).join(', ')}${more}); those beyond are together in the last column, as they stand.`
    case 'cut-character':
      return `The file ends within a character${where}, which is shown as \ufffd. Check whether it came whole.`
    case 'nul':
      return `${count(n, 'character is', 'characters are')} NUL${where}; kept as they stand.`
    case 'stray-quote':
      return `${count(n, 'field goes', 'fields go')} on after the closing quote${where}; kept as they stand.`
    case 'not-json':
      return `${count(n, 'row is', 'rows are')} not JSON${where} and left out.`
    case 'not-a-row':
      return `${count(n, 'value is', 'values are')} neither an object nor a list${where} and left out.`
    case 'behind':
      return `More stands behind the document${where}: “${examples[0]?.text.slice(0, 30) ?? ''}”. It is not read; give each document a line, or a file.`
    case 'cut-off':
      return `The file ends in the middle of a row${where}; the rows before it are here.`
    case 'commas':
      return `${count(n, 'comma between rows is', 'commas between rows are')} missing or too many${where}; all rows are there.`
    case 'doubled-key':
      return `${count(n, 'value was', 'values were')} given a second time in the same row and left out.`
    case 'unread-column':
      return `${count(n, 'column', 'columns')} cannot be read and ${n === 1 ? 'is' : 'are'} left out: ${examples.map(({ text }) => text).join('; ')}${more}.`
  }
}

/** What of a column is not as the file has it. */
function* lossTexts({ key, notNumbers = 0, finer = 0 }: ColumnReading): Iterable<string> {
  if (notNumbers > 0)
    yield `${key}: ${count(notNumbers, 'value says', 'values say')} to be no number (NaN) and ${notNumbers === 1 ? 'is' : 'are'} missing.`
  if (finer > 0)
    yield `${key}: ${count(finer, 'time is', 'times are')} told finer than milliseconds, and cut to them.`
}

function* columnTexts({
  key,
  style,
  likely,
  ambiguous,
  misfits,
  asked,
  type,
}: ColumnReading): Iterable<string> {
  const examples = misfits.examples
    .map(({ row, text }) => `“${text.slice(0, 40)}” in row ${row + 1}`)
    .join(', ')
  if (asked && misfits.count > 0)
    yield `${key}: ${count(misfits.count, 'value is', 'values are')} not ${type} and became missing: ${examples}.`
  else if (likely && misfits.count > 0)
    yield `${key} is text because ${count(misfits.count, 'value is', 'values are')} not ${styleText(likely)}: ${examples}.`
  if (ambiguous && style)
    yield `${key} was read as ${styleText(style)}; ${styleText(ambiguous)} fits as well.`
}

const megabytes = (bytes: number): string => `${Math.ceil(bytes / 2 ** 20)} MB`

/** The plain sentence for a problem: what, where, and what to do. */
export function readProblemText(problem: ReadProblem): string {
  switch (problem.code) {
    case 'empty':
      return 'There is nothing in it. Give at least a header line, or one row.'
    case 'web-page':
      return 'This is a web page and no file of rows: its address may be wrong, or the file does not lie there. Choose its format if it is meant.'
    case 'not-text': {
      const byte = problem.byte === 0 ? 'a NUL byte' : `byte ${problem.byte}`
      return `Line ${problem.line} holds ${byte}, so this is not a text file. If it comes from a spreadsheet, save it there as CSV in UTF-8.`
    }
    case 'not-utf8':
      return `Line ${problem.line} is not UTF-8 text. Choose the encoding it is written in, or save it as UTF-8.`
    case 'unclosed-quote':
      return `The quote that opens on line ${problem.line} is never closed. Close it, or double it if it belongs to the text.`
    case 'not-a-mark':
      return problem.what === 'delimiter'
        ? `${JSON.stringify(problem.given)} cannot be the delimiter: it is one character, and no quotation mark or line break. Choose another, or let it be found out.`
        : `${JSON.stringify(problem.given)} cannot begin lines of comment: it is one character, other than the delimiter, and no quotation mark or line break.`
    case 'too-uneven':
      return `Its rows differ so much in their fields that the table would need about ${megabytes(problem.needBytes)} for ${megabytes(problem.readBytes)} of text, nearly all of it empty. Check the delimiter, quotes that do not close, or whether keys of objects are really values.`
    case 'too-many-fields':
      return `Line ${problem.line} has ${problem.fields} fields; at most ${problem.most} are read. Check the delimiter, or whether keys of objects are really values.`
    case 'not-json': {
      const found = problem.found === '' ? 'the text ends' : `“${problem.found}” stands`
      return `Line ${problem.line}, column ${problem.column}: ${found} where JSON goes on otherwise. Check what wrote the file.`
    }
    case 'no-rows': {
      if (problem.lists.length === 0) return 'The document holds no list, so it has no rows.'
      const lists = problem.lists.map(path => path || 'the document itself').join(', ')
      return `There is no list of rows at “${problem.rowsPath}”. Lists are at: ${lists}.`
    }
    case 'not-rows':
      return `The list ${problem.rowsPath ? `at “${problem.rowsPath}” ` : ''}holds no rows: line ${problem.line} has “${problem.text.slice(0, 30)}”, which is neither an object nor a list.`
    case 'row-too-long':
      return `The row on line ${problem.line} is longer than ${megabytes(problem.mostBytes)}. Check whether its brackets and quotes close.`
    case 'too-large':
      return `Its table would need about ${megabytes(problem.needBytes)} of memory; here it may take ${megabytes(problem.allowedBytes)}. Take fewer columns or rows, or let a service answer with parts of it.`
    case 'encrypted':
      return `This ${problem.format} file is encrypted, and is not read here. Write it without encryption, or let a service that has the key answer with the rows.`
    case 'no-decoder':
      return `The part that reads ${problem.format} files could not be loaded: ${problem.reason}. It is a file of its own beside the engine; the stand-alone grid comes without it. Give the rows as JSON or delimited text, or use the packages.`
    case 'damaged':
      return `The ${problem.format} file cannot be read: ${problem.reason}. Check that it is whole.`
  }
}
