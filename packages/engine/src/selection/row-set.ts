import { countBits, emptyBits, type Bits } from '../table/bits.ts'
import { type RowId, type Rows, asRowId } from '../table/row-id.ts'

const CHUNK_BITS = 15
const CHUNK_ROWS = 1 << CHUNK_BITS

/** Rows as plain data: bits of 32,768 of them each, and those whose ids are texts. */
export interface PackedRows {
  readonly chunks: readonly { readonly number: number; readonly bits: Uint32Array }[]
  readonly names: readonly string[]
}

/**
 * A set of rows of any size. Ids that are numbers are bits in chunks of 32,768, made where rows are in it: it costs
 * what its occupied chunks cost, whatever the table's length. Ids that are texts are kept one by one.
 */
export class RowSet {
  private readonly chunks = new Map<number, Uint32Array>()
  private readonly named = new Set<string>()
  private held = 0

  get size(): number {
    return this.held + this.named.size
  }

  has(row: RowId): boolean {
    if (typeof row !== 'number') return this.named.has(row)
    const chunk = this.chunks.get(Math.floor(row / CHUNK_ROWS))
    const at = row % CHUNK_ROWS
    return chunk !== undefined && ((chunk[at >>> 5] >>> (at & 31)) & 1) === 1
  }

  add(row: RowId): void {
    if (typeof row === 'number') this.addNumber(row)
    else this.named.add(row)
  }

  delete(row: RowId): void {
    if (typeof row === 'number') this.deleteNumber(row)
    else this.named.delete(row)
  }

  private addNumber(row: number): void {
    const at = row % CHUNK_ROWS
    const chunk = this.chunkAt(Math.floor(row / CHUNK_ROWS))
    const bit = 1 << (at & 31)
    if ((chunk[at >>> 5] & bit) === 0) this.held++
    chunk[at >>> 5] |= bit
  }

  private deleteNumber(row: number): void {
    const chunk = this.chunks.get(Math.floor(row / CHUNK_ROWS))
    const at = row % CHUNK_ROWS
    const bit = 1 << (at & 31)
    if (!chunk || (chunk[at >>> 5] & bit) === 0) return
    chunk[at >>> 5] &= ~bit
    this.held--
  }

  addAll(rows: Rows): void {
    if (rows.kind === 'list') for (const row of rows.rows) this.add(asRowId(row))
    else this.fillRun(rows.from, rows.to, row => this.addNumber(row), 0xffffffff)
  }

  deleteAll(rows: Rows): void {
    if (rows.kind === 'list') for (const row of rows.rows) this.delete(asRowId(row))
    else this.fillRun(rows.from, rows.to, row => this.deleteNumber(row), 0)
  }

  /** Whole chunks at once, the rows before and after them singly: ten million rows take a millisecond. */
  private fillRun(from: number, to: number, single: (row: number) => void, word: number): void {
    const firstWhole = Math.ceil(from / CHUNK_ROWS)
    const endWhole = Math.max(firstWhole, Math.floor(to / CHUNK_ROWS))
    for (let row = from; row < Math.min(to, firstWhole * CHUNK_ROWS); row++) single(row)
    for (let number = firstWhole; number < endWhole; number++) {
      const chunk = this.chunkAt(number)
      this.held += (word === 0 ? 0 : CHUNK_ROWS) - countBits(chunk)
      chunk.fill(word)
    }
    for (let row = Math.max(from, endWhole * CHUNK_ROWS); row < to; row++) single(row)
  }

  /** The set as plain data that can be posted: what its occupied chunks cost. */
  packed(): PackedRows {
    return { chunks: [...this.chunks].map(([number, bits]) => ({ number, bits })), names: [...this.named] }
  }

  /** A bit for each of the first rows by number. */
  bits(rows: number): Bits {
    const all = emptyBits(rows)
    for (const [number, chunk] of this.chunks) {
      const from = (number * CHUNK_ROWS) >>> 5
      if (from < all.length) all.set(chunk.subarray(0, all.length - from), from)
    }
    return all
  }

  /** A set of what `packed` told; the bits are its own from then on. */
  static of({ chunks, names }: PackedRows): RowSet {
    const set = new RowSet()
    for (const { number, bits } of chunks) {
      set.chunks.set(number, bits)
      set.held += countBits(bits)
    }
    for (const name of names) set.named.add(name)
    return set
  }

  clear(): void {
    this.chunks.clear()
    this.named.clear()
    this.held = 0
  }

  /** The rows, those with numbers in ascending order. */
  *[Symbol.iterator](): Iterator<RowId> {
    for (const [number, chunk] of [...this.chunks].sort(([a], [b]) => a - b)) {
      for (let at = 0; at < CHUNK_ROWS; at++) {
        if ((chunk[at >>> 5] >>> (at & 31)) & 1) yield asRowId(number * CHUNK_ROWS + at)
      }
    }
    for (const name of this.named) yield asRowId(name)
  }

  private chunkAt(number: number): Uint32Array {
    let chunk = this.chunks.get(number)
    if (!chunk) this.chunks.set(number, (chunk = new Uint32Array(CHUNK_ROWS >>> 5)))
    return chunk
  }
}
