/** Formats of rows as text. */
const TEXT_FORMATS = ['csv', 'json', 'ndjson'] as const
export type TextFormat = (typeof TEXT_FORMATS)[number]

/** Formats that hold rows column by column, in batches. */
const BATCH_FORMATS = ['parquet', 'arrow'] as const
export type BatchFormat = (typeof BATCH_FORMATS)[number]
export const isBatchFormat = (format: string): format is BatchFormat =>
  BATCH_FORMATS.some(one => one === format)

/** Formats in which rows can be taken away; `xlsx`: a spreadsheet workbook, as Office Open XML has it. */
export const EXPORT_FORMATS = [...TEXT_FORMATS, 'xlsx', ...BATCH_FORMATS] as const
export type ExportFormat = (typeof EXPORT_FORMATS)[number]
