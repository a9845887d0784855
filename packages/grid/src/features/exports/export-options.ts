import type { ExportFormat, TextRules } from '@vast-meadow/engine'

export interface ExportProgress {
  /** Rows that were written, and rows that there are. */
  readonly done: number
  readonly of: number
}

/** What is taken away as a file, and how it is written. */
export interface ExportOptions {
  /** Default: `csv`. */
  readonly format?: ExportFormat
  /** Those that pass (default) or are selected, in their order, or all as they came. */
  readonly rows?: 'passing' | 'selected' | 'all'
  /** The shown columns in their order (default), all of the definition, or these. */
  readonly columns?: 'shown' | 'all' | readonly string[]
  /** `shown`: as the columns write their values; `raw`: as other programs read them (default). */
  readonly values?: 'shown' | 'raw'
  /**
   * Of rows that pass, where they are grouped: the groups with what columns come to in them as lines of their own before
   * their rows, or as further columns of each row; default: neither. Column files hold them as columns only.
   */
  readonly groups?: 'none' | 'lines' | 'columns'
  /** Of CSV: what stands between cells; default: a comma. */
  readonly separator?: TextRules['separator']
  /** Of CSV: a text that a spreadsheet would take for a formula gets an apostrophe before it; default: true. */
  readonly neutral?: boolean
  /** Of CSV: begins with a byte-order mark, by which some spreadsheets know that it is UTF-8; default: false. */
  readonly mark?: boolean
  readonly signal?: AbortSignal
  readonly onProgress?: (progress: ExportProgress) => void
}
