import type { Encoding } from './bytes/encoding.ts'
import type { ColumnReading, ColumnsReadOptions } from './types/column-reading.ts'

export const FILE_FORMATS = ['csv', 'json', 'ndjson', 'arrow', 'parquet'] as const
export type FileFormat = (typeof FILE_FORMATS)[number]

/** What a builder may say about a file; everything that is left out is found out. */
export interface ReadOptions {
  readonly format?: FileFormat
  readonly encoding?: Encoding
  /** For delimited text: one character. */
  readonly delimiter?: string
  /** For delimited text: whether the first record names the columns. */
  readonly header?: boolean
  /** For delimited text: records that begin with this character are passed over. */
  readonly comment?: string
  /** For JSON: where the list of rows lies, keys parted by points; empty: the document itself. */
  readonly rowsPath?: string
  readonly columns?: ColumnsReadOptions
}

export type FaultCode =
  /** Records with fewer or more fields than the first: padded, or with added columns. */
  | 'ragged'
  /** Records with far more fields than the first: those beyond are kept together in the last column, as they stand. */
  | 'over-wide'
  /** The file ends within a character, which became U+FFFD. */
  | 'cut-character'
  /** Characters NUL: kept as they stand. */
  | 'nul'
  /** Fields with text behind their closing quote: kept as they stand. */
  | 'stray-quote'
  /** Rows that are not JSON: left out. */
  | 'not-json'
  /** Elements of the list that are neither objects nor lists: left out. */
  | 'not-a-row'
  /** Text behind the document: not read. */
  | 'behind'
  /** The file ends in the middle: rows up to there are kept. */
  | 'cut-off'
  /** Commas between rows of a list that are missing, or too many: the rows are all there. */
  | 'commas'
  /** Fields that a row names twice: the first value holds. */
  | 'doubled-key'
  /** Columns whose type or packing cannot be read: left out. `text` names them and says why. */
  | 'unread-column'

export interface Fault {
  readonly code: FaultCode
  readonly count: number
  /** 1-based lines of the file, and what stands there. */
  readonly examples: readonly { readonly line: number; readonly text: string }[]
}

export interface CsvDetails {
  readonly delimiter: string
  readonly header: boolean
  readonly comment: string | null
  /** Its first line names the delimiter (`sep=;`), and is no row. */
  readonly delimiterLine: boolean
  readonly blankLines: number
  readonly commentLines: number
  readonly expectedFields: number
  /** Names that were made up or changed, because the header's were empty or doubled. */
  readonly renamed: readonly string[]
}

export interface JsonDetails {
  /** Where the rows lay; empty: the document itself. */
  readonly rowsPath: string
  /** Other lists in the document, with their lengths. */
  readonly lists: readonly { readonly path: string; readonly length: number }[]
  /** Values beside the rows, as text. */
  readonly beside: readonly { readonly path: string; readonly text: string }[]
  /** The number of rows that the document itself tells, and where. */
  readonly total: { readonly path: string; readonly rows: number } | null
  /** Rows are lists, and the first of them names the columns. */
  readonly header: boolean
}

/** What was read and how; everything that was not read, with examples. */
export interface ReadReport {
  readonly format: FileFormat | 'rows'
  readonly gzip: boolean
  /** null: not a text file. */
  readonly encoding: Encoding | null
  readonly byteOrderMark: boolean
  /** Line that was not UTF-8, for which the file was read as Windows-1252. */
  readonly notUtf8Line: number | null
  readonly csv: CsvDetails | null
  readonly json: JsonDetails | null
  readonly faults: readonly Fault[]
  readonly columns: readonly ColumnReading[]
}

/** Why a file could not be read: a code, and the facts that a message needs. */
export type ReadProblem =
  | { readonly code: 'empty' }
  /** A page of the web where rows were expected. */
  | { readonly code: 'web-page' }
  | { readonly code: 'not-text'; readonly line: number; readonly byte: number }
  | { readonly code: 'not-utf8'; readonly line: number }
  | { readonly code: 'unclosed-quote'; readonly line: number }
  /** What was given to be a delimiter, or to begin comments, cannot be that. */
  | { readonly code: 'not-a-mark'; readonly what: 'delimiter' | 'comment'; readonly given: string }
  /** The table would be far larger than what is read: rows that differ much in their fields. */
  | { readonly code: 'too-uneven'; readonly needBytes: number; readonly readBytes: number }
  | {
      readonly code: 'too-many-fields'
      readonly line: number
      readonly fields: number
      readonly most: number
    }
  | { readonly code: 'not-json'; readonly line: number; readonly column: number; readonly found: string }
  | { readonly code: 'no-rows'; readonly rowsPath: string; readonly lists: readonly string[] }
  /** A list whose values are no rows. */
  | { readonly code: 'not-rows'; readonly rowsPath: string; readonly line: number; readonly text: string }
  | { readonly code: 'row-too-long'; readonly line: number; readonly mostBytes: number }
  | { readonly code: 'too-large'; readonly needBytes: number; readonly allowedBytes: number }
  | { readonly code: 'encrypted'; readonly format: string }
  | { readonly code: 'no-decoder'; readonly format: string; readonly reason: string }
  | { readonly code: 'damaged'; readonly format: string; readonly reason: string }

/** Collects faults of one kind: their count, and the first few. */
export class FaultList {
  count = 0
  readonly examples: { line: number; text: string }[] = []
  readonly code: FaultCode

  constructor(code: FaultCode) {
    this.code = code
  }

  add(line: number, text: string): void {
    this.count++
    if (this.examples.length < 5) this.examples.push({ line, text: text.slice(0, 120) })
  }

  static found(...lists: readonly FaultList[]): Fault[] {
    return lists
      .filter(list => list.count > 0)
      .map(({ code, count, examples }) => ({ code, count, examples }))
  }
}
