import { andNotInto, emptyBits, orInto, type Bits } from '../table/bits.ts'
import type { Field, NumberColumn } from '../table/column.ts'
import type { Format } from '../table/format.ts'
import { momentWriting } from '../table/show-date.ts'
import { numberWriting } from '../table/show-number.ts'
import type { Show } from '../table/shown-text.ts'
import { extent } from '../table/extent.ts'
import { SLICE, type Work } from '../work/work.ts'
import { LONGEST_WORD, WordStates } from './word-states.ts'
import {
  findMoments,
  momentsFit,
  momentSteps,
  writtenMoments,
  type WrittenMoments,
} from './written-moments.ts'
import {
  findNumbers,
  numbersFit,
  numberSteps,
  writtenNumbers,
  type WrittenNumbers,
} from './written-numbers.ts'

type Writing = WrittenNumbers | WrittenMoments

/**
 * A column of numbers or moments that is searched without any text of its rows: a word is followed through the few
 * texts that all of them are made of, groups of three digits or days and times of day. Takes no memory.
 */
export interface WrittenIndex {
  readonly kind: 'written'
  readonly column: NumberColumn
  readonly writing: Writing
}

/** The index of a column by how it is written; null where that is not by one rule, or not for all of its values. */
export function* buildWritten(
  field: Field,
  column: NumberColumn,
  format: Format,
  show: Show,
): Work<WrittenIndex | null> {
  const writing = yield* writingOf(field, column, format, show)
  if (!writing) return null
  const rows = column.values.length
  for (let from = 0; from < rows; from += SLICE) {
    if (!fit(writing, column, from, Math.min(rows, from + SLICE))) return null
    yield
  }
  return { kind: 'written', column, writing }
}

function* writingOf(
  { type, decimals = 0, zoned = false }: Field,
  column: NumberColumn,
  format: Format,
  show: Show,
): Work<Writing | null> {
  if (type === 'integer' || type === 'number') {
    const writing = numberWriting(format, decimals)
    return writing && writtenNumbers(writing, show)
  }
  const rule = type === 'datetime' ? momentWriting(zoned, format) : null
  if (!rule) return null
  const { low, high } = yield* extent(column)
  return writtenMoments(rule, low, high)
}

const fit = (writing: Writing, column: NumberColumn, from: number, to: number): boolean =>
  writing.by === 'number' ? numbersFit(writing, column, from, to) : momentsFit(writing, column, from, to)

/** The index over a column in which some rows changed or are new; null where one of them is written otherwise. */
export function followWritten(
  { writing }: WrittenIndex,
  column: NumberColumn,
  touched: Uint32Array,
  appendedFrom: number,
): WrittenIndex | null {
  for (const row of touched) if (!fit(writing, column, row, row + 1)) return null
  return fit(writing, column, appendedFrom, column.values.length)
    ? { kind: 'written', column, writing }
    : null
}

/** Sets the bits of all rows whose text holds `word` (folded). `among`: a set that all of them are known to lie in. */
export function* findWritten(
  { column, writing }: WrittenIndex,
  word: string,
  into: Bits,
  among: Bits | null,
): Work<void> {
  if (word === '' || word.length > LONGEST_WORD) return
  const states = new WordStates(word)
  const steps = writing.by === 'number' ? numberSteps(writing, states) : momentSteps(writing, states)
  const rows = column.values.length
  // Rows without a value are found as the number that stands for it, and taken out.
  const hits = column.missing ? emptyBits(rows) : into
  for (let from = 0; from < rows; from += ROWS_A_SLICE) {
    const to = Math.min(rows, from + ROWS_A_SLICE)
    // Loops over one kind of array are quicker than over two.
    const slice = column.values.subarray(from, to)
    const values = slice instanceof Float64Array ? slice : new Float64Array(slice)
    if (steps.by === 'number') findNumbers(steps, values, among, hits, from)
    else findMoments(steps, values, among, hits, from)
    yield
  }
  if (!column.missing) return
  andNotInto(hits, column.missing)
  orInto(into, hits)
}

/** A value takes up to some tens of nanoseconds. */
const ROWS_A_SLICE = SLICE / 2
