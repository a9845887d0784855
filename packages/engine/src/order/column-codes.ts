import {
  asColumn,
  type BooleanColumn,
  type Column,
  type ColumnIndex,
  type NumberColumn,
  type Table,
  type WideColumn,
} from '../table/column.ts'
import { isFew } from '../work/few-changed.ts'
import { keepNewest } from '../work/keep-newest.ts'
import { hasBit } from '../table/bits.ts'
import { SLICE, type Work } from '../work/work.ts'
import { digitKeys } from '../table/digits.ts'
import type { Show } from '../table/shown-text.ts'
import type { Codes } from './counting.ts'
import { followCodes, followShown } from './follow-codes.ts'
import { shownCodes } from './shown-codes.ts'
import {
  scaledCodes,
  sortByWideKeys,
  wideIntegerKeys,
  wideKeys,
  type ScaledCodes,
  type WideKeys,
} from './number-codes.ts'
import { sortTexts, type SortTexts } from './sort-texts.ts'
import { codedTextCodes, plainTextCodes } from './text-codes.ts'

/** Code tables that are kept; each costs four bytes a row. */
const KEPT = 6

/**
 * The code tables of one table's columns: made when first asked for, the least recently used given up beyond a
 * handful. Order, groups and values with counts all read columns through these.
 */
export class ColumnCodes {
  private readonly kept = new Map<string, Codes>()
  /** By name of what is kept: rows that changed since it was made, ascending. */
  private readonly behind = new Map<string, Uint32Array>()
  private readonly unscaled = new Set<number>()
  private table: Table
  private readonly collator: Intl.Collator
  private readonly natural: Intl.Collator
  private readonly showOf: (columnIndex: ColumnIndex) => Show

  private readonly sort: SortTexts

  /** `showOf`: how a column's values are written, for orders by what is shown. `sort`: how many texts are sorted. */
  constructor(
    table: Table,
    locale: string | undefined,
    showOf: (columnIndex: ColumnIndex) => Show,
    sort: SortTexts = sortTexts,
  ) {
    this.sort = sort
    this.table = table
    this.collator = new Intl.Collator(locale)
    this.natural = new Intl.Collator(locale, { numeric: true })
    this.showOf = showOf
  }

  /** The collator by which a column's texts are ordered. */
  collation(natural: boolean): Intl.Collator {
    return natural ? this.natural : this.collator
  }

  /** Whole-number codes of a number column with few decimals, else null (found out once). */
  *scaled(columnIndex: ColumnIndex): Work<ScaledCodes | null> {
    const column = this.table.columns[columnIndex]
    if (column.kind !== 'number' || this.unscaled.has(columnIndex)) return null
    const known = this.recall(`scaled:${columnIndex}`)
    if (known) return known as ScaledCodes
    const made = yield* scaledCodes(column)
    if (made) return this.keep(`scaled:${columnIndex}`, made)
    this.unscaled.add(columnIndex)
    return null
  }

  /** Codes of any column: equal values, equal codes; codes sort like the values; missing is `size`. */
  *of(columnIndex: ColumnIndex): Work<Codes> {
    const scaled = yield* this.scaled(columnIndex)
    if (scaled) return scaled
    const known = this.recall(`any:${columnIndex}`)
    if (known) return known
    const made = yield* codesOf(this.table.columns[columnIndex], this.table.rows, this.collator, this.sort)
    return this.keep(`any:${columnIndex}`, made)
  }

  /** Codes by what the column shows; `natural`: digits within texts count as numbers. */
  *shown(columnIndex: ColumnIndex, natural: boolean): Work<Codes> {
    const name = `${natural ? 'natural' : 'shown'}:${columnIndex}`
    const known = this.recall(name)
    if (known) return known
    const column = this.table.columns[columnIndex]
    const byValue = yield* this.of(columnIndex)
    const made = yield* shownCodes(
      column,
      byValue,
      this.showOf(columnIndex),
      this.collation(natural),
      this.sort,
    )
    return this.keep(name, made)
  }

  /** Forgets orders by what is shown: it is written otherwise now. */
  forgetShown(): void {
    for (const name of [...this.kept.keys()]) if (goesByShown(name)) this.forget(name)
  }

  /**
   * Goes over to a changed table: codes of columns that did not change stay, others are brought up to date when they are
   * next asked for, by the changed rows alone where that can be. `changedIn`: the rows of a column that changed or are new,
   * ascending. `rewritten`: columns that are written otherwise in every row.
   */
  follow(table: Table, changedIn: (place: number) => Uint32Array, rewritten: readonly ColumnIndex[]): void {
    this.table = table
    for (const name of [...this.kept.keys()]) {
      const place = placeOfName(name)
      const changed = changedIn(place)
      if (changed.length === 0) continue
      const behind = new Set([...(this.behind.get(name) ?? []), ...changed])
      const isRewritten = goesByShown(name) && rewritten.includes(asColumn(place))
      if (isRewritten || !isFew(behind.size, table.rows)) this.forget(name)
      else this.behind.set(name, Uint32Array.from(behind).sort())
    }
    for (const place of this.unscaled) if (changedIn(place).length > 0) this.unscaled.delete(place)
  }

  /** Takes over what another holds of columns that are the same here. */
  adopt(other: ColumnCodes): void {
    const same = (place: ColumnIndex): boolean => other.table.columns[place] === this.table.columns[place]
    for (const [name, codes] of other.kept) {
      if (!same(asColumn(placeOfName(name)))) continue
      this.kept.set(name, codes)
      const behind = other.behind.get(name)
      if (behind) this.behind.set(name, behind)
    }
    for (const place of other.unscaled) if (same(asColumn(place))) this.unscaled.add(place)
  }

  private recall(name: string): Codes | undefined {
    const codes = this.caughtUp(name)
    this.kept.delete(name)
    if (codes) this.kept.set(name, codes)
    return codes
  }

  /** What is kept under a name, with the rows that changed since. */
  private caughtUp(name: string): Codes | undefined {
    const codes = this.kept.get(name)
    const changed = this.behind.get(name)
    if (!codes || !changed) return codes
    this.behind.delete(name)
    const place = placeOfName(name)
    const { rows, columns } = this.table
    if (!goesByShown(name)) return followCodes(codes, columns[place], { changed, rows }) ?? undefined
    const byValue = this.recall(`scaled:${place}`) ?? this.recall(`any:${place}`)
    return (byValue && followShown(codes, byValue, { changed, rows })) ?? undefined
  }

  private forget(name: string): void {
    this.kept.delete(name)
    this.behind.delete(name)
  }

  private keep<C extends Codes>(name: string, made: C): C {
    const codes = { ...made, numbering: {} }
    this.behind.delete(name)
    this.kept.set(name, codes)
    keepNewest(this.kept, KEPT)
    return codes
  }
}

const goesByShown = (name: string): boolean => /^(shown|natural):/.test(name)
const placeOfName = (name: string): number => Number(name.slice(name.indexOf(':') + 1))

/** Puts digits before letters, and letters in their order. */
const PLAIN = new Intl.Collator('en')

function* codesOf(column: Column, rows: number, collator: Intl.Collator, sort: SortTexts): Work<Codes> {
  switch (column.kind) {
    case 'coded':
      return column.digits
        ? yield* codedTextCodes({ ...column, texts: yield* digitKeys(column.texts) }, PLAIN, sort)
        : yield* codedTextCodes(column, collator, sort)
    case 'plain':
      return column.digits
        ? yield* plainTextCodes({ ...column, texts: yield* digitKeys(column.texts) }, PLAIN, sort)
        : yield* plainTextCodes(column, collator, sort)
    case 'boolean':
      return booleanCodes(column, rows)
    case 'number':
      return yield* distinctCodes(column, yield* wideKeys(column, false))
    case 'wide':
      return yield* distinctCodes(column, yield* wideIntegerKeys(column, false))
  }
}

/** Codes of a column of mostly different numbers: its rows are sorted once, equal neighbours share a code. */
function* distinctCodes({ values, missing }: NumberColumn | WideColumn, keys: WideKeys): Work<Codes> {
  const sorted = yield* sortByWideKeys(keys, null, values.length)
  const codes = new Uint32Array(values.length)
  let size = 0
  let before: number | bigint = NaN
  for (let i = 0; i < sorted.length; i++) {
    const row = sorted[i]
    if (missing && hasBit(missing, row)) break
    if (values[row] !== before) {
      size++
      before = values[row]
    }
    codes[row] = size - 1
    if (i % SLICE === 0) yield
  }
  if (missing) for (let row = 0; row < codes.length; row++) if (hasBit(missing, row)) codes[row] = size
  return { codes, size }
}

function booleanCodes(column: BooleanColumn, rows: number): Codes {
  const codes = new Uint32Array(rows)
  for (let row = 0; row < rows; row++) {
    codes[row] = column.missing && hasBit(column.missing, row) ? 2 : hasBit(column.values, row) ? 1 : 0
  }
  return { codes, size: 2 }
}
