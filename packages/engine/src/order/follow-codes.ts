import { emptyBits, hasBit, lengthened, setBit, wordsFor, type Bits } from '../table/bits.ts'
import type { Column } from '../table/column.ts'
import type { Codes } from './counting.ts'
import type { ScaledCodes } from './number-codes.ts'

/** Rows whose value is another now. */
export interface ChangedRows {
  /** Ascending, those that are new behind the others. */
  readonly changed: Uint32Array
  /** Rows there are now. */
  readonly rows: number
}

/** Codes with those of changed rows worked out again; null where one has a value that had no code, or it takes a look at all rows. */
export function followCodes(codes: Codes, column: Column, { changed, rows }: ChangedRows): Codes | null {
  const { size } = codes
  switch (column.kind) {
    case 'number':
      return 'scale' in codes ? followScaled(codes as ScaledCodes, column, changed, rows) : null
    case 'boolean':
      return recoded(codes, rows, changed, row =>
        isMissing(column.missing, row) ? size : Number(hasBit(column.values, row)),
      )
    case 'coded': {
      const like = rowsLike(column.codes, changed, column.missing, codes.codes.length)
      return recoded(codes, rows, changed, row => {
        if (isMissing(column.missing, row)) return size
        const other = like.get(column.codes[row])
        return other === undefined ? -1 : codes.codes[other]
      })
    }
    default:
      return null
  }
}

/** The same of codes by what is shown, from a column's own codes before and after. */
export function followShown(shown: Codes, byValue: Codes, { changed, rows }: ChangedRows): Codes | null {
  const like = rowsLike(byValue.codes, changed, null, shown.codes.length)
  return recoded(shown, rows, changed, row => {
    if (byValue.codes[row] === byValue.size) return shown.size
    const other = like.get(byValue.codes[row])
    return other === undefined ? -1 : shown.codes[other]
  })
}

const isMissing = (missing: Bits | null, row: number): boolean => missing !== null && hasBit(missing, row)

/** A copy in which some rows have another code; −1: there is none, and so no copy. */
function recoded(
  codes: Codes,
  rows: number,
  changed: Uint32Array,
  codeOf: (row: number) => number,
): Codes | null {
  const list = new Uint32Array(rows)
  list.set(codes.codes)
  for (const row of changed) {
    const code = codeOf(row)
    if (code < 0) return null
    list[row] = code
  }
  return { ...codes, codes: list }
}

function followScaled(
  codes: ScaledCodes,
  { values, missing }: Extract<Column, { kind: 'number' }>,
  changed: Uint32Array,
  rows: number,
): Codes | null {
  const { base, scale, size } = codes
  return recoded(codes, rows, changed, row => {
    if (isMissing(missing, row)) return size
    const scaled = Math.round(values[row] * scale)
    return scaled / scale === values[row] && scaled >= base && scaled - base < size ? scaled - base : -1
  })
}

/** By what changed rows have in a list: another row that has the same and did not change. One look a row at most. */
function rowsLike(
  list: Uint32Array,
  changed: Uint32Array,
  missing: Bits | null,
  rows: number,
): Map<number, number> {
  const moved = missing ? lengthened(missing.subarray(0, wordsFor(rows)), rows) : emptyBits(rows)
  for (const row of changed) if (row < rows) setBit(moved, row)
  const left = new Set(Array.from(changed, row => list[row]))
  const most = Math.max(0, ...left)
  // Asking a set a million times takes its time.
  const wanted = new Uint8Array(most + 1)
  for (const value of left) wanted[value] = 1
  const found = new Map<number, number>()
  for (let row = 0; row < rows && found.size < left.size; row++) {
    const value = list[row]
    if (value > most || wanted[value] === 0 || hasBit(moved, row)) continue
    wanted[value] = 0
    found.set(value, row)
  }
  return found
}
