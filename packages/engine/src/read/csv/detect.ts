import { decodeBytes } from '../../table/text-block.ts'
import { parseField, TEXT } from '../types/parse-field.ts'
import { Records, Scanner } from './scan.ts'

/** Delimiters that are tried, likelier ones first. */
export const DELIMITERS: readonly string[] = [',', ';', '\t', '|']

const SAMPLE_RECORDS = 100

/**
 * The delimiter that splits the sampled records into the same number of fields most often; among equals the one
 * with more fields.
 */
export function detectDelimiter(sample: Uint8Array, whole: boolean, comment: string | null = null): string {
  let [best] = DELIMITERS
  let bestScore = 0
  for (const delimiter of DELIMITERS) {
    const records = sampleRecords(sample, whole, delimiter, comment)
    const fields = Array.from({ length: Math.min(records.count, SAMPLE_RECORDS) }, (_, r) =>
      fieldCount(records, r),
    )
    const usual = mostFrequent(fields)
    if (usual < 2) continue
    const share = fields.filter(count => count === usual).length / fields.length
    const score = share * 1000 + Math.min(usual, 500)
    if (score > bestScore) {
      best = delimiter
      bestScore = score
    }
  }
  return best
}

/** Whether nearly all records have as many fields as the first, and that more than one. */
export function isEvenlyParted(sample: Uint8Array, whole: boolean): boolean {
  const records = sampleRecords(sample, whole, detectDelimiter(sample, whole), null)
  const count = Math.min(records.count, SAMPLE_RECORDS)
  if (count < 2 || fieldCount(records, 0) < 2) return false
  let same = 0
  for (let r = 0; r < count; r++) if (fieldCount(records, r) === fieldCount(records, 0)) same++
  return same >= count * 0.9
}

/**
 * Whether the first record names the columns: none of its fields reads as a number, date or truth value, and either
 * some column below does, or no field of it comes again in its column.
 */
export function detectHeader(
  sample: Uint8Array,
  whole: boolean,
  delimiter: string,
  comment: string | null = null,
): boolean {
  const records = sampleRecords(sample, whole, delimiter, comment)
  const count = Math.min(records.count, SAMPLE_RECORDS)
  if (count === 0) return true
  const names = recordTexts(sample, records, 0)
  const isData = (text: string): boolean => {
    const bytes = new TextEncoder().encode(text)
    return parseField(bytes, 0, bytes.length) !== TEXT
  }
  if (names.some(name => name !== '' && isData(name))) return false
  for (let r = 1; r < count; r++) {
    const texts = recordTexts(sample, records, r)
    if (texts.some(text => text !== '' && isData(text))) return true
  }
  for (let r = 1; r < count; r++) {
    if (recordTexts(sample, records, r).some((text, c) => text !== '' && text === names[c])) return false
  }
  return true
}

function sampleRecords(
  sample: Uint8Array,
  whole: boolean,
  delimiter: string,
  comment: string | null,
): Records {
  const records = new Records()
  new Scanner(delimiter, comment).scan(sample, sample.length, whole, records)
  if (records.count > 0 || whole) return records
  // The first record is longer than what is looked at; its beginning tells as much.
  records.reset()
  new Scanner(delimiter, comment).scan(sample, sample.length, true, records)
  return records
}

const fieldCount = (records: Records, r: number): number => records.firstField[r + 1] - records.firstField[r]

function recordTexts(bytes: Uint8Array, records: Records, r: number): string[] {
  const texts: string[] = []
  for (let f = records.firstField[r]; f < records.firstField[r + 1]; f++) {
    texts.push(decodeBytes(bytes, records.starts[f], records.ends[f]))
  }
  return texts
}

function mostFrequent(counts: readonly number[]): number {
  const seen = new Map<number, number>()
  for (const count of counts) seen.set(count, (seen.get(count) ?? 0) + 1)
  let best = 0
  for (const [count, times] of seen) if (times > (seen.get(best) ?? 0)) best = count
  return best
}
