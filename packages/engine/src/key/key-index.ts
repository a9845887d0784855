import { hasBit, type Bits } from '../table/bits.ts'
import { isMissing, valueAt, type Column, type Table, type Value } from '../table/column.ts'
import { wholeBlock, type TextBlock } from '../table/text-block.ts'
import type { Work } from '../work/work.ts'

const BATCH = 65_536
const EXAMPLES = 5
const encoder = new TextEncoder()
const float = new Float64Array(1)
const words = new Uint32Array(float.buffer)
const big = new BigInt64Array(1)
const bigWords = new Uint32Array(big.buffer)

/** Rows by their key: open addressing over the columns themselves, four to eight bytes a row. */
export class KeyIndex {
  private table: Table
  private readonly places: readonly number[]
  /** Row numbers + 1; 0 is free. */
  private slots: Uint32Array
  private count = 0
  /** Rows whose key lacks a part; they cannot be named. */
  missing = 0
  /** Rows whose key an earlier row has. */
  doubled = 0
  /** Some rows with the key of an earlier one: that one, and themselves. */
  readonly examples: { readonly first: number; readonly row: number }[] = []

  private constructor(table: Table, places: readonly number[]) {
    this.table = table
    this.places = places
    this.slots = new Uint32Array(slotsFor(table.rows))
  }

  /** Indexes a table by the columns at the places; `absent` rows are left out. Linear. */
  static *build(table: Table, places: readonly number[], absent: Bits | null = null): Work<KeyIndex> {
    const index = new KeyIndex(table, places)
    for (let row = 0; row < table.rows; row++) {
      if (!(absent && hasBit(absent, row))) index.add(row)
      if (row % BATCH === BATCH - 1) yield
    }
    return index
  }

  /** The table that rows are numbered in now; those indexed before must hold the same keys in it. */
  follow(table: Table): void {
    this.table = table
  }

  add(row: number): void {
    const { columns } = this.table
    if (this.places.some(place => isMissing(columns[place], row))) {
      this.missing++
      return
    }
    if ((this.count + 1) * 2 > this.slots.length) this.grow()
    const mask = this.slots.length - 1
    for (let slot = this.hashOfRow(row) & mask; ; slot = (slot + 1) & mask) {
      const held = this.slots[slot]
      if (held === 0) {
        this.slots[slot] = row + 1
        this.count++
        return
      }
      if (!this.sameKey(held - 1, row)) continue
      this.doubled++
      if (this.examples.length < EXAMPLES) this.examples.push({ first: held - 1, row })
      return
    }
  }

  /** Puts a row in the place of the one that had its key before; for keys that come back after a removal. */
  replace(row: number): void {
    const mask = this.slots.length - 1
    for (let slot = this.hashOfRow(row) & mask; this.slots[slot] !== 0; slot = (slot + 1) & mask) {
      if (this.sameKey(this.slots[slot] - 1, row)) {
        this.slots[slot] = row + 1
        return
      }
    }
    this.add(row)
  }

  /** The first row with the key, whose parts are as the columns keep them; −1 where there is none. */
  find(parts: readonly Value[]): number {
    if (parts.length !== this.places.length || parts.includes(null)) return -1
    const { columns } = this.table
    let hash = 0
    for (let i = 0; i < parts.length; i++) hash = mix(hash, hashOfValue(columns[this.places[i]], parts[i]))
    const mask = this.slots.length - 1
    for (let slot = hash & mask; this.slots[slot] !== 0; slot = (slot + 1) & mask) {
      const row = this.slots[slot] - 1
      if (this.places.every((place, i) => sameValue(valueAt(columns[place], row), parts[i]))) return row
    }
    return -1
  }

  private grow(): void {
    const old = this.slots
    this.slots = new Uint32Array(old.length * 2)
    const mask = this.slots.length - 1
    for (const held of old) {
      if (held === 0) continue
      let slot = this.hashOfRow(held - 1) & mask
      while (this.slots[slot] !== 0) slot = (slot + 1) & mask
      this.slots[slot] = held
    }
  }

  private hashOfRow(row: number): number {
    let hash = 0
    for (const place of this.places) hash = mix(hash, hashOfCell(this.table.columns[place], row))
    return hash
  }

  private sameKey(a: number, b: number): boolean {
    for (const place of this.places) if (!sameCell(this.table.columns[place], a, b)) return false
    return true
  }
}

function slotsFor(rows: number): number {
  let slots = 1024
  while (slots < rows * 2) slots *= 2
  return slots
}

const mix = (hash: number, part: number): number => {
  let mixed = Math.imul(hash ^ part, 0x85ebca6b)
  mixed ^= mixed >>> 13
  mixed = Math.imul(mixed, 0xc2b2ae35)
  return (mixed ^ (mixed >>> 16)) >>> 0
}

const sameValue = (a: Value, b: Value): boolean => a === b || (a === 0 && b === 0)

function hashOfCell(column: Column, row: number): number {
  switch (column.kind) {
    case 'number':
      return hashOfNumber(column.values[row])
    case 'wide':
      big[0] = column.values[row]
      return mix(bigWords[0], bigWords[1])
    case 'boolean':
      return hasBit(column.values, row) ? 1 : 2
    case 'coded':
      return hashOfText(column.texts, column.codes[row])
    case 'plain':
      return hashOfText(column.texts, row)
  }
}

function hashOfValue(column: Column, value: Value): number {
  switch (column.kind) {
    case 'number':
      return hashOfNumber(Number(value))
    case 'wide':
      big[0] = /^-?\d{1,19}$/.test(String(value)) ? BigInt(String(value)) : 0n
      return mix(bigWords[0], bigWords[1])
    case 'boolean':
      return value ? 1 : 2
    default: {
      const bytes = encoder.encode(String(value))
      return hashOfBytes(bytes, 0, bytes.length)
    }
  }
}

function hashOfNumber(value: number): number {
  float[0] = value === 0 ? 0 : value
  return mix(words[0], words[1])
}

function hashOfText(block: TextBlock, at: number): number {
  const { bytes, offsets } = wholeBlock(block)
  return hashOfBytes(bytes, offsets[at], offsets[at + 1])
}

function hashOfBytes(bytes: Uint8Array, start: number, end: number): number {
  let hash = 0x811c9dc5
  for (let i = start; i < end; i++) hash = Math.imul(hash ^ bytes[i], 0x01000193)
  return hash >>> 0
}

function sameCell(column: Column, a: number, b: number): boolean {
  switch (column.kind) {
    case 'number':
    case 'wide':
      return column.values[a] === column.values[b]
    case 'boolean':
      return hasBit(column.values, a) === hasBit(column.values, b)
    case 'coded':
      return sameText(column.texts, column.codes[a], column.codes[b])
    case 'plain':
      return sameText(column.texts, a, b)
  }
}

function sameText(block: TextBlock, a: number, b: number): boolean {
  if (a === b) return true
  const { bytes, offsets } = wholeBlock(block)
  const length = offsets[a + 1] - offsets[a]
  if (offsets[b + 1] - offsets[b] !== length) return false
  for (let i = offsets[a], j = offsets[b], end = offsets[a + 1]; i < end; i++, j++)
    if (bytes[i] !== bytes[j]) return false
  return true
}
