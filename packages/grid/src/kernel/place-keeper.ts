import { NO_LINE } from '@vast-meadow/engine/client'
import type {
  KeyValue,
  LineHeights,
  LineIndex,
  LineReader,
  RowId,
  Rows,
  RowSource,
  ViewId,
} from '@vast-meadow/engine'
import { asPageLine, type PageLine } from './page-line.ts'

/** What a reader holds on to in the rows, as long as they are there. */
export interface RowPlace {
  /** Where the reader stood when it was taken, to tell whether they have gone on since; without it, nobody can. */
  readonly standing?: string
  /** null: what is selected stays so. */
  readonly selected: Rows | null
  /** Rows that are open. */
  readonly open: readonly RowId[]
  /** The row at the top of the body, and the px of it that are out of view. */
  readonly top: (HeldRow & { readonly below?: readonly (HeldRow & { readonly from: number })[] }) | null
  /** The row that the keyboard is on; null: none. */
  readonly focused: RowId | null
  /** Rows that follow it, where the keyboard goes when it is gone. */
  readonly following?: readonly RowId[]
}

/** A row, and the px of it that are out of view above. */
interface HeldRow {
  readonly row: RowId
  readonly into: number
}

/** The same by key, so that it outlasts the rows. */
export interface KeyPlace {
  readonly selected: readonly KeyValue[]
  readonly open: readonly KeyValue[]
  readonly top: { readonly key: KeyValue; readonly into: number } | null
  readonly focused: KeyValue
}

/** Where lines stand after they changed. */
export interface LinePlace {
  readonly top: { readonly line: LineIndex; readonly into: number } | null
  readonly focused: LineIndex
  /** The keyboard’s row has no line any more; `focused` is that of the next one that has. */
  readonly gone: boolean
}

/** The keys of a place, asked of the source that is about to go; null without key fields: ids name nothing then. */
export async function keysOfPlace(
  source: RowSource,
  keyFields: readonly string[],
  { selected, open, top, focused }: RowPlace,
): Promise<KeyPlace | null> {
  if (keyFields.length === 0) return null
  const keysOf = async (rows: Rows): Promise<KeyValue[]> => await source.ask('keysOf', { keyFields, rows })
  const keyOf = async (row: RowId | null): Promise<KeyValue> =>
    row === null ? null : (await keysOf({ kind: 'list', rows: [row] }))[0]
  const [keys, openKeys, topKey, focusedKey] = await Promise.all([
    selected ? keysOf(selected) : [],
    open.length > 0 ? keysOf({ kind: 'list', rows: open }) : [],
    keyOf(top?.row ?? null),
    keyOf(focused),
  ])
  return { selected: keys, open: openKeys, top: top && { key: topKey, into: top.into }, focused: focusedKey }
}

/** The rows of keys in another source; keys that are not there are left out. */
export async function rowsOfPlace(
  source: RowSource,
  keyFields: readonly string[],
  { selected, open, top, focused }: KeyPlace,
): Promise<RowPlace> {
  const rowOf = async (key: KeyValue): Promise<RowId | null> =>
    key === null ? null : (await source.ask('findRows', { keyFields, keys: [key] }))[0]
  const [rows, openRows, topRow, focusedRow] = await Promise.all([
    source.ask('findRows', { keyFields, keys: selected }),
    open.length > 0 ? source.ask('findRows', { keyFields, keys: open }) : ([] as (RowId | null)[]),
    rowOf(top?.key ?? null),
    rowOf(focused),
  ])
  return {
    selected: { kind: 'list', rows: rows.filter(row => row !== null) },
    open: openRows.filter(row => row !== null),
    top: top && topRow !== null ? { row: topRow, into: top.into } : null,
    focused: focusedRow,
  }
}

/** The lines of a place's rows in a view. */
export async function linesOfPlace(
  source: RowSource,
  view: ViewId,
  { top, focused, following = [] }: RowPlace,
): Promise<LinePlace> {
  const held = top ? [{ ...top, from: 0 }, ...(top.below ?? [])] : []
  const linesOf = async (rows: readonly RowId[]): Promise<LineIndex[]> =>
    rows.length === 0 ? [] : await source.ask('linesOf', { view, rows })
  const [heldLines, [focusedLine = NO_LINE]] = await Promise.all([
    linesOf(held.map(({ row }) => row)),
    linesOf(focused === null ? [] : [focused]),
  ])
  const others = focused !== null && focusedLine < 0 ? await linesOf(following) : []
  return {
    top: steadiest(held, heldLines),
    focused: focusedLine >= 0 ? focusedLine : (others.find(line => line >= 0) ?? NO_LINE),
    gone: focused !== null && focusedLine < 0,
  }
}

/**
 * Where the view is to stand: by the row that moved as the middle of them did. Who goes by the first alone follows it
 * wherever it goes, be it to the other end.
 */
function steadiest(
  held: readonly (HeldRow & { readonly from: number })[],
  lines: readonly LineIndex[],
): LinePlace['top'] {
  const there = held
    .map(({ into, from }, nth) => ({ into, line: lines[nth], moved: lines[nth] - from }))
    .filter(({ line }) => line >= 0)
  const middle = there.map(({ moved }) => moved).sort((a, b) => a - b)[Math.floor((there.length - 1) / 2)]
  const found = there.find(({ moved }) => moved === middle)
  return found ? { line: found.line, into: found.into } : null
}

/** Rows below the first one in view that are held on to. */
const HELD_BELOW = 8

/**
 * The first row at or below an offset, and some below it; group heads are passed over. `ofView`: the line of the view that
 * a line of the page is, without what open rows show between.
 */
export function topRow(
  lines: LineReader,
  offset: number,
  heights: LineHeights,
  ofView: (line: PageLine) => LineIndex,
): RowPlace['top'] {
  const first = heights.lineAt(offset)
  const rows: (HeldRow & { from: number })[] = []
  for (let line = first; line < Math.min(lines.lineCount, first + 50) && rows.length <= HELD_BELOW; line++) {
    const shown = lines.line(line)
    if (shown?.kind === 'row')
      rows.push({ row: shown.row, into: offset - heights.topOf(line), from: ofView(asPageLine(line)) })
  }
  const [top, ...below] = rows
  if (!top) return null
  return { row: top.row, into: top.into, below: below.map(row => ({ ...row, from: row.from - top.from })) }
}
