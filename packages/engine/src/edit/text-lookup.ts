import { arrayOver, copied, type Allocate, type ColumnArray } from '../table/allocate.ts'
import { textCount, type TextBlock } from '../table/text-block.ts'

const encoder = new TextEncoder()

/** Finds the number of a text in a dictionary, and takes new texts into it. Eight bytes a text. */
export class TextLookup {
  private slots: Uint32Array
  private block: TextBlock
  private count: number
  /** The memory behind the texts is this lookup's own: others that began with the same block do not write there. */
  private own = false
  private readonly allocate: (bytes: number) => ArrayBufferLike

  constructor(block: TextBlock, allocate: (bytes: number) => ArrayBufferLike) {
    this.block = block
    this.allocate = allocate
    this.count = textCount(block)
    this.slots = new Uint32Array(0)
    this.rehash(this.count)
  }

  get texts(): TextBlock {
    return this.block
  }

  /** The text's number; a text that is not there yet gets the next. */
  codeOf(text: string): number {
    const bytes = encoder.encode(text)
    const mask = this.slots.length - 1
    let slot = hash(bytes, 0, bytes.length) & mask
    for (; this.slots[slot] !== 0; slot = (slot + 1) & mask) {
      const code = this.slots[slot] - 1
      if (this.isText(code, bytes)) return code
    }
    const code = this.append(bytes)
    this.slots[slot] = code + 1
    if (this.count * 2 > this.slots.length) this.rehash(this.count)
    return code
  }

  private isText(code: number, wanted: Uint8Array): boolean {
    const { bytes, offsets } = this.block
    const start = offsets[code]
    if (offsets[code + 1] - start !== wanted.length) return false
    for (let i = 0; i < wanted.length; i++) if (bytes[start + i] !== wanted[i]) return false
    return true
  }

  /** A new block each time, over memory that has room for more, so that older blocks stay as they were. */
  private append(text: Uint8Array): number {
    const size = this.block.offsets[this.count]
    const bytes = this.own ? this.block.bytes : this.block.bytes.slice(0, size)
    const offsets = this.own ? this.block.offsets : this.block.offsets.slice(0, this.count + 1)
    this.own = true
    const grown = roomFor(bytes, size, size + text.length, this.allocate)
    grown.set(text, size)
    const ends = roomFor(offsets, this.count + 1, this.count + 2, this.allocate)
    ends[this.count + 1] = size + text.length
    this.block = { bytes: grown, offsets: ends }
    return this.count++
  }

  private rehash(count: number): void {
    let size = 64
    while (size < count * 4) size *= 2
    this.slots = new Uint32Array(size)
    const { bytes, offsets } = this.block
    for (let code = 0; code < count; code++) {
      let slot = hash(bytes, offsets[code], offsets[code + 1]) & (size - 1)
      while (this.slots[slot] !== 0) slot = (slot + 1) & (size - 1)
      this.slots[slot] = code + 1
    }
  }
}

function hash(bytes: Uint8Array, start: number, end: number): number {
  let value = 0x811c9dc5
  for (let i = start; i < end; i++) value = Math.imul(value ^ bytes[i], 0x01000193)
  return (value ^ (value >>> 15)) >>> 0
}

/**
 * A view of `length` elements over the array's memory where that has room behind it, else over a copy of its first
 * `used` elements with room for an eighth more.
 */
export function roomFor<T extends ColumnArray>(
  array: T,
  used: number,
  length: number,
  allocate: Allocate,
): T {
  if (array.byteOffset + length * array.BYTES_PER_ELEMENT <= array.buffer.byteLength)
    return arrayOver(array, array.buffer, array.byteOffset, length)
  return copied(array, allocate, { used, length, room: length + (length >>> 3) + 64 })
}
