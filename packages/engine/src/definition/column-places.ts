import type { Arrangement } from './arrangement-schema.ts'
import { shownColumns } from './arrangement.ts'

/** The parts of a row: what is held at the start edge, what is moved sideways, and what is held at the end edge. */
export const COLUMN_PARTS = ['start', 'middle', 'end'] as const
export type ColumnPart = (typeof COLUMN_PARTS)[number]

/** Where a column stands: in a part, before another column of it; null: behind all that are shown there. */
export interface ColumnPlace {
  readonly part: ColumnPart
  readonly before: string | null
}

type Places = Pick<Arrangement, 'columns' | 'pinnedStart' | 'pinnedEnd'>

/**
 * The columns of an arrangement with one of them put elsewhere. Hidden columns stay behind those that they stand behind,
 * and a column that is pinned keeps its place among all for when it is let go.
 */
export function columnMoved(arrangement: Arrangement, column: string, { part, before }: ColumnPlace): Places {
  const { columns, pinnedStart, pinnedEnd } = arrangement
  if (before === column) return { columns, pinnedStart, pinnedEnd }
  const without = (list: readonly string[]): string[] => list.filter(key => key !== column)
  const shown = without(shownColumns(arrangement)[part])
  const put = (list: readonly string[]): string[] => {
    const others = without(list)
    const last = shown.at(-1)
    const at =
      before !== null && others.includes(before)
        ? others.indexOf(before)
        : last
          ? others.indexOf(last) + 1
          : others.length
    return [...others.slice(0, at), column, ...others.slice(at)]
  }
  return {
    columns: part === 'middle' ? put(columns) : columns,
    pinnedStart: part === 'start' ? put(pinnedStart) : without(pinnedStart),
    pinnedEnd: part === 'end' ? put(pinnedEnd) : without(pinnedEnd),
  }
}

/** Which part of a row a column stands in. */
export function partOf({ pinnedStart, pinnedEnd }: Arrangement, column: string): ColumnPart {
  if (pinnedStart.includes(column)) return 'start'
  return pinnedEnd.includes(column) ? 'end' : 'middle'
}

/**
 * The place one step nearer to the start (−1) or the end (1); null: it stands there already. Past the edge of its part a
 * column goes over into the next, where that has columns or is the middle.
 */
export function placeBeside(arrangement: Arrangement, column: string, step: 1 | -1): ColumnPlace | null {
  const shown = shownColumns(arrangement)
  const part = partOf(arrangement, column)
  const here = shown[part]
  const at = here.indexOf(column)
  if (at < 0) return null
  if (step === -1 && at > 0) return { part, before: here[at - 1] }
  if (step === 1 && at + 1 < here.length) return { part, before: here[at + 2] ?? null }
  const next = COLUMN_PARTS.at(COLUMN_PARTS.indexOf(part) + step)
  const isThere = step === 1 ? part !== 'end' : part !== 'start'
  if (!next || !isThere || (next !== 'middle' && shown[next].length === 0)) return null
  return { part: next, before: step === 1 ? (shown[next][0] ?? null) : null }
}
