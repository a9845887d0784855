import type { ColumnDefinition, RowCells, RowId, Value } from '@vast-meadow/engine'
import { make } from '../../kernel/dom.ts'
import type { CellPainter } from '../../painter.ts'

/** A column that is listed, and how its cells are drawn. */
export interface ListedColumn {
  readonly key: string
  readonly title: string
  readonly defined: ColumnDefinition | undefined
  /** null: the text is shown. */
  readonly painter: CellPainter | null
}

interface Entry {
  readonly column: ListedColumn
  readonly place: HTMLElement
  readonly painted: unknown
}

/** Columns and what a row has in them, one under the other, drawn as their cells are. */
export class ColumnList {
  private readonly element: HTMLElement
  private readonly missing: string
  private entries: readonly Entry[] = []

  /** `missing`: stands where the row has no value. */
  constructor(place: HTMLElement, missing: string) {
    this.element = make('dl', 'column-list', place)
    this.missing = missing
  }

  /** `columns`: those that are listed, the first of `read`; `read`: the columns that `cells` has, in their order. */
  show(row: RowId, columns: readonly ListedColumn[], read: readonly string[], cells: RowCells): void {
    const same =
      columns.length === this.entries.length &&
      columns.every((one, nth) => {
        const { column } = this.entries[nth]
        return one.key === column.key && one.title === column.title && one.painter === column.painter
      })
    if (!same) this.list(columns)
    const valueOf = (key: string): Value => cells.values[read.indexOf(key)] ?? null
    this.entries.forEach(({ column, place, painted }, nth) => {
      const [text, value] = [cells.texts[nth], cells.values[nth]]
      const { key, painter } = column
      if (painter) painter.update(painted, { column: key, row, value, text, selected: false, valueOf })
      else {
        place.textContent = value === null ? this.missing : text
        place.classList.toggle('missing', value === null)
      }
    })
  }

  release(): void {
    for (const { column, painted } of this.entries) column.painter?.release?.(painted)
    this.entries = []
  }

  private list(columns: readonly ListedColumn[]): void {
    this.release()
    this.element.replaceChildren()
    this.entries = columns.map(column => {
      const pair = make('div', '', this.element)
      make('dt', '', pair).textContent = column.title
      const place = make('dd', '', pair)
      place.dataset.detailColumn = column.key
      return { column, place, painted: column.painter?.create(place) }
    })
  }
}
