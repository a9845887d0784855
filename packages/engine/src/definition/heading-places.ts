import type { Arrangement } from './arrangement-schema.ts'
import { shownColumns } from './arrangement.ts'
import { COLUMN_PARTS, columnMoved, type ColumnPlace } from './column-places.ts'
import { headingPaths, type Headed } from './headings.ts'

/** The headings whose columns are to stay side by side, and do not, as far as they are shown. */
export function partedHeadings(headed: Headed, arrangement: Arrangement): string[] {
  const kept = headed.headings.filter(({ together }) => together)
  if (kept.length === 0) return []
  const shown = shownColumns(arrangement)
  const paths = headingPaths(headed)
  return kept
    .map(({ key }) => key)
    .filter(heading => {
      const runs = COLUMN_PARTS.map(part =>
        runsOf(shown[part], key => paths.get(key)?.includes(heading) ?? false),
      )
      return runs.reduce((all, count) => all + count, 0) > 1
    })
}

/** How many runs of neighbours there are for which something holds. */
function runsOf(keys: readonly string[], holds: (key: string) => boolean): number {
  return keys.filter((key, i) => holds(key) && !(i > 0 && holds(keys[i - 1]))).length
}

/** Several columns put elsewhere, side by side in the order given. */
export function columnsMoved(
  arrangement: Arrangement,
  columns: readonly string[],
  place: ColumnPlace,
): Pick<Arrangement, 'columns' | 'pinnedStart' | 'pinnedEnd'> {
  const before = nextBeside(arrangement, columns, place)
  let now = arrangement
  for (const column of columns) now = { ...now, ...columnMoved(now, column, { part: place.part, before }) }
  return { columns: now.columns, pinnedStart: now.pinnedStart, pinnedEnd: now.pinnedEnd }
}

/** The column before which others stand when they do not count themselves; null: none. */
function nextBeside(
  arrangement: Arrangement,
  columns: readonly string[],
  { part, before }: ColumnPlace,
): string | null {
  if (before === null || !columns.includes(before)) return before
  const there = shownColumns(arrangement)[part]
  return there.slice(there.indexOf(before)).find(key => !columns.includes(key)) ?? null
}

/** The heading that a move would part, though its columns stay side by side; null: none. */
export function headingParted(
  headed: Headed,
  arrangement: Arrangement,
  columns: readonly string[],
  place: ColumnPlace,
): string | null {
  const before = partedHeadings(headed, arrangement)
  const moved = { ...arrangement, ...columnsMoved(arrangement, columns, place) }
  return partedHeadings(headed, moved).find(heading => !before.includes(heading)) ?? null
}
