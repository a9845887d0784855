import { hasBit, emptyBits, setBit } from '../table/bits.ts'
import { isMissing, type Column, type Table, textOf } from '../table/column.ts'
import { SLICE, type Work } from '../work/work.ts'
import type { OrderBy } from './order-rows.ts'
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
      return (a, b) => compareText(textOf(column, a), textOf(column, b))
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
  const staying = new Uint32Array(sorted.length)
  let count = 0
  for (let from = 0; from < sorted.length; from += SLICE) {
    const to = Math.min(sorted.length, from + SLICE)
    for (let i = from; i < to; i++) if (!hasBit(moving, sorted[i])) staying[count++] = sorted[i]
    yield
  }
  const ordered = Array.from(changed).sort(compare)
  const out = new Uint32Array(count + ordered.length)
  let taken = 0
  for (const [nth, row] of ordered.entries()) {
    let low = taken
    let high = count
    while (low < high) {
      const middle = (low + high) >>> 1
      if (compare(staying[middle], row) < 0) low = middle + 1
      else high = middle
    }
    out.set(staying.subarray(taken, low), taken + nth)
    out[low + nth] = row
    taken = low
    if (nth % 1024 === 1023) yield
  }
  out.set(staying.subarray(taken, count), taken + ordered.length)
  return out
}
