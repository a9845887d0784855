import type { ColumnCodes } from '../order/column-codes.ts'
import type { Bits } from '../table/bits.ts'
import type { Column, ColumnIndex, Table, WideColumn } from '../table/column.ts'
import type { Work } from '../work/work.ts'
import type { BoundFormula } from '../expression/expressions.ts'
import type { OwnSummaries } from '../summary/own-summary.ts'
import {
  countRows,
  presentRows,
  squareRows,
  sumRows,
  wideSums,
  type Summable,
  type Sums,
} from '../summary/sums.ts'
import type { LevelCodes } from './group-tree.ts'

/** What summaries need besides rows; formulas may change while rows and groups stay. */
export interface SummaryParts {
  readonly own: OwnSummaries
  readonly formulas: readonly BoundFormula[]
}

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

  constructor(table: Table, codes: ColumnCodes, levels: LevelCodes, among: Bits | null, parts: SummaryParts) {
    this.table = table
    this.codes = codes
    this.levels = levels
    this.among = among
    this.parts = parts
  }

  /**
   * Takes over what another worked out over the same rows in the same groups, but for columns that have changed since.
   */
  adopt(other: GroupBase, changed: (place: number) => boolean): this {
    for (const [name, made] of other.known) {
      const place = name.split(':').at(1)
      if (place === undefined || !changed(Number(place))) this.known.set(name, made)
    }
    return this
  }

  /** Rows by code. */
  counts(): Work<Uint32Array> {
    return this.once('rows', () => countRows(this.levels.combined, this.among))
  }

  /** Rows that have a value, by code. */
  present(place: ColumnIndex): Work<Uint32Array> {
    const column = this.column(place)
    if (!column.missing) return this.counts()
    return this.once(`present:${place}`, () =>
      countRows(this.levels.combined, presentRows(column, this.among, this.table.rows)),
    )
  }

  *sums(place: ColumnIndex, column: Summable): Work<Sums> {
    const present = yield* this.present(place)
    return yield* this.once(`sums:${place}`, () => sumRows(this.levels.combined, column, this.among, present))
  }

  *squares(place: ColumnIndex, column: Summable): Work<Float64Array> {
    const sums = yield* this.sums(place, column)
    return yield* this.once(`squares:${place}`, () =>
      squareRows(this.levels.combined, column, this.among, sums),
    )
  }

  wideSums(place: ColumnIndex, column: WideColumn): Work<bigint[]> {
    return this.once(`wide:${place}`, () => wideSums(this.levels.combined, column, this.among))
  }

  column(place: ColumnIndex): Column {
    return this.table.columns[place]
  }

  private *once<T>(name: string, make: () => Work<T>): Work<T> {
    const known = this.known.get(name)
    // What stands under a name was made by the work that is asked for under it.
    if (known !== undefined) return known as T
    const made = yield* make()
    this.known.set(name, made)
    return made
  }
}
