import type { LineIndex } from '@vast-meadow/engine'
import { asLine } from '@vast-meadow/engine/client'
import type { CellBox } from '../../kernel/feature.ts'

/** A cell of the lines of a view. */
export interface LineCell {
  readonly line: LineIndex
  readonly column: string
}

interface CellRange {
  readonly anchor: LineCell
  readonly focus: LineCell
}

/** On which sides of a cell its range ends: t, b, s, e; `i` where it is in one at all. Empty: in none. */
export type RangeSides = string

/** Rectangles of cells, the last of which can be made larger and smaller. Columns are known by their key: where they stand is asked each time. */
export class CellRanges {
  private ranges: CellRange[] = []
  private readonly order: () => readonly string[]

  /** `order`: the columns as they stand. */
  constructor(order: () => readonly string[]) {
    this.order = order
  }

  get isEmpty(): boolean {
    return this.ranges.length === 0
  }

  /** From one cell to another; `adding`: beside the ranges that are there. */
  begin(anchor: LineCell, focus: LineCell, adding: boolean): void {
    this.ranges = [...(adding ? this.ranges : []), { anchor, focus }]
  }

  /** The last range goes up to another cell. */
  extend(focus: LineCell): void {
    const last = this.ranges.at(-1)
    if (last) this.ranges = [...this.ranges.slice(0, -1), { ...last, focus }]
  }

  /** Where the last range begins; null: there is none. */
  get anchor(): LineCell | null {
    return this.ranges.at(-1)?.anchor ?? null
  }

  clear(): void {
    this.ranges = []
  }

  /** As they are now, to come back to. */
  get all(): readonly CellRange[] {
    return this.ranges
  }

  restore(ranges: readonly CellRange[]): void {
    this.ranges = [...ranges]
  }

  boxes(): CellBox[] {
    const order = this.order()
    return this.ranges.flatMap(({ anchor, focus }) => {
      const [a, b] = [order.indexOf(anchor.column), order.indexOf(focus.column)]
      if (a < 0 || b < 0) return []
      return [
        {
          from: asLine(Math.min(anchor.line, focus.line)),
          to: asLine(Math.max(anchor.line, focus.line) + 1),
          columns: order.slice(Math.min(a, b), Math.max(a, b) + 1),
        },
      ]
    })
  }
}

/** Looks up cells in ranges as they are drawn: what each column stands in is worked out once. */
export class RangeLookup {
  private readonly boxes: readonly (CellBox & { readonly first: string; readonly last: string })[]
  private readonly byColumn = new Map<string, number[]>()

  constructor(boxes: readonly CellBox[]) {
    this.boxes = boxes.map(box => ({
      ...box,
      first: box.columns[0],
      last: box.columns[box.columns.length - 1],
    }))
    for (const [nth, { columns }] of boxes.entries())
      for (const column of columns) {
        const list = this.byColumn.get(column)
        if (list) list.push(nth)
        else this.byColumn.set(column, [nth])
      }
  }

  sidesOf(line: LineIndex, column: string): RangeSides {
    let sides = ''
    for (const nth of this.byColumn.get(column) ?? []) {
      const { from, to, first, last } = this.boxes[nth]
      if (line < from || line >= to) continue
      sides += `i${line === from ? 't' : ''}${line === to - 1 ? 'b' : ''}${column === first ? 's' : ''}${column === last ? 'e' : ''}`
    }
    return sides
  }
}

/** How many cells there are in boxes, each counted once. */
export function countCells(boxes: readonly CellBox[]): number {
  let cells = 0
  for (const [column, spans] of spansByColumn(boxes))
    if (column) cells += spans.reduce((sum, { from, to }) => sum + to - from, 0)
  return cells
}

/** By column: the lines that boxes cover, apart from one another and ascending. */
export function spansByColumn(
  boxes: readonly CellBox[],
): Map<string, { readonly from: LineIndex; readonly to: LineIndex }[]> {
  const spans = new Map<string, { from: LineIndex; to: LineIndex }[]>()
  for (const box of [...boxes].sort((a, b) => a.from - b.from))
    for (const column of box.columns) {
      const of = spans.get(column) ?? []
      spans.set(column, of)
      const last = of.at(-1)
      if (last && box.from <= last.to) last.to = asLine(Math.max(last.to, box.to))
      else of.push({ from: box.from, to: box.to })
    }
  return spans
}
