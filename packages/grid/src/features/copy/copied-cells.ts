import { asLine, plainWriter, rowsIn } from '@vast-meadow/engine/client'
import type { Line, LineIndex, PackedRows, Value } from '@vast-meadow/engine'
import { isOwnColumn } from '../../band/geometry.ts'
import type { CellBox } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** What is copied: rectangles of cells, or whole rows. */
export type Copied =
  | { readonly kind: 'boxes'; readonly boxes: readonly CellBox[] }
  | { readonly kind: 'rows'; readonly rows: PackedRows; readonly count: number }

export interface CopyOptions {
  /** Whether the columns' titles stand above; default: no. */
  readonly headings?: boolean
  /** `shown`: as the columns write their values (default); `raw`: as other programs read them. */
  readonly values?: 'shown' | 'raw'
}

/** Lines that are read in one go. */
const LINES_A_READ = 1000

/** Cells to copy, read a part at a time: rows of texts, in the order of lines and columns. */
export class CopiedCells {
  readonly columns: readonly string[]
  private readonly kernel: Kernel
  private readonly copied: Copied
  private readonly options: CopyOptions

  constructor(kernel: Kernel, copied: Copied, options: CopyOptions) {
    this.kernel = kernel
    this.copied = copied
    this.options = options
    const order = kernel.screen.columns.filter(column => !isOwnColumn(column))
    const picked = copied.kind === 'boxes' ? new Set(copied.boxes.flatMap(({ columns }) => columns)) : null
    this.columns = picked ? order.filter(column => picked.has(column)) : order
  }

  get rowCount(): number {
    return this.copied.kind === 'rows'
      ? this.copied.count
      : this.spans.reduce((sum, { from, to }) => sum + to - from, 0)
  }

  /** How many cells these are, those between several rectangles included. */
  get count(): number {
    return this.rowCount * this.columns.length
  }

  get titles(): readonly (readonly string[])[] {
    return this.options.headings ? [this.columns.map(column => this.kernel.model.titleOf(column))] : []
  }

  /** The rows of cells, where all of them are at hand; null: some have to be fetched. */
  atHand(): string[][] | null {
    const { view } = this.kernel
    if (!view || this.copied.kind !== 'boxes') return null
    const rows: string[][] = []
    for (const { from, to } of this.spans)
      for (let index = from; index < to; index++) {
        const line = view.lines.line(index)
        if (!line) return null
        const cells = this.columns.map(column =>
          line.kind === 'row' ? (view.lines.text(index, line.row, column) ?? null) : '',
        )
        if (cells.includes(null)) return null
        const values = (column: string): Value | undefined =>
          line.kind === 'row' ? view.lines.value(index, line.row, column) : null
        rows.push(this.rowOf(line, asLine(index), cells as string[], values))
      }
    return rows
  }

  /** The rows of cells, so many at a time. */
  async *read(): AsyncIterable<string[][]> {
    yield* this.copied.kind === 'rows' ? this.readRows(this.copied.rows) : this.readLines()
  }

  private async *readLines(): AsyncIterable<string[][]> {
    const { model, view } = this.kernel
    if (!view) return
    const { columns } = this
    for (const { from, to } of this.spans)
      for (let start: number = from; start < to; start += LINES_A_READ) {
        const end = Math.min(to, start + LINES_A_READ)
        const block = await model.ask('cells', { view: view.id, from: start, to: end, columns })
        if (!block) return
        yield block.lines.map((line, nth) => {
          const at = nth * columns.length
          const value = (column: string): Value => block.values[at + columns.indexOf(column)]
          return this.rowOf(line, asLine(start + nth), block.texts.slice(at, at + columns.length), value)
        })
      }
  }

  /** In the order in which they stand; those that do not pass behind. */
  private async *readRows(packed: PackedRows): AsyncIterable<string[][]> {
    const { model, view } = this.kernel
    if (!view) return
    const { columns } = this
    const rows = [...rowsIn({ kind: 'set', ...packed })]
    const lines = (await model.ask('linesOf', { view: view.id, rows })) ?? []
    const places = rows.map((row, nth) => ({ row, line: lines[nth] < 0 ? Infinity : lines[nth] }))
    const ordered = places.sort((a, b) => a.line - b.line || 0).map(({ row }) => row)
    for (let start = 0; start < ordered.length; start += LINES_A_READ) {
      const part = ordered.slice(start, start + LINES_A_READ)
      const cells = await model.ask('rowCells', { rows: part, columns, binding: model.binding })
      if (!cells) return
      yield part.map((row, nth) => {
        const at = nth * columns.length
        const value = (column: string): Value => cells.values[at + columns.indexOf(column)]
        return this.rowOf(
          { kind: 'row', level: 0, row },
          null,
          cells.texts.slice(at, at + columns.length),
          value,
        )
      })
    }
  }

  /** A line's cells; what is picked of no rectangle stays empty, and a group's name stands in its first cell. */
  private rowOf(
    line: Line,
    index: LineIndex | null,
    texts: readonly string[],
    value: (column: string) => Value | undefined,
  ): string[] {
    const { columns, options, copied } = this
    const picked = (column: string): boolean =>
      index === null ||
      copied.kind === 'rows' ||
      copied.boxes.some(box => index >= box.from && index < box.to && box.columns.includes(column))
    return columns.map((column, nth) => {
      if (!picked(column)) return ''
      if (line.kind === 'head') return this.headText(line, column, nth)
      if (line.kind !== 'row') return ''
      return options.values === 'raw' ? this.plain(column)(value(column) ?? null) : texts[nth]
    })
  }

  private headText(line: Extract<Line, { kind: 'head' }>, column: string, nth: number): string {
    const { summaries, texts } = this.kernel
    const summary = summaries.textOf(line, column)
    if (nth > 0 || summary) return summary
    return line.rest ? texts.restOfGroups : line.value === null ? texts.missing : line.shown
  }

  private readonly writers = new Map<string, (value: Value) => string>()
  private plain(column: string): (value: Value) => string {
    const known = this.writers.get(column)
    if (known) return known
    const field = this.kernel.model.fieldOf(column)
    const writer = field ? plainWriter(field) : String
    this.writers.set(column, writer)
    return writer
  }

  /** The lines of all rectangles, apart from one another and ascending. */
  private get spans(): readonly { readonly from: LineIndex; readonly to: LineIndex }[] {
    if (this.copied.kind === 'rows') return []
    const spans: { from: LineIndex; to: LineIndex }[] = []
    for (const { from, to } of [...this.copied.boxes].sort((a, b) => a.from - b.from)) {
      const last = spans.at(-1)
      if (last && from <= last.to) last.to = asLine(Math.max(last.to, to))
      else spans.push({ from, to })
    }
    return spans
  }
}
