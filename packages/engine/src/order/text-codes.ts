import { hasBit } from '../table/bits.ts'
import type { CodedColumn, PlainColumn } from '../table/column.ts'
import { wholeBlock, type TextBlock } from '../table/text-block.ts'
import { SLICE, type Work } from '../work/work.ts'
import type { Codes } from './counting.ts'
import type { SortTexts } from './sort-texts.ts'

/** Codes of a text column with a dictionary: each distinct text is collated once. */
export function* codedTextCodes(column: CodedColumn, collator: Intl.Collator, sort: SortTexts): Work<Codes> {
  const ranks = yield* ranksOfTexts(column.texts, collator, sort)
  const size = ranks.length
  const codes = new Uint32Array(column.codes.length)
  for (let from = 0; from < codes.length; from += SLICE) {
    const to = Math.min(codes.length, from + SLICE)
    for (let i = from; i < to; i++) codes[i] = ranks[column.codes[i]]
    yield
  }
  markMissing(codes, column.missing, size)
  return { codes, size }
}

/** Codes of a text column without a dictionary: its rows are sorted once, equal neighbours share a code. */
export function* plainTextCodes(column: PlainColumn, collator: Intl.Collator, sort: SortTexts): Work<Codes> {
  const texts = wholeBlock(column.texts)
  const sorted = yield* sort(texts, collator)
  const codes = new Uint32Array(sorted.length)
  let code = 0
  for (let i = 0; i < sorted.length; i++) {
    if (i > 0 && !sameBytes(texts, sorted[i - 1], sorted[i])) code++
    codes[sorted[i]] = code
    if (i % SLICE === 0) yield
  }
  const size = sorted.length === 0 ? 0 : code + 1
  markMissing(codes, column.missing, size)
  return { codes, size }
}

function markMissing(codes: Uint32Array, missing: Uint32Array | null, size: number): void {
  if (missing) for (let row = 0; row < codes.length; row++) if (hasBit(missing, row)) codes[row] = size
}

function* ranksOfTexts(texts: TextBlock, collator: Intl.Collator, sort: SortTexts): Work<Uint32Array> {
  const sorted = yield* sort(texts, collator)
  const ranks = new Uint32Array(sorted.length)
  for (let i = 0; i < sorted.length; i++) ranks[sorted[i]] = i
  return ranks
}

function sameBytes(texts: TextBlock, a: number, b: number): boolean {
  const { bytes, offsets } = texts
  const start = offsets[a]
  const length = offsets[a + 1] - start
  if (offsets[b + 1] - offsets[b] !== length) return false
  for (let i = 0, at = offsets[b]; i < length; i++) if (bytes[start + i] !== bytes[at + i]) return false
  return true
}
