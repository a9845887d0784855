import { placeIn } from './ascending.ts'
import type { Allocate } from './allocate.ts'

/**
 * Many texts as UTF-8 bytes laid end to end; text `i` is bytes `offsets[i]` up to `offsets[i + 1]`, unless it changed
 * since. Whoever reads bytes and offsets by himself asks for `wholeBlock` first.
 */
export interface TextBlock {
  readonly bytes: Uint8Array
  readonly offsets: Uint32Array
  readonly changed?: ChangedTexts
}

/** Texts that stand in others' places: that of number `rows[i]`, ascending, is text `i`. */
export interface ChangedTexts {
  readonly rows: Uint32Array
  readonly texts: TextBlock
}

/** Texts kept beside their block; with more, all is laid out anew, which a million texts take 30 ms for. */
const MOST_CHANGED = 1024

const encoder = new TextEncoder()
const decoder = new TextDecoder()

export const textCount = (block: TextBlock): number => block.offsets.length - 1

/** Text number `index`. */
export function textAt(block: TextBlock, index: number): string {
  const { changed } = block
  const place = changed ? placeIn(changed.rows, index) : -1
  if (changed && place >= 0) return textAt(changed.texts, place)
  return decodeBytes(block.bytes, block.offsets[index], block.offsets[index + 1])
}

/** A text as `isTextAt` takes it. */
export const textBytes = (text: string): Uint8Array => encoder.encode(text)

/** Whether text number `index` is the one of these bytes; nothing is decoded. */
export function isTextAt(block: TextBlock, index: number, wanted: Uint8Array): boolean {
  const { bytes, offsets, changed } = block
  const place = changed ? placeIn(changed.rows, index) : -1
  if (changed && place >= 0) return isTextAt(changed.texts, place, wanted)
  const start = offsets[index]
  if (offsets[index + 1] - start !== wanted.length) return false
  for (let i = 0; i < wanted.length; i++) if (bytes[start + i] !== wanted[i]) return false
  return true
}

/** Bytes up to which characters put one behind the other are quickest; longer ones become chains that cost later. */
const TINY = 8
/** Bytes up to which ASCII is turned into a string without TextDecoder, which refuses shared memory. */
const SHORT = 64

export function decodeBytes(bytes: Uint8Array, start: number, end: number): string {
  const length = end - start
  if (length > SHORT || !isAscii(bytes, start, end)) return decoder.decode(bytes.slice(start, end))
  // Any list of numbers will do; the checker asks for a plain one.
  if (length > TINY) return String.fromCharCode.apply(null, bytes.subarray(start, end) as unknown as number[])
  let text = ''
  for (let i = start; i < end; i++) text += String.fromCharCode(bytes[i])
  return text
}

function isAscii(bytes: Uint8Array, start: number, end: number): boolean {
  for (let i = start; i < end; i++) if (bytes[i] >= 0x80) return false
  return true
}

/** All texts of the block, in their order. */
export function allTexts(block: TextBlock): string[] {
  const known = decoded.get(block)
  if (known) return known
  const out = new Array<string>(textCount(block))
  for (let i = 0; i < out.length; i++) out[i] = textAt(block, i)
  decoded.set(block, out)
  return out
}
/** Dictionaries are asked for again and again; their texts are decoded once. */
const decoded = new WeakMap<TextBlock, string[]>()

export function textBlockOf(texts: readonly string[]): TextBlock {
  const offsets = new Uint32Array(texts.length + 1)
  const parts = texts.map(text => encoder.encode(text))
  let size = 0
  parts.forEach((part, i) => {
    size += part.length
    offsets[i + 1] = size
  })
  const bytes = new Uint8Array(size)
  parts.forEach((part, i) => bytes.set(part, offsets[i]))
  return { bytes, offsets }
}

/**
 * The block with other texts in some places, ascending; it shares its bytes, so that a change costs what it changes.
 * Null: so many are changed that laying all out anew is better.
 */
export function withChanged(
  block: TextBlock,
  rows: Uint32Array,
  textOf: (nth: number) => string,
): TextBlock | null {
  const texts = new Map<number, string>()
  const { changed: before } = block
  before?.rows.forEach((row, nth) => texts.set(row, textAt(before.texts, nth)))
  rows.forEach((row, nth) => texts.set(row, textOf(nth)))
  if (texts.size > MOST_CHANGED) return null
  const places = Uint32Array.from(texts.keys()).sort()
  const { bytes, offsets } = block
  const changed = { rows: places, texts: textBlockOf(Array.from(places, row => texts.get(row) ?? '')) }
  return { bytes, offsets, changed }
}

/** The block with all its texts in their places; laid out once. */
export function wholeBlock(block: TextBlock): TextBlock {
  const { changed } = block
  if (!changed) return block
  const known = whole.get(block)
  if (known) return known
  const { bytes, offsets } = changed.texts
  const textOf = (nth: number): Uint8Array => bytes.subarray(offsets[nth], offsets[nth + 1])
  const laid = spliceBlock(block, changed.rows, textOf, textCount(block), size => new ArrayBuffer(size))
  whole.set(block, laid)
  return laid
}
const whole = new WeakMap<TextBlock, TextBlock>()

/**
 * Lays texts out anew with others in some places, ascending, and empty ones up to `count`: runs that did not change are
 * copied whole. What changed beside the block is not looked at.
 */
export function spliceBlock(
  { bytes, offsets }: TextBlock,
  rows: Uint32Array,
  textOf: (nth: number) => Uint8Array,
  count: number,
  allocate: Allocate,
): TextBlock {
  const before = offsets.length - 1
  const texts = Array.from(rows, (_, nth) => textOf(nth))
  let size = offsets[before] - offsets[0]
  for (let i = 0; i < rows.length; i++) {
    size += texts[i].length
    if (rows[i] < before) size -= offsets[rows[i] + 1] - offsets[rows[i]]
  }
  const out = new Uint8Array(allocate(size))
  const ends = new Uint32Array(allocate((count + 1) * 4))
  let row = 0
  let at = 0
  const copyUpTo = (end: number): void => {
    const last = Math.min(end, before)
    if (row < last) {
      out.set(bytes.subarray(offsets[row], offsets[last]), at)
      const shift = at - offsets[row]
      for (let i = row; i < last; i++) ends[i + 1] = offsets[i + 1] + shift
      at += offsets[last] - offsets[row]
      row = last
    }
    for (; row < end; row++) ends[row + 1] = at
  }
  for (let i = 0; i < rows.length; i++) {
    copyUpTo(rows[i])
    out.set(texts[i], at)
    at += texts[i].length
    ends[++row] = at
  }
  copyUpTo(count)
  return { bytes: out, offsets: ends }
}
