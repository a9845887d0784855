import { countBits } from '../table/bits.ts'
import { CHUNK_ROWS, asRowId, rowsIn, type PackedRows, type RowId, type Rows } from '../table/row-id.ts'

const WORDS = CHUNK_ROWS >>> 5
const CHUNK_SHIFT = 31 - Math.clz32(CHUNK_ROWS)

/** Every row of a chunk; all full chunks of all sets are this one. */
const FULL = new Uint32Array(WORDS).fill(0xffffffff)

/** A list of rows is told as a set from this many on: it costs four bytes a row, a set a bit. */
const SET_FROM = 1 << 12

/**
 * A set of rows of any size. Ids that are numbers are bits in chunks of 32,768; ids that are texts are kept one by one.
 * It costs what its partly held chunks cost, whatever the table's length: all rows but three of ten million take 12 kB.
 * Chunks are copied before they are written where another set, or a message, may hold them too: a copy of a set costs
 * its list of chunks.
 */
export class RowSet {
  private readonly chunks = new Map<number, Uint32Array>()
  /** The chunks that nobody else holds. */
  private readonly own = new Set<number>()
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
    const number = Math.floor(row / CHUNK_ROWS)
    const at = row % CHUNK_ROWS
    const bit = 1 << (at & 31)
    if (((this.chunks.get(number)?.[at >>> 5] ?? 0) & bit) !== 0) return
    this.writable(number)[at >>> 5] |= bit
    this.held++
  }

  private deleteNumber(row: number): void {
    const number = Math.floor(row / CHUNK_ROWS)
    const at = row % CHUNK_ROWS
    const bit = 1 << (at & 31)
    if (((this.chunks.get(number)?.[at >>> 5] ?? 0) & bit) === 0) return
    this.writable(number)[at >>> 5] &= ~bit
    this.held--
  }

  addAll(rows: Rows): void {
    if (rows.kind === 'list') this.addList(rows.rows)
    else if (rows.kind === 'run')
      this.fillRun(
        rows.from,
        rows.to,
        row => this.addNumber(row),
        number => this.put(number, FULL),
      )
    else {
      for (const { number, bits } of rows.chunks) {
        const held = this.chunks.get(number)
        this.put(number, held ? held.map((word, i) => word | bits[i]) : bits, held !== undefined)
      }
      for (const name of rows.names) this.named.add(name)
    }
  }

  /** Rows that follow one another mostly lie in the same chunk. */
  private addList(rows: Uint32Array | readonly RowId[]): void {
    if (!(rows instanceof Uint32Array)) {
      for (const row of rows) this.add(row)
      return
    }
    let number = -1
    let chunk: Uint32Array | null = null
    for (let i = 0; i < rows.length; i++) {
      const row = rows[i]
      if (row >>> CHUNK_SHIFT !== number) {
        number = row >>> CHUNK_SHIFT
        chunk = this.writable(number)
      }
      const at = row & (CHUNK_ROWS - 1)
      const bit = 1 << (at & 31)
      if (!chunk || (chunk[at >>> 5] & bit) !== 0) continue
      chunk[at >>> 5] |= bit
      this.held++
    }
  }

  deleteAll(rows: Rows): void {
    if (rows.kind === 'list') for (const row of rows.rows) this.delete(asRowId(row))
    else if (rows.kind === 'run')
      this.fillRun(
        rows.from,
        rows.to,
        row => this.deleteNumber(row),
        number => this.put(number, null),
      )
    else {
      for (const { number, bits } of rows.chunks) {
        const held = this.chunks.get(number)
        if (held) this.put(number, bits === held ? null : held.map((word, i) => word & ~bits[i]), true)
      }
      for (const name of rows.names) this.named.delete(name)
    }
  }

  /** Whole chunks at once, the rows before and after them singly: ten million rows take a millisecond. */
  private fillRun(
    from: number,
    to: number,
    single: (row: number) => void,
    whole: (number: number) => void,
  ): void {
    const firstWhole = Math.ceil(from / CHUNK_ROWS)
    const endWhole = Math.max(firstWhole, Math.floor(to / CHUNK_ROWS))
    for (let row = from; row < Math.min(to, firstWhole * CHUNK_ROWS); row++) single(row)
    for (let number = firstWhole; number < endWhole; number++) whole(number)
    for (let row = Math.max(from, endWhole * CHUNK_ROWS); row < to; row++) single(row)
  }

  /** The set as it is now; either is changed alone from then on. */
  copy(): RowSet {
    return RowSet.of(this.packed())
  }

  /** What is in this set and not in the other. Chunks that both hold are not looked at. */
  minus(other: RowSet): RowSet {
    const left = this.copy()
    left.deleteAll({ kind: 'set', ...other.packed() })
    return left
  }

  /** The set as plain data that can be posted: what its partly held chunks cost. */
  packed(): PackedRows {
    this.own.clear()
    return { chunks: Array.from(this.chunks, ([number, bits]) => ({ number, bits })), names: [...this.named] }
  }

  /** A set of what `packed` told. */
  static of(packed: PackedRows): RowSet {
    const set = new RowSet()
    set.addAll({ kind: 'set', ...packed })
    return set
  }

  clear(): void {
    this.chunks.clear()
    this.own.clear()
    this.named.clear()
    this.held = 0
  }

  /** The rows, those with numbers in ascending order. */
  [Symbol.iterator](): Iterator<RowId> {
    return rowsIn({ kind: 'set', ...this.packed() })[Symbol.iterator]()
  }

  /** Takes a chunk in the place of what is held of it; null: nothing of it. `own`: nobody else holds it. */
  private put(number: number, bits: Uint32Array | null, own = false): void {
    const before = this.chunks.get(number)
    if (bits === before) return
    const count = !bits ? 0 : bits === FULL ? CHUNK_ROWS : countBits(bits)
    this.held += count - (!before ? 0 : before === FULL ? CHUNK_ROWS : countBits(before))
    this.own.delete(number)
    if (!bits || count === 0) this.chunks.delete(number)
    else this.chunks.set(number, count === CHUNK_ROWS ? FULL : bits)
    if (own && count > 0 && count < CHUNK_ROWS) this.own.add(number)
  }

  private writable(number: number): Uint32Array {
    const held = this.chunks.get(number)
    if (held && this.own.has(number)) return held
    const chunk = held ? held.slice() : new Uint32Array(WORDS)
    this.chunks.set(number, chunk)
    this.own.add(number)
    return chunk
  }
}

/** The same rows in whatever order, as a set where these are many. */
export function compactRows(rows: Rows): Rows {
  if (rows.kind !== 'list' || rows.rows.length < SET_FROM) return rows
  const set = new RowSet()
  set.addAll(rows)
  return { kind: 'set', ...set.packed() }
}
