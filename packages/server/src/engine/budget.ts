import type { Answered } from './engine.ts'

/** What a value takes besides its text. */
const BYTES_A_VALUE = 16

/** How many bytes one answer may hold: rows are taken as long as there is room for them. */
export class Budget {
  private left: number
  private taken = 0
  /** A row was left out, and with it all behind it. */
  isSpent = false

  constructor(bytes: number) {
    this.left = bytes
  }

  /** Whether a row has a place; the first one always does, else nothing would ever be answered. */
  takes(row: readonly Answered[]): boolean {
    if (this.isSpent) return false
    for (const value of row) this.left -= BYTES_A_VALUE + lengthOf(value)
    this.isSpent = this.left < 0 && this.taken > 0
    if (!this.isSpent) this.taken++
    return !this.isSpent
  }
}

function lengthOf(value: Answered): number {
  if (typeof value === 'string') return value.length
  if (value === null || typeof value !== 'object') return 0
  return value.reduce((sum, one) => sum + BYTES_A_VALUE + one.length, 0)
}
