import {
  columnRun,
  mostColumns,
  runWidth,
  shownColumns,
  type Arrangement,
  type ColumnDefinition,
  type ColumnRun,
  type Definition,
} from '@vast-meadow/engine'

/** The column of checkboxes; not a field, so its name cannot be one's key by accident. */
export const SELECT_COLUMN = '\u0000select'
const SELECT_WIDTH = 38
export const MIN_COLUMN_WIDTH = 32

/** Where columns lie: three runs, of which the middle one scrolls. */
export interface Geometry {
  readonly start: ColumnRun
  readonly middle: ColumnRun
  readonly end: ColumnRun
  /** Cells that a band needs for the middle run, whatever the scroll position. */
  readonly middleSlots: number
  readonly width: number
  readonly column: (key: string) => ColumnDefinition | undefined
  /** 1-based place among all shown columns, as `aria-colindex` counts. */
  readonly placeOf: (key: string) => number
  readonly count: number
}

export function geometryOf(definition: Definition, arrangement: Arrangement, viewWidth: number): Geometry {
  const byKey = new Map(definition.columns.map(column => [column.key, column]))
  const widthOf = (key: string): number =>
    key === SELECT_COLUMN ? SELECT_WIDTH : (arrangement.widths[key] ?? byKey.get(key)?.width ?? 140)
  const shown = shownColumns(arrangement)
  const start = columnRun([SELECT_COLUMN, ...shown.start], widthOf)
  const middle = columnRun(shown.middle, widthOf)
  const end = columnRun(shown.end, widthOf)
  const places = new Map([...start.keys, ...middle.keys, ...end.keys].map((key, i) => [key, i + 1]))
  const room = Math.max(0, viewWidth - runWidth(start) - runWidth(end))
  return {
    start,
    middle,
    end,
    middleSlots: mostColumns(middle, room),
    width: runWidth(start) + runWidth(middle) + runWidth(end),
    column: key => byKey.get(key),
    placeOf: key => places.get(key) ?? 0,
    count: places.size,
  }
}

/** All shown columns from start to end. */
export const columnsInOrder = (geometry: Geometry): readonly string[] => [
  ...geometry.start.keys,
  ...geometry.middle.keys,
  ...geometry.end.keys,
]
