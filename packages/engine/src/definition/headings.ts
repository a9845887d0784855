import { nearestName } from '../table/nearest-name.ts'
import type { Arrangement } from './arrangement-schema.ts'
import { shownColumns } from './arrangement.ts'
import { COLUMN_PARTS, columnMoved, type ColumnPlace } from './column-places.ts'
import type { HeadingDefinition } from './heading-schema.ts'

interface Headed {
  readonly headings: readonly HeadingDefinition[]
  readonly columns: readonly { readonly key: string; readonly under?: string | undefined }[]
}

/** What is wrong with the headings of a definition: where, and a sentence; null: nothing. */
export function headingProblem({ headings, columns }: Headed): { path: string; message: string } | null {
  const keys = headings.map(({ key }) => key)
  const doubled = keys.findIndex((key, i) => keys.indexOf(key) !== i)
  if (doubled >= 0)
    return { path: `headings.${doubled}.key`, message: `There are two headings "${keys[doubled]}".` }
  const unknown = (under: string): string => {
    const nearest = nearestName(under, keys)
    return `There is no heading "${under}".${nearest === null ? '' : ` The nearest is "${nearest}".`}`
  }
  for (const [part, list] of [
    ['headings', headings],
    ['columns', columns],
  ] as const)
    for (const [nth, { under }] of list.entries())
      if (under !== undefined && !keys.includes(under))
        return { path: `${part}.${nth}.under`, message: unknown(under) }
  const round = headings.findIndex(({ key }) => pathTo(headings, key).length === 0)
  if (round >= 0)
    return { path: `headings.${round}.under`, message: `The heading "${keys[round]}" stands under itself.` }
  return null
}

/** A heading and those that it stands under, the outermost first; none where they go round in circles. */
function pathTo(headings: readonly HeadingDefinition[], key: string | undefined): string[] {
  const path: string[] = []
  for (let at = key; at !== undefined; at = headings.find(one => one.key === at)?.under) {
    if (path.includes(at)) return []
    path.unshift(at)
  }
  return path
}

/** By column: the headings that it stands under, the outermost first. Of columns that stand under none: no entry. */
export function headingPaths({ headings, columns }: Headed): ReadonlyMap<string, readonly string[]> {
  const paths = new Map(headings.map(({ key }) => [key, pathTo(headings, key)]))
  return new Map(
    columns.flatMap(({ key, under }): [string, readonly string[]][] => {
      const path = under === undefined ? undefined : paths.get(under)
      return path && path.length > 0 ? [[key, path]] : []
    }),
  )
}

/** The columns under a heading, directly or further down, in the order in which the definition has them. */
export function columnsUnder(headed: Headed, heading: string): string[] {
  const paths = headingPaths(headed)
  return headed.columns.map(({ key }) => key).filter(key => paths.get(key)?.includes(heading))
}

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
