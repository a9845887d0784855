/** Many texts as UTF-8 bytes laid end to end; text `i` is bytes `offsets[i]` up to `offsets[i + 1]`. */
export interface TextBlock {
  readonly bytes: Uint8Array
  readonly offsets: Uint32Array
}

const encoder = new TextEncoder()
const decoder = new TextDecoder()

export const textCount = (block: TextBlock): number => block.offsets.length - 1

/** Text number `index`. */
export function textAt(block: TextBlock, index: number): string {
  return decodeBytes(block.bytes, block.offsets[index], block.offsets[index + 1])
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
