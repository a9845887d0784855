import {
  columnRun,
  columnWidths,
  headingPaths,
  headingSpans,
  mostColumns,
  runWidth,
  shownColumns,
} from '@vast-meadow/engine/client'
import type {
  Arrangement,
  ColumnDefinition,
  ColumnRun,
  Definition,
  HeadingDefinition,
  HeadingSpan,
} from '@vast-meadow/engine'

/** Begins the names of columns that are the grid's own; they are no fields, and no field is named so by accident. */
const OWN = '\u0000'
/** The column of checkboxes. */
export const SELECT_COLUMN = `${OWN}select`
/** The column of the buttons that open rows. */
export const DETAIL_COLUMN = `${OWN}detail`
/** Whether a column is the grid's own, and shows no field. */
export const isOwnColumn = (key: string): boolean => key.startsWith(OWN)
const OWN_WIDTHS: Readonly<Record<string, number>> = { [SELECT_COLUMN]: 38, [DETAIL_COLUMN]: 32 }
/** What a finger can hit, in CSS px. */
const TOUCH_WIDTH = 44
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
  readonly indexOf: (key: string) => number
  readonly count: number
  /** By part of the row and level, what stands over several columns. */
  readonly headings: Readonly<Record<'start' | 'middle' | 'end', readonly (readonly HeadingSpan[])[]>>
  /** Levels of headings over the titles of columns. */
  readonly headingLevels: number
  readonly heading: (key: string) => HeadingDefinition | undefined
  /** Columns that are shown, but for which there is no room. */
  readonly givenWay: ReadonlySet<string>
  /** Columns of the grid's own, before all others, and what they take in CSS px. */
  readonly ownCount: number
  readonly ownWidth: number
}

/** What of a definition decides where columns lie. */
type LaidOut = Pick<Definition, 'columns' | 'headings' | 'selection' | 'detail'>

/** `touched`: whether fingers must hit the boxes. */
export function geometryOf(
  definition: LaidOut,
  arrangement: Arrangement,
  viewWidth: number,
  touched: boolean,
): Geometry {
  const byKey = new Map(definition.columns.map(column => [column.key, column]))
  /** Columns that take a share of what is left do so until a reader has given them a width. */
  const sharedWidths = (keys: readonly string[], room: number): Map<string, number> => {
    const wanted = keys.map(key => ({
      width: ownWidth(key),
      share: Object.hasOwn(arrangement.widths, key) ? 0 : (byKey.get(key)?.share ?? 0),
      most: byKey.get(key)?.maxWidth ?? Infinity,
    }))
    const widths = columnWidths(wanted, room)
    return new Map(keys.map((key, i) => [key, widths[i]]))
  }
  const ownColumnWidth = (key: string): number => (touched ? TOUCH_WIDTH : OWN_WIDTHS[key])
  // Keys may be called as what objects have by nature.
  const ownWidth = (key: string): number =>
    Object.hasOwn(arrangement.widths, key) ? arrangement.widths[key] : (byKey.get(key)?.width ?? 140)
  const wanted = shownColumns(arrangement)
  const all = [...wanted.start, ...wanted.middle, ...wanted.end]
  const withoutRoom = (own: readonly string[]): Set<string> =>
    columnsWithoutRoom(all, byKey, ownWidth, viewWidth - sumOf(own, ownColumnWidth))
  const boxes = definition.selection.rows === 'none' ? [] : [SELECT_COLUMN]
  const hasDetails = hasMore(definition, arrangement) || withoutRoom(boxes).size > 0
  const own = definition.detail && hasDetails ? [...boxes, DETAIL_COLUMN] : boxes
  const ownRoom = sumOf(own, ownColumnWidth)
  const givenWay = withoutRoom(own)
  const shown =
    givenWay.size === 0
      ? wanted
      : shownColumns({ ...arrangement, hidden: [...arrangement.hidden, ...givenWay] })
  const widths = sharedWidths([...shown.start, ...shown.middle, ...shown.end], viewWidth - ownRoom)
  const widthOf = (key: string): number => (isOwnColumn(key) ? ownColumnWidth(key) : (widths.get(key) ?? 0))
  const start = columnRun([...own, ...shown.start], widthOf)
  const middle = columnRun(shown.middle, widthOf)
  const end = columnRun(shown.end, widthOf)
  const paths = headingPaths(definition)
  const spansOf = ({ keys }: ColumnRun): HeadingSpan[][] =>
    paths.size === 0 ? [] : headingSpans(keys, key => paths.get(key) ?? [])
  const headings = { start: spansOf(start), middle: spansOf(middle), end: spansOf(end) }
  const places = new Map([...start.keys, ...middle.keys, ...end.keys].map((key, i) => [key, i + 1]))
  const room = Math.max(0, viewWidth - runWidth(start) - runWidth(end))
  return {
    start,
    middle,
    end,
    middleSlots: mostColumns(middle, room),
    width: runWidth(start) + runWidth(middle) + runWidth(end),
    column: key => byKey.get(key),
    indexOf: key => places.get(key) ?? 0,
    count: places.size,
    headings,
    headingLevels: Math.max(headings.start.length, headings.middle.length, headings.end.length),
    heading: key => definition.headings.find(one => one.key === key),
    givenWay,
    ownCount: own.length,
    ownWidth: ownRoom,
  }
}

const sumOf = (keys: readonly string[], widthOf: (key: string) => number): number =>
  keys.reduce((sum, key) => sum + widthOf(key), 0)

/** Whether rows have more to show than stands in their columns, also where all of these have room. */
function hasMore({ detail }: Pick<Definition, 'detail'>, { hidden }: Arrangement): boolean {
  return (
    detail !== undefined &&
    (detail.painter !== undefined || detail.columns !== undefined || hidden.length > 0)
  )
}

/** The columns that give way, those with the highest number and of them the last first, until the others have room. */
function columnsWithoutRoom(
  shown: readonly string[],
  byKey: ReadonlyMap<string, ColumnDefinition>,
  widthOf: (key: string) => number,
  room: number,
): Set<string> {
  const givenWay = new Set<string>()
  let over = shown.reduce((sum, key) => sum + widthOf(key), 0) - room
  const giving = shown
    .map((key, place) => ({ key, place, rank: byKey.get(key)?.giveWay ?? 0 }))
    .filter(({ rank }) => rank > 0)
    .sort((a, b) => b.rank - a.rank || b.place - a.place)
  for (const { key } of giving) {
    if (over <= 0 || room <= 0) break
    givenWay.add(key)
    over -= widthOf(key)
  }
  return givenWay
}

/** All shown columns from start to end. */
export const columnsInOrder = (geometry: Geometry): readonly string[] => [
  ...geometry.start.keys,
  ...geometry.middle.keys,
  ...geometry.end.keys,
]
