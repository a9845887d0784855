import type { LeftOut } from '../definition/merge-arrangement.ts'
import type { SceneLine, SceneShows } from './scene.ts'

/** What is otherwise than a scene has it: a code with its facts. */
export type SceneDifference =
  /** Something of its arrangement does not hold any more. */
  | { readonly code: 'left-out'; readonly leftOut: LeftOut }
  | { readonly code: 'rows' | 'passing'; readonly before: number; readonly now: number }
  | { readonly code: 'groups'; readonly level: number; readonly before: number; readonly now: number }
  | { readonly code: 'columns'; readonly gone: readonly string[]; readonly come: readonly string[] }
  | { readonly code: 'columns-order' }
  /** The first lines are the same ones, in another order. */
  | { readonly code: 'order' }
  /** 1-based; null: there is no such line. */
  | {
      readonly code: 'line'
      readonly line: number
      readonly before: SceneLine | null
      readonly now: SceneLine | null
    }
  /** Few cells of a line say something else. */
  | {
      readonly code: 'cell'
      readonly line: number
      readonly column: string
      readonly before: string
      readonly now: string
    }
  | {
      readonly code: 'summary'
      readonly column: string
      readonly before: string | null
      readonly now: string | null
    }

/** Cells of one line that are told one by one; with more, the line is another. */
const MOST_CELLS = 2

/** What differs from what was shown to what is shown now, the most general first; empty: nothing. */
export function sceneDifferences(before: SceneShows, now: SceneShows): SceneDifference[] {
  const found: SceneDifference[] = []
  for (const code of ['rows', 'passing'] as const)
    if (before[code] !== now[code]) found.push({ code, before: before[code], now: now[code] })
  for (let level = 0; level < Math.max(before.groups.length, now.groups.length); level++) {
    const [had, has] = [before.groups.at(level) ?? 0, now.groups.at(level) ?? 0]
    if (had !== has) found.push({ code: 'groups', level, before: had, now: has })
  }
  found.push(...columnDifferences(before.columns, now.columns), ...lineDifferences(before, now))
  for (const column of new Set([...Object.keys(before.summaries), ...Object.keys(now.summaries)])) {
    const [had, has] = [ownText(before.summaries, column), ownText(now.summaries, column)]
    if (had !== has) found.push({ code: 'summary', column, before: had, now: has })
  }
  return found
}

const ownText = (texts: Readonly<Record<string, string>>, column: string): string | null =>
  Object.hasOwn(texts, column) ? texts[column] : null

function* columnDifferences(before: readonly string[], now: readonly string[]): Iterable<SceneDifference> {
  const gone = before.filter(column => !now.includes(column))
  const come = now.filter(column => !before.includes(column))
  if (gone.length > 0 || come.length > 0) yield { code: 'columns', gone, come }
  const kept = now.filter(column => before.includes(column))
  if (kept.join('\n') !== before.filter(column => now.includes(column)).join('\n'))
    yield { code: 'columns-order' }
}

function* lineDifferences(before: SceneShows, now: SceneShows): Iterable<SceneDifference> {
  const columns = before.columns.filter(column => now.columns.includes(column))
  const [had, has] = [before.lines, now.lines].map(lines => lines.map(line => writtenLine(line, columns)))
  if (had.join() === has.join()) return
  if ([...had].sort().join() === [...has].sort().join()) {
    yield { code: 'order' }
    return
  }
  for (let at = 0; at < Math.max(had.length, has.length); at++) {
    if (had[at] === has[at]) continue
    const [one, other] = [before.lines.at(at) ?? null, now.lines.at(at) ?? null]
    const cells =
      one && other && 'row' in one && 'row' in other ? cellDifferences(one.row, other.row, columns) : []
    const line = at + 1
    if (cells.length === 0 || cells.length > MOST_CELLS) yield { code: 'line', line, before: one, now: other }
    else for (const cell of cells) yield { code: 'cell', line, ...cell }
  }
}

/** A line as far as both have its columns; the same text for the same line. */
const writtenLine = (line: SceneLine, columns: readonly string[]): string =>
  JSON.stringify('row' in line ? columns.map(column => ownText(line.row, column)) : line)

const cellDifferences = (
  before: Readonly<Record<string, string>>,
  now: Readonly<Record<string, string>>,
  columns: readonly string[],
): { readonly column: string; readonly before: string; readonly now: string }[] =>
  columns.flatMap(column => {
    const [had, has] = [ownText(before, column) ?? '', ownText(now, column) ?? '']
    return had === has ? [] : [{ column, before: had, now: has }]
  })
