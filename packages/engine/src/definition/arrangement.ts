import type { Arrangement } from './arrangement-schema.ts'
import type { Definition } from './definition.ts'

const bare: Omit<Arrangement, 'columns'> = {
  widths: {},
  hidden: [],
  pinnedStart: [],
  pinnedEnd: [],
  pinnedRows: { head: [], foot: [] },
  compared: [],
  order: [],
  conditions: {},
  where: '',
  search: '',
  groups: [],
  summaries: {},
  page: 0,
  pageSize: null,
  open: { levels: null, except: [] },
}

/**
 * The arrangement of a grid: what was saved, laid over the definition's start. Whatever names a column that is no
 * longer there is left out and the rest kept; a new column stands where the definition has it.
 */
export function arrangementFor(
  definition: Pick<Definition, 'columns' | 'start'>,
  saved: Partial<Arrangement> = {},
): Arrangement {
  const keys = definition.columns.map(column => column.key)
  const exists = new Set(keys)
  const wanted = { ...bare, ...definition.start, ...saved }
  const only = (list: readonly string[]): string[] => [...new Set(list)].filter(key => exists.has(key))
  const known = <T>(record: Readonly<Record<string, T>>): Record<string, T> =>
    Object.fromEntries(Object.entries(record).filter(([key]) => exists.has(key)))
  const pinnedStart = only(wanted.pinnedStart)
  return {
    columns: withNewColumns(only(wanted.columns ?? keys), keys),
    widths: known(wanted.widths),
    hidden: only(wanted.hidden),
    pinnedStart,
    pinnedEnd: only(wanted.pinnedEnd).filter(key => !pinnedStart.includes(key)),
    pinnedRows: wanted.pinnedRows,
    compared: comparable(only(wanted.compared)),
    order: wanted.order.filter(
      (key, i) => exists.has(key.column) && wanted.order.findIndex(k => k.column === key.column) === i,
    ),
    conditions: known(wanted.conditions),
    where: wanted.where,
    search: wanted.search,
    groups: wanted.groups.filter(({ column }) => exists.has(column)),
    summaries: known(wanted.summaries),
    page: wanted.page,
    pageSize: wanted.pageSize,
    open: wanted.open,
  }
}

/** One column alone is compared with nothing. */
const comparable = (columns: readonly string[]): string[] => (columns.length === 2 ? [...columns] : [])

/**
 * An arrangement with what was arranged of columns that its definition does not have now: rows to come may have them
 * again. `raw`: what was arranged, whatever columns there are.
 */
export function withAbsentColumns(
  arrangement: Arrangement,
  raw: Partial<Arrangement>,
  definition: Definition,
): Arrangement {
  const there = new Set(definition.columns.map(({ key }) => key))
  const absent = (list: readonly string[] = []): string[] => list.filter(key => !there.has(key))
  const also = <T>(
    now: Readonly<Record<string, T>>,
    was: Readonly<Record<string, T>> = {},
  ): Record<string, T> => ({
    ...Object.fromEntries(Object.entries(was).filter(([key]) => !there.has(key))),
    ...now,
  })
  return {
    ...arrangement,
    columns: withNewColumns([...arrangement.columns], raw.columns ?? []),
    hidden: [...arrangement.hidden, ...absent(raw.hidden)],
    pinnedStart: [...arrangement.pinnedStart, ...absent(raw.pinnedStart)],
    pinnedEnd: [...arrangement.pinnedEnd, ...absent(raw.pinnedEnd)],
    widths: also(arrangement.widths, raw.widths),
    conditions: also(arrangement.conditions, raw.conditions),
    summaries: also(arrangement.summaries, raw.summaries),
  }
}

/** Puts each column that the list lacks behind the one that precedes it in the definition. */
function withNewColumns(columns: string[], keys: readonly string[]): string[] {
  const stand = new Set(columns)
  keys.forEach((key, i) => {
    if (stand.has(key)) return
    columns.splice(i === 0 ? 0 : columns.indexOf(keys[i - 1]) + 1, 0, key)
  })
  return columns
}

/** The shown columns in the order in which they stand, pinned ones first and last. */
export function shownColumns(arrangement: Arrangement): { start: string[]; middle: string[]; end: string[] } {
  const hidden = new Set(arrangement.hidden)
  const pinned = new Set([...arrangement.pinnedStart, ...arrangement.pinnedEnd])
  const shown = (key: string): boolean => !hidden.has(key)
  return {
    start: arrangement.pinnedStart.filter(shown),
    middle: arrangement.columns.filter(key => shown(key) && !pinned.has(key)),
    end: arrangement.pinnedEnd.filter(shown),
  }
}

/** The direction a header click leads to: ascending, descending, off. */
function nextDirection(now: 'ascending' | 'descending' | undefined): 'ascending' | 'descending' | null {
  if (now === undefined) return 'ascending'
  return now === 'ascending' ? 'descending' : null
}

/** The order after a click on a column's header; `adding` (Shift) keeps the other keys and their ranks. */
export function orderAfterClick(
  order: Arrangement['order'],
  column: string,
  adding: boolean,
): Arrangement['order'] {
  const at = order.findIndex(key => key.column === column)
  const direction = nextDirection(order[at]?.direction)
  if (!adding) {
    // Among several keys the first plain click makes this column the only one.
    const alone = order.length <= 1 || at === -1
    return direction === null ? (alone ? [] : [{ column, direction: 'ascending' }]) : [{ column, direction }]
  }
  if (direction === null) return order.filter(key => key.column !== column)
  if (at === -1) return [...order, { column, direction }]
  return order.map((key, i) => (i === at ? { column, direction } : key))
}
