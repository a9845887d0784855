import { asColumn, type ColumnIndex, type Table } from '../table/column.ts'
import type { Bits } from '../table/bits.ts'
import { shower, type Show } from '../table/shown-text.ts'
import type { Clock } from '../condition/clock.ts'
import type { Condition } from '../condition/condition.ts'
import { matchRows, type Met } from '../condition/match-rows.ts'
import type { OwnConditions } from '../condition/kinds/kind.ts'
import type { PatternCompiler } from '../condition/kinds/kind.ts'
import type { TableEdit } from '../edit/table-edit.ts'
import { scaledCodes } from '../order/number-codes.ts'
import type { JoinedText } from '../search/joined-text.ts'
import { RowSearch } from '../search/search-rows.ts'
import {
  buildShownIndex,
  followIndex,
  shownAlphabet,
  staleParts,
  type ShownColumn,
  type ShownIndex,
} from '../search/shown-index.ts'
import type { Work } from '../work/work.ts'
import type { Formats } from './request.ts'

/** What conditions need besides their column. */
export interface ConditionTools {
  /** Null: what reads patterns is not loaded. */
  readonly pattern: PatternCompiler | null
  readonly own: OwnConditions
}

export const NO_TOOLS: ConditionTools = { pattern: null, own: {} }

/** Says which rows of a table hold words or meet a condition, wherever that is worked out. */
export interface Predicates {
  /** The rows in which every word, folded, stands in some of the columns; columns by their place. */
  rowsWith(words: readonly string[], columns: readonly ColumnIndex[]): Work<Bits>
  /** The rows that meet a condition on the column at a place. */
  rowsMeeting(place: ColumnIndex, condition: Condition, clock: Clock): Work<Met>
  /** Builds what searches in the columns need, ahead of the first. */
  prepare(columns: readonly ColumnIndex[]): Work<void>
  /** Sets how columns write their values. */
  bind(formats: Formats): void
  /** Goes over to a changed table of the same fields. */
  follow(edit: TableEdit): Work<void>
  /**
   * The same over a table of the same rows and other columns, `same` being the places of those that are as before. This
   * one must not be asked any more.
   */
  withColumns(table: Table, same: readonly number[]): Predicates
}

/** Predicates that this thread works out; keeps the search indexes that this takes. */
export class OwnPredicates implements Predicates {
  private table: Table
  private readonly tools: ConditionTools
  private formats: Formats
  private shows: readonly Show[] = []
  private readonly indexes = new Map<number, ShownIndex>()
  /** Joined texts of indexes that are not finished. */
  private readonly begun = new Map<number, JoinedText[]>()
  private search!: RowSearch

  constructor(table: Table, tools: ConditionTools = NO_TOOLS, formats: Formats = {}) {
    this.table = table
    this.tools = tools
    this.formats = formats
    this.renew()
  }

  rowsWith(words: readonly string[], columns: readonly ColumnIndex[]): Work<Bits> {
    return this.search.find(words, columns)
  }

  rowsMeeting(place: ColumnIndex, condition: Condition, clock: Clock): Work<Met> {
    const { fields, columns, rows } = this.table
    const index = (): Work<ShownIndex> => this.indexOf(place)
    const asked = { field: fields[place], column: columns[place], rows, index, clock, ...this.tools }
    return matchRows(condition, asked)
  }

  *prepare(columns: readonly ColumnIndex[]): Work<void> {
    for (const place of columns) yield* this.indexOf(place)
  }

  bind(formats: Formats): void {
    this.formats = formats
    for (const [place, field] of this.table.fields.entries())
      if (field.type !== 'text') this.forget(asColumn(place))
    this.renew()
  }

  *follow({ table, touched, appendedFrom }: TableEdit): Work<void> {
    // A column that is written otherwise now, with more decimals, shows other text in every row.
    for (const [place, field] of table.fields.entries())
      if (JSON.stringify(field) !== JSON.stringify(this.table.fields[place])) this.forget(asColumn(place))
    this.table = table
    this.renew()
    for (const place of new Set([...this.indexes.keys(), ...this.begun.keys()])) {
      const rows = touched.get(place) ?? NO_ROWS
      if (rows.length === 0 && appendedFrom === table.rows) continue
      const begun = this.begun.get(place)
      begun?.splice(staleParts(rows, appendedFrom, table.rows)[0])
      const index = this.indexes.get(place)
      if (!index) continue
      const followed =
        rows.length * 4 > table.rows
          ? null
          : yield* followIndex(index, this.shown(asColumn(place)), rows, appendedFrom)
      if (followed) this.indexes.set(place, followed)
      else this.indexes.delete(place)
      yield
    }
  }

  withColumns(table: Table, same: readonly number[]): OwnPredicates {
    const next = new OwnPredicates(table, this.tools, this.formats)
    for (const place of same) {
      const index = this.indexes.get(place)
      const begun = this.begun.get(place)
      if (index) next.indexes.set(place, index)
      if (begun) next.begun.set(place, begun)
    }
    return next
  }

  private forget(place: ColumnIndex): void {
    this.indexes.delete(place)
    this.begun.delete(place)
  }

  /** What was kept of searches does not hold any more. */
  private renew(): void {
    const { fields, rows } = this.table
    this.shows = fields.map(field => shower(field, this.formats[field.key]))
    const alphabets = fields.map(field => shownAlphabet(field, this.formats[field.key]))
    this.search = new RowSearch(
      rows,
      place => this.indexOf(place),
      (place, word) => alphabets[place]?.test(word) ?? true,
    )
  }

  private shown(place: ColumnIndex): ShownColumn {
    const { fields, columns, rows } = this.table
    const field = fields[place]
    const format = this.formats[field.key] ?? {}
    return { field, column: columns[place], rows, format, show: this.shows[place] }
  }

  private *indexOf(place: ColumnIndex): Work<ShownIndex> {
    const known = this.indexes.get(place)
    if (known) return known
    const shown = this.shown(place)
    const { column, show } = shown
    const begun = this.begun.get(place) ?? []
    this.begun.set(place, begun)
    const index = yield* buildShownIndex(
      shown,
      function* () {
        return column.kind === 'number' ? yield* scaledCodes(column) : null
      },
      begun,
    )
    if (show === this.shows[place]) {
      this.indexes.set(place, index)
      this.begun.delete(place)
    }
    return index
  }
}

const NO_ROWS = new Uint32Array(0)
