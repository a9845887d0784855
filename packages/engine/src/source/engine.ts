import { privateMemory, type Allocate } from '../table/allocate.ts'
import { bytesOf, valueAt, type Table, type Value } from '../table/column.ts'
import { shownAt } from '../table/shown-text.ts'
import { Flow } from '../flow/flow.ts'
import { facets } from '../flow/facets.ts'
import type { Facets, FlowReport, FlowRequest, Formats } from '../flow/request.ts'
import { lineCountOf, ViewReader, type FlowView } from '../flow/view.ts'
import type { Rows } from '../selection/row-set.ts'
import type { Work } from '../work/work.ts'
import type { Loaded } from './rows-input.ts'
import type { RowRecord, SourceDescription } from './row-source.ts'
import { cellBlock } from './view-lines.ts'
import type { CellBlock } from './tile-reader.ts'

const SAMPLE_ROWS = 60

/** One table and its flow, wherever it runs: what the page's source and the worker both answer from. */
export class Engine {
  readonly flow: Flow
  private reader: ViewReader
  private readonly allocate: Allocate
  private readonly loaded: Loaded

  constructor(loaded: Loaded, allocate: Allocate = privateMemory) {
    this.loaded = loaded
    this.allocate = allocate
    this.flow = new Flow(loaded.table)
    this.reader = this.readerOf({ rows: null, rowCount: loaded.table.rows, groups: null })
  }

  get table(): Table {
    return this.loaded.table
  }

  describe(where: string, ms: number): SourceDescription {
    const { table, notes, reading } = this.loaded
    return {
      fields: table.fields,
      total: { kind: 'exact', rows: table.rows },
      can: { order: true, conditions: true, search: true, group: true, facets: true, locate: true },
      where,
      bytes: bytesOf(table),
      ms,
      notes,
      reading,
      samples: this.samples(),
    }
  }

  bind(formats: Formats): void {
    this.flow.bind(formats)
  }

  *arrange(request: FlowRequest): Work<{ view: FlowView; report: FlowReport }> {
    const arranged = yield* this.flow.arrange(request, this.allocate)
    this.reader = this.readerOf(arranged.view)
    return arranged
  }

  /** Reads the newest view. */
  get view(): ViewReader {
    return this.reader
  }

  facets(request: FlowRequest, column: string, limit: number): Work<Facets> {
    return facets(this.flow, request, column, limit)
  }

  /** Looks for the first row whose field has the value. Linear. */
  findRow(field: string | null, key: Value): number {
    const { table, places } = this.flow
    if (field === null) {
      const row = Number(key)
      return Number.isInteger(row) && row >= 0 && row < table.rows ? row : -1
    }
    const place = places.get(field)
    if (place === undefined) return -1
    const column = table.columns[place]
    const show = this.flow.shows[place]
    const wanted = typeof key === 'string' && table.fields[place].type !== 'text' ? null : key
    for (let row = 0; row < table.rows; row++) {
      if (wanted === null ? shownAt(column, row, show) === key : valueAt(column, row) === wanted) return row
    }
    return -1
  }

  lineOfRow(row: number): number {
    return this.reader.lineOfRow(row)
  }

  rowsBetween(from: number, to: number): Rows {
    const end = Math.min(to, lineCountOf(this.reader.view))
    const { rows, groups } = this.reader.view
    if (!groups) return rows ? { kind: 'list', rows: rows.slice(from, end) } : { kind: 'run', from, to: end }
    return { kind: 'list', rows: this.reader.rowsBetween(from, end) }
  }

  passingRows(): Rows {
    const { rows, rowCount } = this.reader.view
    return rows ? { kind: 'list', rows: rows.slice() } : { kind: 'run', from: 0, to: rowCount }
  }

  records(rows: readonly number[]): RowRecord[] {
    const { fields, columns } = this.table
    return rows.map(row =>
      Object.fromEntries(fields.map((field, i) => [field.key, valueAt(columns[i], row)])),
    )
  }

  cells(from: number, to: number, columns: readonly string[]): CellBlock {
    return cellBlock(this.reader, from, to, columns)
  }

  private readerOf(view: FlowView): ViewReader {
    return new ViewReader(this.flow.table, this.flow.shows, this.flow.places, view)
  }

  private samples(): string[][] {
    const { rows, columns } = this.table
    const step = Math.max(1, Math.floor(rows / SAMPLE_ROWS))
    return columns.map((column, place) => {
      const texts: string[] = []
      for (let row = 0; row < rows && texts.length < SAMPLE_ROWS; row += step) {
        texts.push(shownAt(column, row, this.flow.shows[place]))
      }
      return texts
    })
  }
}
