import {
  keyParts,
  type KeyValue,
  type LineHeights,
  type LineReader,
  type RowSource,
  type Rows,
} from '@vast-meadow/engine'

/** What a reader holds on to in the rows, by row number. */
export interface RowPlace {
  /** null: what is selected stays so. */
  readonly selected: Rows | null
  /** The row at the top of the body, and the px of it that are out of view. */
  readonly top: { readonly row: number; readonly into: number } | null
  /** The row that the keyboard is on; −1: none. */
  readonly focused: number
}

/** The same by key, so that it outlasts the rows. */
export interface KeyPlace {
  readonly selected: readonly KeyValue[]
  readonly top: { readonly key: KeyValue; readonly into: number } | null
  readonly focused: KeyValue
}

/** Where lines stand after they changed. */
export interface LinePlace {
  readonly top: { readonly line: number; readonly into: number } | null
  readonly focused: number
}

export const GONE = 0xffffffff

/** The keys of a place, asked of the source that is about to go; null without key fields: numbers name nothing then. */
export async function keysOfPlace(
  source: RowSource,
  keyFields: readonly string[],
  place: RowPlace,
): Promise<KeyPlace | null> {
  if (keyFields.length === 0) return null
  const { selected, top, focused } = place
  const named = [top?.row ?? -1, focused].map(row => Math.max(0, row))
  const [keys, [topKey, focusedKey]] = await Promise.all([
    selected ? source.keysOf(keyFields, selected) : [],
    source.keysOf(keyFields, { kind: 'list', rows: Uint32Array.from(named) }),
  ])
  return {
    selected: keys,
    top: top && { key: topKey, into: top.into },
    focused: focused < 0 ? null : focusedKey,
  }
}

/** The rows of keys in another source; keys that are not there are left out. */
export async function rowsOfPlace(
  source: RowSource,
  keyFields: readonly string[],
  { selected, top, focused }: KeyPlace,
): Promise<RowPlace> {
  const named = [top?.key ?? null, focused]
  const known = named.map(key => (key === null ? keyFields.map(() => null) : keyParts(key)))
  const [rows, [topRow, focusedRow]] = await Promise.all([
    source.findRows(keyFields, selected),
    source.findRows(keyFields, known),
  ])
  return {
    selected: { kind: 'list', rows: Uint32Array.from(rows.filter(row => row >= 0)) },
    top: top && topRow >= 0 ? { row: topRow, into: top.into } : null,
    focused: focusedRow,
  }
}

/** The place after rows got other numbers; see `RowSource.fold`. */
export function movedPlace(place: RowPlace, selected: Iterable<number>, moved: Uint32Array): RowPlace {
  const at = (row: number): number => (row < 0 || moved[row] === GONE ? -1 : moved[row])
  const kept = Array.from(selected, at).filter(row => row >= 0)
  const top = place.top && at(place.top.row) >= 0 ? { row: at(place.top.row), into: place.top.into } : null
  return { selected: { kind: 'list', rows: Uint32Array.from(kept) }, top, focused: at(place.focused) }
}

/** The lines of a place's rows in the newest arrangement. */
export async function linesOfPlace(source: RowSource, { top, focused }: RowPlace): Promise<LinePlace> {
  const [topLine, focusedLine] = await Promise.all([
    top ? source.lineOfRow(top.row) : -1,
    focused >= 0 ? source.lineOfRow(focused) : -1,
  ])
  return { top: top && topLine >= 0 ? { line: topLine, into: top.into } : null, focused: focusedLine }
}

/** The first row at or below an offset; group heads are passed over. */
export function topRow(
  lines: LineReader,
  offset: number,
  heights: LineHeights,
): { readonly row: number; readonly into: number } | null {
  const first = heights.lineAt(offset)
  for (let line = first; line < Math.min(lines.lineCount, first + 50); line++) {
    const shown = lines.line(line)
    if (shown?.kind === 'row') return { row: shown.row, into: offset - heights.topOf(line) }
  }
  return null
}
