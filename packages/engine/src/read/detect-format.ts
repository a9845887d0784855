import { decodeBytes } from '../table/text-block.ts'
import type { FileHead } from './bytes/text-blocks.ts'
import { DELIMITERS, isEvenlyParted } from './csv/detect.ts'
import { INCOMPLETE, scanned, scanValue, skipSpace } from './json/scan-json.ts'
import type { FileFormat } from './read-report.ts'

const startsWith = (bytes: Uint8Array, text: string): boolean => decodeBytes(bytes, 0, text.length) === text

/** The format that a file's first bytes tell. `sample`: its text as UTF-8. */
export function detectFormat(head: FileHead, sample: Uint8Array): FileFormat {
  const { bytes } = head
  if (startsWith(bytes, 'PAR1') || startsWith(bytes, 'PARE')) return 'parquet'
  if (startsWith(bytes, 'ARROW1')) return 'arrow'
  // An Arrow stream begins with a mark of four bytes and the length of its schema, a multiple of eight.
  if (bytes[0] === 0xff && bytes[1] === 0xff && bytes[2] === 0xff && bytes[3] === 0xff && bytes[4] % 8 === 0)
    return 'arrow'
  const at = skipSpace(sample, 0, sample.length)
  if (sample[at] !== 123 && sample[at] !== 91) return 'csv'
  return isBracketed(sample, at, head.whole) ? 'csv' : isJson(sample, at, head.whole)
}

/**
 * Whether delimited text only begins as JSON does: its first cell is a JSON value with a delimiter behind it, or a name in
 * brackets, and the lines have as many fields as the first.
 */
function isBracketed(sample: Uint8Array, at: number, whole: boolean): boolean {
  const end = scanValue(sample, at, sample.length, whole)
  if (end >= 0) return DELIMITERS.includes(String.fromCharCode(sample[end]))
  const feed = sample.indexOf(10, at)
  if (end === INCOMPLETE || feed < 0 || scanned.brokenAt > feed) return false
  return !decodeBytes(sample, at, feed).includes(':') && isEvenlyParted(sample.subarray(at), whole)
}

/** One document, or one value a line: told by what stands behind the first value. */
function isJson(sample: Uint8Array, at: number, whole: boolean): FileFormat {
  const end = scanValue(sample, at, sample.length, whole)
  // A list of objects is no row, but a document.
  const inner = sample[skipSpace(sample, at + 1, sample.length)]
  if (end < 0 || (sample[at] === 91 && inner === 123)) return 'json'
  const next = skipSpace(sample, end, sample.length)
  const feed = sample.indexOf(10, end)
  if (next < sample.length) return feed >= end && feed < next ? 'ndjson' : 'json'
  return 'json'
}
