import { isRecord } from '../work/checked.ts'
import type { CellDefinition } from './cell-schema.ts'
import { DEFAULT_COLUMN_WIDTH } from './column-width.ts'
import { DEFINITION_FORMAT, DEFINITION_VERSION } from './definition-format.ts'
import type { ColumnDefinition, Definition } from './definition.ts'

/** What a column has where it says nothing, as its schema has it. */
const COLUMN: Omit<ColumnDefinition, 'key' | 'title'> = {
  width: DEFAULT_COLUMN_WIDTH,
  align: 'start',
  format: {},
  wrap: false,
  cell: { kind: 'text' },
  orderable: true,
  order: { by: 'value', natural: false, missing: 'last' },
  askable: true,
  groupable: true,
  movable: true,
  searched: 'shown',
}

/** What their kind of cell has besides. */
const CELLS: Readonly<Record<string, Partial<CellDefinition>>> = {
  picture: { width: 24, height: 24, round: false },
  badge: { mark: 'dot', tones: {} },
  bar: { tone: 'straw' },
}

const DEFINITION: Omit<UncheckedDefinition, 'columns'> = {
  headings: [],
  selection: { rows: 'several', by: 'box', within: 'all', notPassing: 'keep', cells: true },
  searchable: true,
  density: 'normal',
  fit: { kind: 'fill' },
  look: { textSize: 13, stripes: false, rules: 'rows', palette: {} },
  map: true,
  strip: false,
  start: {},
}

/** What decides where the cells of plain rows lie and how they look. */
export type UncheckedDefinition = Pick<
  Definition,
  | 'columns'
  | 'headings'
  | 'selection'
  | 'detail'
  | 'searchable'
  | 'locale'
  | 'zone'
  | 'density'
  | 'rowHeight'
  | 'fit'
  | 'pages'
  | 'look'
  | 'map'
  | 'strip'
  | 'start'
>

/**
 * A definition with what it has by default, as far as plain rows are drawn by it: what `readDefinition` makes of one that is
 * valid, at a fraction of its size. null: it is of another version, or is none. Nothing is checked, so that what is drawn by
 * it may fail.
 */
export function uncheckedDefinition(input: unknown): UncheckedDefinition | null {
  if (!isRecord(input) || input.format !== DEFINITION_FORMAT || input.version !== DEFINITION_VERSION)
    return null
  const given = input as unknown as UncheckedDefinition
  return {
    ...DEFINITION,
    ...given,
    selection: { ...DEFINITION.selection, ...given.selection },
    look: { ...DEFINITION.look, ...given.look },
    columns: given.columns.map(uncheckedColumn),
  }
}

/** The same of a column. */
export function uncheckedColumn(
  given: Partial<ColumnDefinition> & Pick<ColumnDefinition, 'key' | 'title'>,
): ColumnDefinition {
  const { cell = COLUMN.cell, order } = given
  return {
    ...COLUMN,
    ...given,
    cell: { ...CELLS[cell.kind], ...cell },
    order: { ...COLUMN.order, ...order },
  }
}

/** The definition of rows that have none. */
export const undefinedDefinition = (columns: UncheckedDefinition['columns']): UncheckedDefinition => ({
  ...DEFINITION,
  columns,
})
