import { setBit, type Bits } from '../table/bits.ts'
import { textAt, type TextBlock } from '../table/text-block.ts'
import type { Work } from '../work/work.ts'
import { fold } from './fold.ts'

/** Rows whose texts stand in one string; about a megabyte, so that a miss costs one `indexOf`. */
export const JOINED_ROWS = 1 << 14
/** Writing and folding a text takes up to some microseconds. */
const ROWS_A_SLICE = 1 << 10

/**
 * Folded texts of neighbouring rows in one string with a line feed between them: the browser's own `indexOf` runs
 * over it at gigabytes a second, where a call per row would cost a hundred times that.
 */
export interface JoinedText {
  readonly firstRow: number
  readonly text: string
  /** Start of each row's text, and past the last one's end. */
  readonly starts: Uint32Array
}

const ASCII = /^[\0-\x7f]*$/

/** Joins and folds the texts of `rows` rows. */
export function* joinTexts(
  firstRow: number,
  rows: number,
  textOf: (row: number) => string,
): Work<JoinedText> {
  const parts = new Array<string>(rows)
  for (let i = 0; i < rows; i++) {
    const text = textOf(firstRow + i)
    parts[i] = text.includes('\n') ? text.replaceAll('\n', ' ') : text
    if (i % ROWS_A_SLICE === ROWS_A_SLICE - 1) yield
  }
  let text = parts.join('\n')
  // Folding ASCII keeps lengths, so that all can be folded at once.
  if (ASCII.test(text)) text = text.toLowerCase()
  else {
    for (let i = 0; i < rows; i++) parts[i] = fold(parts[i])
    text = parts.join('\n')
  }
  const starts = new Uint32Array(rows + 1)
  for (let i = 0; i < rows; i++) starts[i + 1] = starts[i] + parts[i].length + 1
  return { firstRow, text, starts }
}

/** What folding makes of a byte of ASCII; line feeds become spaces. */
const FOLDED = Uint8Array.from({ length: 256 }, (_, byte) =>
  byte === 10 ? 32 : byte >= 65 && byte <= 90 ? byte + 32 : byte,
)
const decoder = new TextDecoder()

/**
 * The same from texts as they lie in memory. Bytes of ASCII are folded in one loop and turned into a string at once,
 * which takes a tenth of the time of going text by text; texts that hold other characters are folded one by one.
 */
export function* joinBlock(texts: TextBlock, firstRow: number, rows: number): Work<JoinedText> {
  if (texts.changed?.rows.some(row => row >= firstRow && row < firstRow + rows))
    return yield* joinTexts(firstRow, rows, row => textAt(texts, row))
  const { bytes, offsets } = texts
  const starts = new Uint32Array(rows + 1)
  const folded = new Uint8Array(offsets[firstRow + rows] - offsets[firstRow] + rows)
  const pieces: string[] = []
  let units = 0
  let end = 0
  const takeAscii = (): void => {
    if (end > 0) pieces.push(decoder.decode(folded.subarray(0, end)))
    end = 0
  }
  for (let i = 0; i < rows; i++) {
    starts[i] = units
    const from = offsets[firstRow + i]
    const to = offsets[firstRow + i + 1]
    if (foldAscii(bytes, from, to, folded, end)) {
      end += to - from
      folded[end++] = 10
      units += to - from + 1
    } else {
      takeAscii()
      const text = fold(textAt(texts, firstRow + i)).replaceAll('\n', ' ')
      pieces.push(text, '\n')
      units += text.length + 1
    }
    if (i % ROWS_A_SLICE === ROWS_A_SLICE - 1) yield
  }
  takeAscii()
  starts[rows] = units
  return { firstRow, text: pieces.join(''), starts }
}

/** Writes folded bytes from place `at` on; false where one of them is not ASCII. */
function foldAscii(bytes: Uint8Array, from: number, to: number, out: Uint8Array, at: number): boolean {
  let seen = 0
  for (let i = from; i < to; i++) {
    const byte = bytes[i]
    seen |= byte
    out[at++] = FOLDED[byte]
  }
  return seen < 0x80
}

/** Sets the bits of all rows whose text holds `word` (folded, without line feeds). */
export function* findInJoined(parts: readonly JoinedText[], word: string, into: Bits): Work<void> {
  for (let p = 0; p < parts.length; p++) {
    findInPart(parts[p], word, into)
    if (p % 8 === 7) yield
  }
}

function findInPart({ firstRow, text, starts }: JoinedText, word: string, into: Bits): void {
  const rows = starts.length - 1
  let row = 0
  let at = text.indexOf(word)
  while (at !== -1) {
    row = rowOf(starts, at, row, rows)
    setBit(into, firstRow + row)
    if (++row >= rows) return
    at = text.indexOf(word, starts[row])
  }
}

/** The row whose text holds offset `at`, at or after `from`: strides that double, then halving. */
function rowOf(starts: Uint32Array, at: number, from: number, rows: number): number {
  let low = from
  let stride = 1
  while (low + stride < rows && starts[low + stride] <= at) {
    low += stride
    stride *= 2
  }
  let high = Math.min(rows, low + stride)
  while (high - low > 1) {
    const middle = (low + high) >>> 1
    if (starts[middle] <= at) low = middle
    else high = middle
  }
  return low
}

/** As `findInJoined`, but looks only at the rows in `among`; quicker where those are few. */
export function* findAmong(parts: readonly JoinedText[], word: string, among: Bits, into: Bits): Work<void> {
  for (let p = 0; p < parts.length; p++) {
    findAmongPart(parts[p], word, among, into)
    if (p % 8 === 7) yield
  }
}

function findAmongPart({ firstRow, text, starts }: JoinedText, word: string, among: Bits, into: Bits): void {
  const end = firstRow + starts.length - 1
  for (let w = firstRow >>> 5; w << 5 < end; w++) {
    for (let left = among[w]; left !== 0; left &= left - 1) {
      const bit = 31 - Math.clz32(left & -left)
      const i = (w << 5) + bit - firstRow
      // Parts begin with a word of bits, but in tests they need not.
      if (i < 0 || firstRow + i >= end) continue
      if (text.slice(starts[i], starts[i + 1] - 1).includes(word)) into[w] |= 1 << bit
    }
  }
}
