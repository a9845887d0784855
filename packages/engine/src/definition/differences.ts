import type { Condition } from '../condition/condition.ts'
import type { Level } from '../group/level.ts'
import type { Summary } from '../summary/summary.ts'
import type { OrderKey } from '../flow/request.ts'
import { keysIn } from '../work/checked.ts'
import { sameJson } from '../work/same-json.ts'
import { partOf, type ColumnPart } from './column-places.ts'
import type { Arrangement } from './arrangement-schema.ts'
import type { ArrangementChange } from './arrangement-store.ts'

/** What is different in the later of two arrangements. */
export type DifferenceFacts =
  | { readonly code: 'moved' | 'hidden' | 'shown'; readonly columns: readonly string[] }
  | { readonly code: 'pinned'; readonly columns: readonly string[]; readonly part: ColumnPart }
  | { readonly code: 'width'; readonly columns: readonly string[]; readonly width: number | null }
  | { readonly code: 'order'; readonly order: readonly OrderKey[] }
  | { readonly code: 'condition'; readonly column: string; readonly condition: Condition | null }
  | { readonly code: 'where'; readonly where: string }
  | { readonly code: 'search'; readonly search: string }
  | { readonly code: 'groups'; readonly groups: readonly Level[] }
  | { readonly code: 'open' }
  | { readonly code: 'summary'; readonly column: string; readonly summary: Summary | null }
  | { readonly code: 'pinned-rows'; readonly count: number }
  | { readonly code: 'compared'; readonly columns: readonly string[] }
  | { readonly code: 'page-size'; readonly pageSize: number | null }

/** One thing that is different, and the way back: the change that makes this one thing as it was before. */
export type Difference = DifferenceFacts & { back(now: Arrangement): ArrangementChange }

/** So many columns are told of one by one; more are one difference together. */
const ONE_BY_ONE = 6

/** What differs from one arrangement to another, a page that is looked at left out. Empty: nothing. */
export function differences(from: Arrangement, to: Arrangement): Difference[] {
  return [
    ...movedColumns(from, to),
    ...hiddenColumns(from, to),
    ...pinnedColumns(from, to),
    ...widths(from, to),
    ...wholeParts(from, to),
    ...changedKeys(from.conditions, to.conditions).map((column): Difference => ({
      code: 'condition',
      column,
      condition: entryOf(to.conditions, column),
      back: now => ({ conditions: entryAs(from.conditions, column, now.conditions) }),
    })),
    ...changedKeys(from.summaries, to.summaries).map((column): Difference => ({
      code: 'summary',
      column,
      summary: entryOf(to.summaries, column),
      back: now => ({ summaries: entryAs(from.summaries, column, now.summaries) }),
    })),
  ]
}

/**
 * The change that takes back what led from one arrangement to another, as far as nothing else came of it since: what
 * was changed of other columns meanwhile stays.
 */
export function changeBack(from: Arrangement, to: Arrangement, now: Arrangement): ArrangementChange {
  const changed = keysIn(from).filter(key => key !== 'page' && !sameJson(from[key], to[key]))
  const untouched = changed.filter(key => !isRecordPart(key) || sameJson(now[key], to[key]))
  const change: ArrangementChange = Object.fromEntries(untouched.map(key => [key, from[key]]))
  const rest = differences(from, to).filter(({ code }) =>
    changed.some(key => !untouched.includes(key) && CODE_OF_RECORD[key as RecordPart] === code),
  )
  return rest.reduce((made, one) => ({ ...made, ...one.back({ ...now, ...made }) }), change)
}

const CODE_OF_RECORD = { widths: 'width', conditions: 'condition', summaries: 'summary' } as const
type RecordPart = keyof typeof CODE_OF_RECORD
const isRecordPart = (key: string): key is RecordPart => key in CODE_OF_RECORD

/** Columns told of together, or one by one where they are few. */
const byColumn = (columns: readonly string[]): (readonly string[])[] =>
  columns.length > ONE_BY_ONE ? [columns] : columns.map(column => [column])

function movedColumns(from: Arrangement, to: Arrangement): Difference[] {
  const lists = (['columns', 'pinnedStart', 'pinnedEnd'] as const).filter(
    key => !sameJson(from[key], to[key]) && sameJson([...from[key]].sort(), [...to[key]].sort()),
  )
  if (lists.length === 0) return []
  const columns = [...new Set(lists.flatMap(key => outOfLine(from[key], to[key])))]
  const back = (): ArrangementChange => Object.fromEntries(lists.map(key => [key, from[key]]))
  return [{ code: 'moved', columns, back }]
}

/** The fewest members of a list that, put elsewhere, make it the other: those beside its longest run in their order. */
function outOfLine(from: readonly string[], to: readonly string[]): string[] {
  const placeOf = new Map(from.map((key, place) => [key, place]))
  const places = to.map(key => placeOf.get(key) ?? -1)
  // Patience: the least last place of a run of each length, and what precedes each member in its run.
  const [ends, before]: [number[], number[]] = [[], []]
  places.forEach((place, i) => {
    let at = ends.findIndex(end => places[end] >= place)
    if (at < 0) at = ends.length
    before[i] = at > 0 ? ends[at - 1] : -1
    ends[at] = i
  })
  const inLine = new Set<number>()
  for (let i = ends.at(-1) ?? -1; i >= 0; i = before[i]) inLine.add(i)
  return to.filter((_, i) => !inLine.has(i))
}

function hiddenColumns(from: Arrangement, to: Arrangement): Difference[] {
  const only = (these: readonly string[], those: readonly string[]): (readonly string[])[] =>
    byColumn(these.filter(key => !those.includes(key)))
  return [
    ...only(to.hidden, from.hidden).map((columns): Difference => ({
      code: 'hidden',
      columns,
      back: now => ({ hidden: now.hidden.filter(key => !columns.includes(key)) }),
    })),
    ...only(from.hidden, to.hidden).map((columns): Difference => ({
      code: 'shown',
      columns,
      back: now => ({ hidden: [...now.hidden.filter(key => !columns.includes(key)), ...columns] }),
    })),
  ]
}

function pinnedColumns(from: Arrangement, to: Arrangement): Difference[] {
  const pinned = (list: Arrangement): string[] => [...list.pinnedStart, ...list.pinnedEnd]
  const moved = [...new Set([...pinned(from), ...pinned(to)])].filter(
    key => partOf(from, key) !== partOf(to, key),
  )
  const parts = (['start', 'middle', 'end'] as const).flatMap(part =>
    byColumn(moved.filter(key => partOf(to, key) === part)).map(columns => ({ part, columns })),
  )
  return parts.map(({ part, columns }): Difference => {
    const restored = (now: readonly string[], was: readonly string[]): string[] =>
      columns.reduce((list, key) => placedAs(was, key, list), [...now])
    const back = (now: Arrangement): ArrangementChange => ({
      pinnedStart: restored(now.pinnedStart, from.pinnedStart),
      pinnedEnd: restored(now.pinnedEnd, from.pinnedEnd),
    })
    return { code: 'pinned', columns, part, back }
  })
}

/** A list in which a column stands as in another one: before whatever it stood before, or not at all. */
function placedAs(was: readonly string[], column: string, now: readonly string[]): string[] {
  const others = now.filter(key => key !== column)
  if (!was.includes(column)) return others
  const next = was.slice(was.indexOf(column) + 1).find(key => others.includes(key))
  const at = next === undefined ? others.length : others.indexOf(next)
  return [...others.slice(0, at), column, ...others.slice(at)]
}

function widths(from: Arrangement, to: Arrangement): Difference[] {
  const changed = changedKeys(from.widths, to.widths)
  const back =
    (columns: readonly string[]) =>
    (now: Arrangement): ArrangementChange => ({
      widths: columns.reduce((made, key) => entryAs(from.widths, key, made), now.widths),
    })
  if (changed.length > ONE_BY_ONE)
    return [{ code: 'width', columns: changed, width: null, back: back(changed) }]
  return changed.map(column => ({
    code: 'width',
    columns: [column],
    width: to.widths[column] ?? null,
    back: back([column]),
  }))
}

function wholeParts(from: Arrangement, to: Arrangement): Difference[] {
  const { head, foot } = to.pinnedRows
  const told: Partial<Record<keyof Arrangement, DifferenceFacts>> = {
    pinnedRows: { code: 'pinned-rows', count: head.length + foot.length },
    compared: { code: 'compared', columns: to.compared },
    order: { code: 'order', order: to.order },
    where: { code: 'where', where: to.where },
    search: { code: 'search', search: to.search },
    groups: { code: 'groups', groups: to.groups },
    open: { code: 'open' },
    pageSize: { code: 'page-size', pageSize: to.pageSize },
  }
  return keysIn(told).flatMap(key => {
    const facts = told[key]
    if (!facts || sameJson(from[key], to[key])) return []
    // Which groups are open is nothing while there are none.
    if (key === 'open' && to.groups.length === 0) return []
    return [{ ...facts, back: () => ({ [key]: from[key] }) }]
  })
}

const entryOf = <V>(record: Readonly<Record<string, V>>, key: string): V | null =>
  Object.hasOwn(record, key) ? record[key] : null

const changedKeys = (
  from: Readonly<Record<string, unknown>>,
  to: Readonly<Record<string, unknown>>,
): string[] =>
  [...new Set([...Object.keys(from), ...Object.keys(to)])].filter(key => !sameJson(from[key], to[key]))

/** A record in which one entry is as in another one: there, or not. */
function entryAs<V>(
  was: Readonly<Record<string, V>>,
  key: string,
  now: Readonly<Record<string, V>>,
): Record<string, V> {
  const { [key]: _, ...others } = now
  return Object.hasOwn(was, key) ? { ...others, [key]: was[key] } : others
}
