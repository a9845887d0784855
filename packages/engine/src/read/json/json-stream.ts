import { decodeBytes } from '../../table/text-block.ts'
import { feedsIn } from '../bytes/look-through.ts'
import type { TextBlocks } from '../bytes/text-blocks.ts'
import { ReadError, stopIfCancelled, type ReadCall } from '../read-call.ts'
import { INCOMPLETE, scanned, scanValue, skipBroken, skipSpace, type JsonParts } from './scan-json.ts'

/** No single value is longer. */
const MAX_VALUE_BYTES = 64 << 20

/** JSON text that comes block by block; holds what was not taken yet. */
export class JsonStream {
  /** They are others once more of them were asked for. */
  bytes: Uint8Array = new Uint8Array(0)
  at = 0
  /** Nothing follows the bytes at hand. */
  last = false
  private room = new Uint8Array(0)
  /** Bytes of text so far. */
  readBytes = 0
  private line = 1
  private counted = 0
  private readonly blocks: TextBlocks
  private readonly call: ReadCall
  private readonly onBlock: () => void

  constructor(blocks: TextBlocks, call: ReadCall, onBlock: () => void = () => {}) {
    this.blocks = blocks
    this.call = call
    this.onBlock = onBlock
  }

  /** Puts the next block behind what is left; false when there is none. */
  async more(): Promise<boolean> {
    stopIfCancelled(this.call)
    const next = await this.blocks.next()
    if (!next) {
      this.last = true
      return false
    }
    const left = this.bytes.length - this.at
    if (left > MAX_VALUE_BYTES)
      throw new ReadError({ code: 'row-too-long', line: this.lineOf(this.at), mostBytes: MAX_VALUE_BYTES })
    this.countLines(this.at)
    this.bytes = this.joined(this.bytes.subarray(this.at), next.bytes)
    this.at = this.counted = 0
    this.last = next.last
    this.readBytes += next.bytes.length
    this.onBlock()
    return true
  }

  /** Both in the same memory as those before: new memory for every block would be as much for the collector to give back. */
  private joined(left: Uint8Array, next: Uint8Array): Uint8Array {
    const size = left.length + next.length
    if (size > this.room.length) {
      const larger = new Uint8Array(size + (size >>> 2))
      larger.set(left)
      this.room = larger
    } else this.room.set(left)
    this.room.set(next, left.length)
    return this.room.subarray(0, size)
  }

  /** The next byte that is not space, without taking it; −1 at the end. */
  async peek(): Promise<number> {
    for (;;) {
      this.at = skipSpace(this.bytes, this.at, this.bytes.length)
      if (this.at < this.bytes.length) return this.bytes[this.at]
      if (this.last || !(await this.more())) return -1
    }
  }

  /** The end of the value that begins here, with all of it at hand, `into` with its parts; `BROKEN` where it is none. */
  async value(into: JsonParts | null = null): Promise<number> {
    for (let blocks = 1; ; blocks *= 2) {
      if (into) into.count = 0
      const end = scanValue(this.bytes, this.at, this.bytes.length, this.last, into)
      if (end !== INCOMPLETE) return end
      // Twice as many blocks each time, so that a long value is not scanned over and over.
      for (let i = 0; i < blocks && !this.last; i++) await this.more()
    }
  }

  /** Goes behind a broken value of a list; false where the text ends before. */
  async passBroken(): Promise<boolean> {
    for (;;) {
      const end = skipBroken(this.bytes, this.at, this.bytes.length)
      if (end !== INCOMPLETE) {
        this.at = end
        return true
      }
      if (this.last || !(await this.more())) {
        this.at = this.bytes.length
        return false
      }
    }
  }

  /** 1-based line of a place in the bytes at hand. Places must be asked for in ascending order. */
  lineOf(at: number): number {
    this.countLines(at)
    return this.line
  }

  excerpt(at: number, length = 60): string {
    return decodeBytes(this.bytes, at, Math.min(this.bytes.length, at + length))
  }

  /** The problem at the place where the last scanned value broke. */
  problem(): ReadError {
    const at = Math.min(scanned.brokenAt, this.bytes.length)
    const feed = this.bytes.lastIndexOf(10, Math.max(0, at - 1))
    const found = at >= this.bytes.length ? '' : this.excerpt(at, 12)
    return new ReadError({ code: 'not-json', line: this.lineOf(at), column: at - feed, found })
  }

  private countLines(upTo: number): void {
    if (upTo <= this.counted) return
    this.line += feedsIn(this.bytes.subarray(this.counted, upTo))
    this.counted = upTo
  }
}
