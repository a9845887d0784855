import type { Level } from '../group/level.ts'
import type { Arrangement } from './arrangement-schema.ts'
import type { Definition } from './definition.ts'

/** A definition and an arrangement in which a column shows another field, and everything said of it goes along. */
export function renameColumn(
  definition: Definition,
  arrangement: Arrangement,
  from: string,
  to: string,
): { definition: Definition; arrangement: Arrangement } {
  const renamed = (key: string): string => (key === from ? to : key)
  return {
    definition: {
      ...definition,
      key: definition.key.map(renamed),
      columns: definition.columns.map(column => ({ ...column, key: renamed(column.key) })),
      start: renamedIn(definition.start, renamed),
    },
    arrangement: renamedIn(arrangement, renamed),
  }
}

/** An arrangement in which columns are called otherwise, wherever it names them. */
export function renamedIn<T extends Partial<Arrangement>>(
  arrangement: T,
  renamed: (key: string) => string,
): T {
  const list = (keys: readonly string[] | undefined): string[] | undefined => keys?.map(renamed)
  const record = <V>(values: Readonly<Record<string, V>> | undefined): Record<string, V> | undefined =>
    values && Object.fromEntries(Object.entries(values).map(([key, value]) => [renamed(key), value]))
  const { columns, widths, hidden, pinnedStart, pinnedEnd, compared, order, conditions, groups, summaries } =
    arrangement
  const changed: Partial<Arrangement> = {
    columns: list(columns),
    widths: record(widths),
    hidden: list(hidden),
    pinnedStart: list(pinnedStart),
    pinnedEnd: list(pinnedEnd),
    compared: list(compared),
    order: order?.map(key => ({ ...key, column: renamed(key.column) })),
    conditions: record(conditions),
    groups: groups?.map(level => renamedLevel(level, renamed)),
    summaries: record(summaries),
  }
  const present = Object.fromEntries(Object.entries(changed).filter(([, value]) => value !== undefined))
  return { ...arrangement, ...present }
}

/** A level names columns also by what its groups are ordered and kept. */
function renamedLevel(level: Level, renamed: (key: string) => string): Level {
  const measure = <Of extends Level['order']['by']>(of: Of): Of =>
    typeof of === 'object' ? { ...of, column: renamed(of.column) } : of
  const { order, keep } = level
  return {
    ...level,
    column: renamed(level.column),
    order: { ...order, by: measure(order.by) },
    ...(keep && {
      keep: {
        where: keep.where.map(one => ({ ...one, of: measure(one.of) })),
        ...(keep.most && { most: { ...keep.most, of: measure(keep.most.of) } }),
      },
    }),
  }
}
