import { decodeBytes } from '../table/text-block.ts'
import type { FileHead } from './bytes/text-blocks.ts'
import { scanValue, skipSpace } from './json/scan-json.ts'
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
  return isJson(sample, at, head.whole)
}

/** One document, or one value a line: told by what stands behind the first value. */
function isJson(sample: Uint8Array, at: number, whole: boolean): FileFormat {
  const end = scanValue(sample, at, sample.length, whole)
  if (end < 0) return 'json'
  const next = skipSpace(sample, end, sample.length)
  const feed = sample.indexOf(10, end)
  if (next < sample.length) return feed >= end && feed < next ? 'ndjson' : 'json'
  return 'json'
}
