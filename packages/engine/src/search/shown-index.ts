import { emptyBits, hasBit, setBit, type Bits } from '../table/bits.ts'
import type { Column, Field } from '../table/column.ts'
import { valueAt } from '../table/column.ts'
import { shownAt, type Show } from '../table/shown-text.ts'
import type { Format } from '../table/format.ts'
import { textAt } from '../table/text-block.ts'
import { SLICE, type Work } from '../work/work.ts'
import { fold } from './fold.ts'
import { buildWritten, findWritten, followWritten, type WrittenIndex } from './written-index.ts'
import { findAmong, findInJoined, joinBlock, joinTexts, JOINED_ROWS, type JoinedText } from './joined-text.ts'

/** Distinct shown texts up to which a column is searched by its distinct texts. */
const MAX_DISTINCT = 1 << 16

/**
 * What a column shows, folded and ready to be searched: one text per distinct value and each row's number among
 * them; where most values differ, how they are written; and where that is not by one rule, all rows' texts joined.
 */
export type ShownIndex =
  DistinctIndex | WrittenIndex | { readonly kind: 'joined'; readonly parts: readonly JoinedText[] }

export interface DistinctIndex {
  readonly kind: 'distinct'
  readonly codes: RowCodes
  readonly missing: Bits | null
  readonly texts: readonly string[]
}

/** Each row's number among the distinct texts: listed, or worked out from its value so that it costs no memory. */
export type RowCodes =
  | { readonly by: 'list'; readonly codes: Uint32Array }
  | {
      readonly by: 'value'
      readonly values: Float64Array | Int32Array
      readonly scale: number
      readonly base: number
    }

/** Whole-number codes of a number column, as far as it has them; see `ColumnCodes.scaled`. */
export type ScaledOf = () => Work<{
  readonly size: number
  readonly base: number
  readonly scale: number
} | null>

/**
 * The characters that a field's shown text can hold, where those are few: a word with any other is not looked for
 * in it, and its index not built.
 */
export function shownAlphabet(field: Field, format: Format = {}): RegExp | null {
  switch (field.type) {
    case 'integer':
    case 'number':
      return (format.number ?? 'plain') === 'plain' ? /^[-+.\deinfty]*$/ : null
    case 'date':
    case 'time':
      return (format.date ?? 'iso') === 'iso' ? /^[-+:.\d]*$/ : null
    case 'datetime':
      return (format.date ?? 'iso') === 'iso' && !format.zone ? /^[-+:.\dutc ]*$/ : null
    default:
      return null
  }
}

/** A column as it is shown. */
export interface ShownColumn {
  readonly field: Field
  readonly column: Column
  readonly rows: number
  readonly format: Format
  readonly show: Show
}

/**
 * Builds the index of one column, in slices. `begun`: parts of joined text that are there already, from the first row
 * on; the others are added to it, so that a building that was given up goes on where it stopped.
 */
export function* buildShownIndex(
  shown: ShownColumn,
  scaledOf: ScaledOf,
  begun: JoinedText[] = [],
): Work<ShownIndex> {
  const { column, rows, show } = shown
  if (column.kind === 'coded') {
    const count = column.texts.offsets.length - 1
    const texts = new Array<string>(count)
    for (let i = 0; i < count; i++) {
      texts[i] = fold(show(textAt(column.texts, i)))
      if (i % 16_384 === 0) yield
    }
    return { kind: 'distinct', codes: { by: 'list', codes: column.codes }, missing: column.missing, texts }
  }
  if (column.kind === 'boolean') {
    const codes = new Uint32Array(rows)
    for (let row = 0; row < rows; row++) if (hasBit(column.values, row)) codes[row] = 1
    const texts = [fold(show(false)), fold(show(true))]
    return { kind: 'distinct', codes: { by: 'list', codes }, missing: column.missing, texts }
  }
  if (column.kind === 'number') {
    const scaled = yield* scaledOf()
    if (scaled && scaled.size <= MAX_DISTINCT) {
      const texts = new Array<string>(scaled.size)
      for (let code = 0; code < scaled.size; code++) {
        texts[code] = fold(show((code + scaled.base) / scaled.scale))
        if (code % 16_384 === 0) yield
      }
      const { scale, base } = scaled
      const codes: RowCodes = { by: 'value', values: column.values, scale, base }
      return { kind: 'distinct', codes, missing: column.missing, texts }
    }
    const written = yield* buildWritten(shown.field, column, shown.format, show)
    if (written) return written
  }
  for (let part = begun.length; part * JOINED_ROWS < rows; part = begun.length) {
    const joined = yield* joinPart(shown, part)
    // Another work may have added it meanwhile.
    if (begun.length === part) begun.push(joined)
    yield
  }
  return { kind: 'joined', parts: begun }
}

function joinPart({ field, column, rows, show }: ShownColumn, part: number): Work<JoinedText> {
  const from = part * JOINED_ROWS
  const count = Math.min(JOINED_ROWS, rows - from)
  // Texts are shown as they are.
  return column.kind === 'plain' && field.type === 'text'
    ? joinBlock(column.texts, from, count)
    : joinTexts(from, count, row => shownAt(column, row, show))
}

/** The index of a column in which some rows changed or are new; null where it has to be built again. */
export function* followIndex(
  index: ShownIndex,
  shown: ShownColumn,
  touched: Uint32Array,
  appendedFrom: number,
): Work<ShownIndex | null> {
  const { column } = shown
  if (index.kind === 'distinct' || column.kind === 'coded') return null
  if (index.kind === 'written')
    return column.kind === 'number' ? followWritten(index, column, touched, appendedFrom) : null
  const parts = index.parts.slice()
  for (const part of staleParts(touched, appendedFrom, shown.rows)) parts[part] = yield* joinPart(shown, part)
  return { kind: 'joined', parts }
}

/** Parts of joined text that some rows no longer agree with, ascending. */
export function staleParts(touched: Uint32Array, appendedFrom: number, rows: number): number[] {
  const stale = new Set(Array.from(touched, row => Math.floor(row / JOINED_ROWS)))
  for (let row = appendedFrom; row < rows; row += JOINED_ROWS) stale.add(Math.floor(row / JOINED_ROWS))
  if (rows > appendedFrom) stale.add(Math.floor((rows - 1) / JOINED_ROWS))
  return [...stale].sort((a, b) => a - b)
}

/** A pattern takes some microseconds over a text. */
const TEXTS_A_SLICE = 1 << 12

/** Sets the bits of the rows whose folded shown text passes `test`, which runs once per distinct text. */
export function* findDistinct(index: DistinctIndex, test: (text: string) => boolean, into: Bits): Work<void> {
  const hits = new Uint8Array(index.texts.length + 1)
  let any = false
  for (let i = 0; i < index.texts.length; i++) {
    if (test(index.texts[i])) {
      hits[i] = 1
      any = true
    }
    if (i % TEXTS_A_SLICE === TEXTS_A_SLICE - 1) yield
  }
  if (!any) return
  yield
  yield* spreadHits(index.codes, hits, index.missing, into)
}

/** Sets the bits of all rows whose code is hit; rows without a value are left out. */
export function* spreadHits(rows: RowCodes, hits: Uint8Array, missing: Bits | null, into: Bits): Work<void> {
  const count = rows.by === 'list' ? rows.codes.length : rows.values.length
  for (let from = 0; from < count; from += SLICE) {
    const to = Math.min(count, from + SLICE)
    if (rows.by === 'list') spreadSlice(rows.codes, hits, missing, into, from, to)
    else spreadValues(rows.values, rows.scale, rows.base, hits, missing, into, from, to)
    yield
  }
}

function spreadValues(
  values: Float64Array | Int32Array,
  scale: number,
  base: number,
  hits: Uint8Array,
  missing: Bits | null,
  into: Bits,
  from: number,
  to: number,
): void {
  for (let start = from; start < to; start += 32) {
    const end = Math.min(to, start + 32)
    let word = 0
    // Rows without a value may work out to a place outside the list; they are taken out below.
    for (let i = start; i < end; i++) word |= hits[Math.round(values[i] * scale) - base] << (i - start)
    if (missing) word &= ~missing[start >>> 5]
    into[start >>> 5] |= word
  }
}

function spreadSlice(
  codes: Uint32Array,
  hits: Uint8Array,
  missing: Bits | null,
  into: Bits,
  from: number,
  to: number,
): void {
  // One write a word instead of one a hit: `from` is a multiple of 32.
  for (let base = from; base < to; base += 32) {
    const end = Math.min(to, base + 32)
    let word = 0
    for (let i = base; i < end; i++) word |= hits[codes[i]] << (i - base)
    if (missing) word &= ~missing[base >>> 5]
    into[base >>> 5] |= word
  }
}

/** In a search line feeds count as spaces, as they do in joined text. */
const holdsWord = (word: string): ((text: string) => boolean) =>
  word.includes(' ') ? text => text.replaceAll('\n', ' ').includes(word) : text => text.includes(word)

/** The rows whose shown text holds `word`. `among`, where given, is a set that all hits are known to lie in. */
export function* findWord(index: ShownIndex, word: string, into: Bits, among: Bits | null): Work<void> {
  if (index.kind === 'distinct') yield* findDistinct(index, holdsWord(word), into)
  else if (index.kind === 'written') yield* findWritten(index, word, into, among)
  else if (among) yield* findAmong(index.parts, word, among, into)
  else yield* findInJoined(index.parts, word, into)
}

/** The rows whose text passes `test`, for columns of joined text; a call a row. */
export function* findByText(column: Column, rows: number, test: (text: string) => boolean): Work<Bits> {
  const bits = emptyBits(rows)
  for (let row = 0; row < rows; row++) {
    const value = valueAt(column, row)
    if (typeof value === 'string' && test(fold(value))) setBit(bits, row)
    if (row % 16_384 === 16_383) yield
  }
  return bits
}
