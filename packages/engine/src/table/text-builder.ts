import { privateMemory, settle, type Allocate } from './allocate.ts'
import type { CodedColumn, PlainColumn } from './column.ts'
import { GrowBytes, GrowCodes, GrowMissing } from './grow.ts'
import { sure } from '../work/checked.ts'

/** Below this many different values a text column always keeps a dictionary. */
const ALWAYS_CODED = 1 << 16
const encoder = new TextEncoder()

/**
 * Collects a text column row by row. It starts with a dictionary (open addressing over the bytes) and drops it
 * once more than half of the rows hold a value of their own.
 */
export class TextBuilder {
  private readonly missing = new GrowMissing()
  private bytes = new GrowBytes()
  private offsets = new GrowCodes()
  private codes: GrowCodes | null = new GrowCodes()
  private slots = new Int32Array(1 << 6).fill(-1)
  private hashes = new GrowCodes()
  private scratch = new Uint8Array(0)
  rows = 0

  constructor() {
    this.offsets.push(0)
  }

  get byteLength(): number {
    return this.bytes.length + this.offsets.length * 4 + (this.codes ? this.codes.length * 4 : 0)
  }

  addMissing(): void {
    this.missing.add(this.rows++)
    if (this.codes) this.codes.push(0)
    else this.offsets.push(this.bytes.length)
  }

  addText(text: string): void {
    if (text.length * 3 > this.scratch.length) this.scratch = new Uint8Array(text.length * 6)
    const { written } = encoder.encodeInto(text, this.scratch)
    this.addBytes(this.scratch, 0, written)
  }

  addBytes(source: Uint8Array, start: number, end: number): void {
    this.rows++
    if (!this.codes) {
      this.bytes.push(source, start, end)
      this.offsets.push(this.bytes.length)
      return
    }
    this.codes.push(this.codeOf(source, start, end))
    const distinct = this.hashes.length
    if (distinct > ALWAYS_CODED && distinct * 2 > this.rows) this.dropDictionary()
  }

  /** The text of an earlier row, which has one, again. */
  addSame(row: number): void {
    this.rows++
    if (this.codes) {
      this.codes.push(this.codes.values[row])
      return
    }
    const [start, end] = [this.offsets.values[row], this.offsets.values[row + 1]]
    this.bytes.push(this.bytes.bytes, start, end)
    this.offsets.push(this.bytes.length)
  }

  finish(allocate: Allocate = privateMemory): CodedColumn | PlainColumn {
    const missing = this.missing.finish(this.rows)
    const shared = {
      missing: missing && settle(missing, allocate),
      texts: { bytes: settle(this.bytes.view(), allocate), offsets: settle(this.offsets.view(), allocate) },
    }
    if (!this.codes) return { kind: 'plain', ...shared }
    return { kind: 'coded', codes: settle(this.codes.view(), allocate), ...shared }
  }

  private codeOf(source: Uint8Array, start: number, end: number): number {
    let hash = 0x811c9dc5
    for (let i = start; i < end; i++) hash = Math.imul(hash ^ source[i], 0x01000193)
    hash = (hash ^ (hash >>> 15)) >>> 0
    const mask = this.slots.length - 1
    // The arrays themselves: a view for every field would cost more than the comparison.
    const known = this.hashes.values
    for (let slot = hash & mask; ; slot = (slot + 1) & mask) {
      const code = this.slots[slot]
      if (code === -1) return this.addDistinct(hash, slot, source, start, end)
      if (known[code] === hash && this.sameText(code, source, start, end)) return code
    }
  }

  private sameText(code: number, source: Uint8Array, start: number, end: number): boolean {
    const offsets = this.offsets.values
    let at = offsets[code]
    if (offsets[code + 1] - at !== end - start) return false
    const bytes = this.bytes.bytes
    for (let i = start; i < end; i++, at++) if (bytes[at] !== source[i]) return false
    return true
  }

  private addDistinct(hash: number, slot: number, source: Uint8Array, start: number, end: number): number {
    const code = this.hashes.length
    this.hashes.push(hash)
    this.bytes.push(source, start, end)
    this.offsets.push(this.bytes.length)
    this.slots[slot] = code
    if ((code + 1) * 2 > this.slots.length) this.growSlots()
    return code
  }

  private growSlots(): void {
    const larger = new Int32Array(this.slots.length * 2).fill(-1)
    const mask = larger.length - 1
    const hashes = this.hashes.view()
    for (let code = 0; code < hashes.length; code++) {
      let slot = hashes[code] & mask
      while (larger[slot] !== -1) slot = (slot + 1) & mask
      larger[slot] = code
    }
    this.slots = larger
  }

  private dropDictionary(): void {
    const codes = sure(this.codes).view()
    const from = this.offsets.view()
    const source = this.bytes.bytes
    const bytes = new GrowBytes()
    const offsets = new GrowCodes()
    const missing = this.missing.finish(this.rows)
    offsets.push(0)
    for (let row = 0; row < codes.length; row++) {
      const absent = missing !== null && ((missing[row >>> 5] >>> (row & 31)) & 1) === 1
      if (!absent) bytes.push(source, from[codes[row]], from[codes[row] + 1])
      offsets.push(bytes.length)
    }
    this.bytes = bytes
    this.offsets = offsets
    this.codes = null
    this.hashes = new GrowCodes()
    this.slots = new Int32Array(0)
  }
}
