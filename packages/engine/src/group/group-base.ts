import type { ColumnCodes } from '../order/column-codes.ts'
import { changedRows, type TableEdit } from '../edit/table-edit.ts'
import { countBits, emptyBits, fullBits, hasBit, type Bits } from '../table/bits.ts'
import type { Column, ColumnIndex, Table, WideColumn, DigitColumn } from '../table/column.ts'
import type { Work } from '../work/work.ts'
import type { BoundFormula } from '../expression/expressions.ts'
import type { OwnSummaries } from '../summary/own-summary.ts'
import {
  countRows,
  presentRows,
  squareRows,
  sumRows,
  exactSums,
  patchedExact,
  type ExactSums,
  type Summable,
  type Sums,
} from '../summary/sums.ts'
import type { LevelCodes } from './group-tree.ts'

/** What summaries need besides rows; formulas may change while rows and groups stay. */
export interface SummaryParts {
  readonly own: OwnSummaries
  readonly formulas: readonly BoundFormula[]
}

/** Under which rows by code are known. */
const ROWS = 'rows'

/** What a base goes on from. */
interface Earlier {
  readonly base: GroupBase
  /** Rows that are in another group now, in none or in one at last. */
  readonly moved: Uint32Array
  readonly edit: TableEdit
}

/** Codes whose rows changed, and all rows that have them now. */
export interface Affected {
  /** By code: 1 where it is one of them. */
  readonly codes: Uint8Array
  readonly rows: Bits
}

/** Work over all rows is done where more rows than this part of them would be looked at again. */
export const MOST_AGAIN = 1 / 2

/**
 * The passing rows by the codes of all levels, and what columns come to in each: parts that every group is put together from, whatever the
 * order of rows and groups, and whichever groups are kept. Each is worked out when first asked for.
 */
export class GroupBase {
  readonly table: Table
  readonly codes: ColumnCodes
  readonly levels: LevelCodes
  /** Null: all rows. */
  readonly among: Bits | null
  readonly parts: SummaryParts
  private readonly known = new Map<string, unknown>()
  private earlier: Earlier | null = null
  /** By column that changed, or −1 for all others. */
  private readonly affectedIn = new Map<number, Affected | null>()

  constructor(table: Table, codes: ColumnCodes, levels: LevelCodes, among: Bits | null, parts: SummaryParts) {
    this.table = table
    this.codes = codes
    this.levels = levels
    this.among = among
    this.parts = parts
  }

  /**
   * Goes on from what another knew before values of some rows changed: only what these rows are in is worked out again.
   * Codes must stand for the same in both.
   */
  follow(base: GroupBase, edit: TableEdit): this {
    base.earlier = null
    this.earlier = { base, moved: movedRows(base, this, edit), edit }
    return this
  }

  /** Whether it goes on from another. */
  follows(base: GroupBase): boolean {
    return this.earlier?.base === base
  }

  /** Rows that are in other groups than in what it goes on from; null: it goes on from nothing. */
  get moved(): Uint32Array | null {
    return this.earlier && this.earlier.moved
  }

  /** Whether it goes on from another, no row is in another group than there, and the column has the same values. */
  isUnchanged(place: ColumnIndex | null): boolean {
    const { earlier } = this
    return earlier?.moved.length === 0 && !(place !== null && earlier.edit.touched.has(place))
  }

  /** The codes whose rows, or their values in a column, changed; null: so much that all is worked out again. */
  affected(place: ColumnIndex | null): Affected | null {
    if (!this.earlier) return null
    const { base, moved, edit } = this.earlier
    const inColumn = place !== null && edit.touched.has(place) ? place : -1
    const known = this.affectedIn.get(inColumn)
    if (known !== undefined) return known
    const { codes, size } = this.levels.combined
    const affected = new Uint8Array(size + 1)
    for (const row of moved) {
      affected[codes[row]] = 1
      if (row < base.table.rows) affected[base.levels.combined.codes[row]] = 1
    }
    for (const row of edit.touched.get(inColumn) ?? []) affected[codes[row]] = 1
    const rows = rowsOfCodes(codes, affected, this.among)
    const made = countBits(rows) > codes.length * MOST_AGAIN ? null : { codes: affected, rows }
    this.affectedIn.set(inColumn, made)
    return made
  }

  /** Rows by code. */
  *counts(): Work<Uint32Array> {
    const known = this.known.get(ROWS) as Uint32Array | undefined
    if (known) return known
    const before = this.earlier?.base.known.get(ROWS) as Uint32Array | undefined
    const counts =
      before && this.earlier
        ? recounted(before, this.earlier, this)
        : yield* countRows(this.levels.combined, this.among)
    this.known.set(ROWS, counts)
    return counts
  }

  /** Rows that have a value, by code. */
  present(place: ColumnIndex): Work<Uint32Array> {
    const { combined } = this.levels
    const column = this.column(place)
    if (!column.missing) return this.counts()
    return this.once(
      `present:${place}`,
      place,
      among => countRows(combined, presentRows(column, among, this.table.rows)),
      (before, again, codes) => patched(before.slice(), again, codes, 1),
    )
  }

  *sums(place: ColumnIndex, column: Summable): Work<Sums> {
    const { combined } = this.levels
    const present = yield* this.present(place)
    return yield* this.once(
      `sums:${place}`,
      place,
      among => sumRows(combined, column, among, present),
      (before, again, codes) => patchedSums(before, again, codes),
    )
  }

  *squares(place: ColumnIndex, column: Summable): Work<Float64Array> {
    const { combined } = this.levels
    const sums = yield* this.sums(place, column)
    return yield* this.once(
      `squares:${place}`,
      place,
      among => squareRows(combined, column, among, sums),
      (before, again, codes) => patched(before.slice(), again, codes, 1),
    )
  }

  exactSums(place: ColumnIndex, column: WideColumn | DigitColumn): Work<ExactSums> {
    const { combined } = this.levels
    return this.once(`exact:${place}`, place, among => exactSums(combined, column, among), patchedExact)
  }

  column(place: ColumnIndex): Column {
    return this.table.columns[place]
  }

  /** `make` works out all codes from some rows; `patch` takes those of some codes into what was known of the others. */
  private *once<T>(
    name: string,
    place: ColumnIndex,
    make: (among: Bits | null) => Work<T>,
    patch: (before: T, again: T, codes: Uint8Array) => T,
  ): Work<T> {
    const known = this.known.get(name)
    // What stands under a name was made by the work that is asked for under it.
    if (known !== undefined) return known as T
    const before = this.earlier?.base.known.get(name)
    const made =
      before === undefined ? yield* make(this.among) : yield* this.goOn(before as T, place, make, patch)
    this.known.set(name, made)
    return made
  }

  private *goOn<T>(
    before: T,
    place: ColumnIndex,
    make: (among: Bits | null) => Work<T>,
    patch: (before: T, again: T, codes: Uint8Array) => T,
  ): Work<T> {
    if (this.isUnchanged(place)) return before
    const affected = this.affected(place)
    return affected ? patch(before, yield* make(affected.rows), affected.codes) : yield* make(this.among)
  }
}

/** Rows by code, once some have moved. */
function recounted(counts: Uint32Array, { base, moved }: Earlier, now: GroupBase): Uint32Array {
  const after = counts.slice()
  for (const row of moved) {
    if (row < base.table.rows && isAmong(base, row)) after[base.levels.combined.codes[row]]--
    if (isAmong(now, row)) after[now.levels.combined.codes[row]]++
  }
  return after
}

const isAmong = ({ among }: GroupBase, row: number): boolean => !among || hasBit(among, row)

/** Rows that changed their code, or were among some before and are not now, or the other way round; ascending. */
function movedRows(before: GroupBase, now: GroupBase, edit: TableEdit): Uint32Array {
  const [old, codes] = [before.levels.combined.codes, now.levels.combined.codes]
  const moved = new Set<number>()
  for (const row of changedRows(edit, edit.touched.keys()))
    if (row >= old.length ? isAmong(now, row) : old[row] !== codes[row]) moved.add(row)
  for (const row of differences(before.among, now.among, old.length)) moved.add(row)
  return Uint32Array.from(moved).sort()
}

/** Of the numbers below `length`: those that are in one set and not in the other; null: all are. */
function differences(a: Bits | null, b: Bits | null, length: number): number[] {
  if (a === b) return []
  const out: number[] = []
  const full = fullBits(length)
  for (let w = 0; w < full.length; w++) {
    let left = ((a ? a[w] : full[w]) ^ (b ? b[w] : full[w])) & full[w]
    for (; left !== 0; left &= left - 1) out.push((w << 5) + 31 - Math.clz32(left & -left))
  }
  return out
}

/** The rows among some (null: all) that have a code of a set. */
export function rowsOfCodes(codes: Uint32Array, wanted: Uint8Array, among: Bits | null): Bits {
  const bits = emptyBits(codes.length)
  for (let w = 0, row = 0; w < bits.length; w++) {
    const end = Math.min(codes.length, row + 32)
    let word = 0
    for (let bit = 0; row < end; row++, bit++) word |= wanted[codes[row]] << bit
    bits[w] = among ? word & among[w] : word
  }
  return bits
}

/** Takes what some codes come to over from another list, in which each has so many numbers. */
function patched<T extends Uint32Array | Float64Array>(
  into: T,
  again: T,
  codes: Uint8Array,
  each: number,
): T {
  for (let code = 0; code < codes.length; code++)
    if (codes[code] === 1) for (let at = code * each; at < (code + 1) * each; at++) into[at] = again[at]
  return into
}

const patchedSums = ({ moments }: Sums, again: Sums, codes: Uint8Array): Sums => ({
  present: again.present,
  moments: patched(moments.slice(), again.moments, codes, again.moments.length / codes.length),
})
