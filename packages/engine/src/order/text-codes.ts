import { hasBit } from '../table/bits.ts'
import type { CodedColumn, PlainColumn } from '../table/column.ts'
import { allTexts, textAt, type TextBlock } from '../table/text-block.ts'
import { SLICE, type Work } from '../work/work.ts'
import { radixSort, type Codes } from './counting.ts'

export type CompareText = (a: string, b: string) => number

/** Text order: by the locale's collation, then by code units, so that different texts never tie. */
export function textComparer(collator: Intl.Collator): CompareText {
  return (a, b) => collator.compare(a, b) || (a < b ? -1 : a > b ? 1 : 0)
}

/** Codes of a text column with a dictionary: each distinct text is collated once. */
export function* codedTextCodes(column: CodedColumn, collator: Intl.Collator): Work<Codes> {
  const ranks = yield* ranksOfTexts(column.texts, collator)
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
export function* plainTextCodes(column: PlainColumn, collator: Intl.Collator): Work<Codes> {
  const { texts } = column
  const sorted = yield* sortTexts(texts, collator)
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

function* ranksOfTexts(texts: TextBlock, collator: Intl.Collator): Work<Uint32Array> {
  const sorted = yield* sortTexts(texts, collator)
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

/** Below this many texts the comparer alone is quick enough. */
const PREFIX_FROM = 2048

/** The numbers of all texts in text order. */
export function* sortTexts(texts: TextBlock, collator: Intl.Collator): Work<Uint32Array> {
  const count = texts.offsets.length - 1
  const weights = count >= PREFIX_FROM ? primaryWeights(collator) : null
  if (!weights) {
    const strings = count < PREFIX_FROM ? allTexts(texts) : yield* decodeSliced(texts, count)
    const compare = textComparer(collator)
    return iota(count).sort((a, b) => compare(strings[a], strings[b]))
  }
  return yield* sortByPrefix(texts, count, weights, textComparer(collator))
}

function* decodeSliced(texts: TextBlock, count: number): Work<string[]> {
  const out = new Array<string>(count)
  for (let i = 0; i < count; i++) {
    out[i] = textAt(texts, i)
    if (i % 16_384 === 0) yield
  }
  return out
}

function iota(count: number): Uint32Array {
  const out = new Uint32Array(count)
  for (let i = 0; i < count; i++) out[i] = i
  return out
}

/**
 * Primary collation weights of single characters, asked of the collator itself. Only characters that weigh by
 * themselves are in it (ASCII, and Latin letters with one mark); any other makes its text *uneven*.
 */
interface Weights {
  /** By code point below 0x250; 0: not in the table. */
  readonly of: Uint8Array
  readonly bits: number
}

/** Languages whose collation has no two-letter weights among the characters above. */
const LETTER_BY_LETTER = new Set(['de', 'en', 'es', 'fr', 'it', 'nl', 'pt'])
const TABLE_END = 0x250
const known = new Map<string, Weights | null>()

function primaryWeights(collator: Intl.Collator): Weights | null {
  const { locale, numeric, ignorePunctuation } = collator.resolvedOptions()
  const language = locale.split('-')[0]
  if (numeric || ignorePunctuation || locale.includes('-u-') || !LETTER_BY_LETTER.has(language)) return null
  let weights = known.get(locale)
  if (weights === undefined) known.set(locale, (weights = askWeights(locale)))
  return weights
}

function askWeights(locale: string): Weights {
  const base = new Intl.Collator(locale, { sensitivity: 'base' })
  const chars: string[] = []
  for (let code = 0x20; code < TABLE_END; code++) {
    const char = String.fromCharCode(code)
    if (
      code < 0x7f ||
      /^[A-Za-z][\u0300-\u0304\u0306-\u0308\u030a-\u030c\u0327\u0328]$/u.test(char.normalize('NFD'))
    ) {
      chars.push(char)
    }
  }
  chars.sort(base.compare)
  const of = new Uint8Array(TABLE_END)
  let weight = 1
  chars.forEach((char, i) => {
    if (i > 0 && base.compare(chars[i - 1], char) !== 0) weight++
    of[char.charCodeAt(0)] = weight
  })
  return { of, bits: 32 - Math.clz32(weight) }
}

const PREFIX_WORDS = 4

/**
 * Sorts texts by their first ~16 primary weights, packed into four words, with radix passes; equal prefixes by the
 * comparer. Right because collation compares all primary weights before any accent or case. Uneven texts are
 * sorted by the comparer and merged in.
 */
function* sortByPrefix(
  texts: TextBlock,
  count: number,
  weights: Weights,
  compare: CompareText,
): Work<Uint32Array> {
  const words = Array.from({ length: PREFIX_WORDS }, () => new Uint32Array(count))
  const even = new Uint32Array(count)
  const uneven: number[] = []
  let evenCount = 0
  for (let i = 0; i < count; i++) {
    if (packPrefix(texts, i, weights, words)) even[evenCount++] = i
    else uneven.push(i)
    if (i % 65_536 === 0) yield
  }
  let sorted: Uint32Array = even.subarray(0, evenCount)
  for (let w = PREFIX_WORDS - 1; w >= 0; w--) sorted = (yield* radixSort(words[w], sorted, evenCount)).rows
  yield* settlePrefixTies(sorted, words, texts, compare)
  if (uneven.length === 0) return sorted
  const strings = new Map(uneven.map(i => [i, textAt(texts, i)]))
  uneven.sort((a, b) => compare(strings.get(a)!, strings.get(b)!))
  yield
  return mergeIn(sorted, uneven, i => strings.get(i) ?? textAt(texts, i), compare)
}

/** Writes the prefix of text `index`; false when one of its characters has no weight of its own. */
function packPrefix(texts: TextBlock, index: number, weights: Weights, words: Uint32Array[]): boolean {
  const { bytes, offsets } = texts
  const { of, bits } = weights
  const perWord = Math.floor(32 / bits)
  const end = offsets[index + 1]
  let packed = 0
  let inWord = 0
  let word = 0
  for (let at = offsets[index]; at < end; at++) {
    let code = bytes[at]
    // Two-byte sequences reach U+07FF; longer ones start above 0xDF.
    if (code >= 0x80) {
      if (code > 0xdf) return false
      code = ((code & 0x1f) << 6) | (bytes[++at] & 0x3f)
    }
    const weight = code < TABLE_END ? of[code] : 0
    if (weight === 0) return false
    if (word === PREFIX_WORDS) continue
    packed = (packed << bits) | weight
    if (++inWord === perWord) {
      words[word++][index] = packed
      packed = inWord = 0
    }
  }
  if (inWord > 0) words[word][index] = packed << (bits * (perWord - inWord))
  return true
}

function* settlePrefixTies(
  sorted: Uint32Array,
  words: Uint32Array[],
  texts: TextBlock,
  compare: CompareText,
): Work<void> {
  const [a, b, c, d] = words
  let checked = 0
  for (let from = 0; from < sorted.length;) {
    const first = sorted[from]
    let to = from + 1
    for (; to < sorted.length; to++) {
      const next = sorted[to]
      if (a[next] !== a[first] || b[next] !== b[first] || c[next] !== c[first] || d[next] !== d[first]) break
    }
    if (to - from > 1) sortRun(sorted, from, to, texts, compare)
    if (to - checked > 16_384) {
      checked = to
      yield
    }
    from = to
  }
}

function sortRun(
  sorted: Uint32Array,
  from: number,
  to: number,
  texts: TextBlock,
  compare: CompareText,
): void {
  const run = Array.from(sorted.subarray(from, to), index => ({ index, text: textAt(texts, index) }))
  run.sort((x, y) => compare(x.text, y.text) || x.index - y.index)
  run.forEach((entry, i) => (sorted[from + i] = entry.index))
}

function mergeIn(
  sorted: Uint32Array,
  extra: readonly number[],
  text: (index: number) => string,
  compare: CompareText,
): Uint32Array {
  const out = new Uint32Array(sorted.length + extra.length)
  let taken = 0
  extra.forEach((index, nth) => {
    let low = taken
    let high = sorted.length
    const wanted = text(index)
    while (low < high) {
      const middle = (low + high) >>> 1
      if (compare(text(sorted[middle]), wanted) < 0) low = middle + 1
      else high = middle
    }
    out.set(sorted.subarray(taken, low), taken + nth)
    out[low + nth] = index
    taken = low
  })
  out.set(sorted.subarray(taken), taken + extra.length)
  return out
}
