import type { FileHead } from './bytes/text-blocks.ts'
import { namedDelimiter } from './csv/marks.ts'
import { detectDelimiter } from './csv/detect.ts'
import { Records, Scanner } from './csv/scan.ts'
import type { FileFormat, ReadOptions } from './read-report.ts'

/** Smaller files are read as soon. Packed ones hold several times as much. */
const WORTH_FROM_BYTES = 4 << 20
const PACKED_BYTES = 1 << 20
const LINE_FEED = 10

/** Whether it is worth while to show the first rows of a file before all of them. */
export const hasMoreThanHead = (blob: Blob, head: FileHead): boolean =>
  !head.whole && blob.size >= (head.gzip ? PACKED_BYTES : WORTH_FROM_BYTES)

/**
 * The beginning of a text file as a file of its own, which ends where a row does. `sample`: the head as UTF-8. Null: no
 * row of it is in sight.
 */
export function beginningOf(
  format: FileFormat,
  sample: Uint8Array<ArrayBuffer>,
  options: ReadOptions,
): { readonly blob: Blob; readonly options: ReadOptions } | null {
  const end = endOfRows(format, sample, options)
  if (end === 0) return null
  return { blob: new Blob([sample.subarray(0, end)]), options: { ...options, format, encoding: 'utf-8' } }
}

function endOfRows(format: FileFormat, sample: Uint8Array, options: ReadOptions): number {
  switch (format) {
    case 'csv': {
      const comment = options.comment || null
      const delimiter = options.delimiter || namedDelimiter(sample) || detectDelimiter(sample, false, comment)
      const taken = new Scanner(delimiter, comment).scan(sample, sample.length, false, new Records())
      return typeof taken === 'number' ? taken : 0
    }
    case 'ndjson':
      return sample.lastIndexOf(LINE_FEED) + 1
    case 'json':
      // A list that is cut off keeps the rows before.
      return sample.length
    default:
      return 0
  }
}
