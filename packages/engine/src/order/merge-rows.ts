import { emptyBits, hasBit, setBit, type Bits } from '../table/bits.ts'
import { isMissing, type Column, type Table, textOf } from '../table/column.ts'
import { SLICE, type Work } from '../work/work.ts'
import type { OrderBy } from './order-rows.ts'
import { compareDigits } from '../table/digits.ts'
import { shownAt, type Show } from '../table/shown-text.ts'
import { textComparer, type CompareText } from './sort-texts.ts'

/** Compares two rows as `orderRows` puts them; rows that tie on all keys by their number. */
export function rowComparer(
  table: Table,
  keys: readonly OrderBy[],
  collation: (natural: boolean) => Intl.Collator,
  shows: readonly Show[],
): (a: number, b: number) => number {
  const compares = keys.map(key => byColumn(table.columns[key.column], key, collation, shows[key.column]))
  return (a, b) => {
    for (const compare of compares) {
      const compared = compare(a, b)
      if (compared !== 0) return compared
    }
    return a - b
  }
}

function byColumn(
  column: Column,
  { descending, missingFirst, shown, natural }: OrderBy,
  collation: (natural: boolean) => Intl.Collator,
  show: Show,
): (a: number, b: number) => number {
  const compareText = textComparer(collation(natural ?? false))
  const present =
    shown || natural
      ? (a: number, b: number) => compareText(shownAt(column, a, show), shownAt(column, b, show))
      : presentComparer(column, compareText)
  return (a, b) => {
    const [missesA, missesB] = [isMissing(column, a), isMissing(column, b)]
    if (missesA || missesB) return (Number(missesA) - Number(missesB)) * (missingFirst ? -1 : 1)
    return descending ? -present(a, b) : present(a, b)
  }
}

function presentComparer(column: Column, compareText: CompareText): (a: number, b: number) => number {
  switch (column.kind) {
    case 'number':
      return (a, b) => column.values[a] - column.values[b] || 0
    case 'wide':
      return (a, b) =>
        column.values[a] < column.values[b] ? -1 : column.values[a] > column.values[b] ? 1 : 0
    case 'boolean':
      return (a, b) => Number(hasBit(column.values, a)) - Number(hasBit(column.values, b))
    case 'coded':
    case 'plain':
      return column.digits
        ? (a, b) => compareDigits(textOf(column, a), textOf(column, b))
        : (a, b) => compareText(textOf(column, a), textOf(column, b))
  }
}

/**
 * An order of rows in which some have changed or are new: those are taken out and put where they belong now. Linear in
 * the rows, and a search for each changed one.
 */
export function* mergeRows(
  sorted: Uint32Array,
  changed: Uint32Array,
  rowCount: number,
  compare: (a: number, b: number) => number,
): Work<Uint32Array> {
  const moving = emptyBits(rowCount)
  for (const row of changed) setBit(moving, row)
  const gone: number[] = []
  for (let from = 0; from < sorted.length; from += SLICE) {
    placesOf(sorted, moving, gone, from, Math.min(sorted.length, from + SLICE))
    yield
  }
  const out = new Uint32Array(sorted.length - gone.length + changed.length)
  mergeInto(out, 0, { rows: sorted, gone }, changed.slice().sort(compare), compare)
  return out
}

/** Appends the places at which rows of a set stand in a list, reckoned from where the look begins. */
export function placesOf(
  rows: Uint32Array,
  set: Bits,
  places: number[],
  from: number,
  to: number,
  origin = 0,
): void {
  for (let i = from; i < to; i++)
    if (((set[rows[i] >>> 5] >>> (rows[i] & 31)) & 1) === 1) places.push(i - origin)
}

/** Ordered rows, of which those at some places are no longer among them. */
export interface Staying {
  readonly rows: Uint32Array
  /** Ascending. */
  readonly gone: readonly number[]
}

/** Writes rows that stay and, each at its place, a few others that come; both in order. A search for each that comes. */
export function mergeInto(
  out: Uint32Array,
  at: number,
  { rows, gone }: Staying,
  coming: Uint32Array,
  compare: (a: number, b: number) => number,
): void {
  const count = rows.length - gone.length
  /** Of the rows that stay, the nth; and of those that are gone, how many stand before it. */
  const goneBefore = (nth: number): number => {
    let [low, high] = [0, gone.length]
    while (low < high) {
      const middle = (low + high) >>> 1
      if (gone[middle] - middle <= nth) low = middle + 1
      else high = middle
    }
    return low
  }
  let [place, next] = [0, 0]
  const copyUpTo = (end: number): void => {
    while (next < gone.length && gone[next] < end) {
      out.set(rows.subarray(place, gone[next]), at)
      at += gone[next] - place
      place = gone[next++] + 1
    }
    out.set(rows.subarray(place, end), at)
    at += end - place
    place = end
  }
  let taken = 0
  for (const row of coming) {
    let [low, high] = [taken, count]
    while (low < high) {
      const middle = (low + high) >>> 1
      if (compare(rows[middle + goneBefore(middle)], row) < 0) low = middle + 1
      else high = middle
    }
    if (low > taken) copyUpTo(low - 1 + goneBefore(low - 1) + 1)
    out[at++] = row
    taken = low
  }
  copyUpTo(rows.length)
}
