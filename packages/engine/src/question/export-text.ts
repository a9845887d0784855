import {
  csvHeadings,
  textWriter,
  writeRows,
  type TextWriter,
  type TextRules,
  type WrittenColumn,
} from '../export/cell-writer.ts'
import type { Flow } from '../flow/flow.ts'
import type { ViewReader } from '../flow/view.ts'
import type { Table } from '../table/column.ts'
import type { Show } from '../table/shown-text.ts'
import { hasBit } from '../table/bits.ts'
import { bitsOfPacked } from '../table/packed-rows.ts'
import { idOfRow, type PackedRows } from '../table/row-id.ts'
import type { Work } from '../work/work.ts'
import type { Question, ViewId } from './question.ts'

/** Which rows are written, in which order. */
export type ExportedRows =
  /** Those that pass, in their order, of closed groups too; `among`: of these alone. */
  | { readonly kind: 'passing'; readonly among?: PackedRows }
  /** Those among some that do not pass, as they came. */
  | { readonly kind: 'held-back'; readonly among: PackedRows }
  /** All, as they came. */
  | { readonly kind: 'all' }

export interface ExportedColumn {
  readonly key: string
  readonly title: string
}

export interface ExportTextArgs {
  readonly view: ViewId
  readonly rows: ExportedRows
  /** The places that are looked at, from 0: those of passing rows, else of all rows. */
  readonly from: number
  readonly to: number
  readonly columns: readonly ExportedColumn[]
  readonly rules: TextRules
}

export interface ExportedText {
  /** CSV: the headings too, where `from` is 0 and the rows pass or are all. JSON: rows with commas between. */
  readonly text: string
  /** Rows that were written. */
  readonly rows: number
  /** Places there are: `to` of the last part. */
  readonly places: number
}

interface KeptWriter {
  readonly shows: readonly Show[]
  readonly signature: string
  readonly writer: TextWriter
}
/** By table: what wrote its last part. It knows the texts that recur. */
const kept = new WeakMap<Table, KeptWriter>()

function writerOf(
  table: Table,
  shows: readonly Show[],
  columns: readonly WrittenColumn[],
  rules: TextRules,
): TextWriter {
  const signature = JSON.stringify([columns.map(({ field }) => field.key), rules])
  const before = kept.get(table)
  if (before?.shows === shows && before.signature === signature) return before.writer
  const writer = textWriter(columns, rules)
  kept.set(table, { shows, signature, writer })
  return writer
}

/** A part of rows as text. Linear in the places that are looked at and the cells that are written. */
export const exportText: Question<ExportTextArgs, ExportedText> = {
  *answer(asked, { view, rows, from, to, columns, rules }) {
    const reader = asked.view(view)
    // All rows are those that are there now; those that pass are the view's.
    const { table, shows } = rows.kind === 'passing' ? reader : asked.flow
    const written = columns.flatMap(({ key, title }) => {
      const place = table.fields.findIndex(field => field.key === key)
      return place < 0
        ? []
        : [{ title, field: table.fields[place], column: table.columns[place], show: shows[place] }]
    })
    const writer = writerOf(table, shows, written, rules)
    const places = rows.kind === 'passing' ? reader.rowCount : table.rows
    const parts = yield* writeRows(
      writer,
      yield* rowsToWrite(reader, asked.flow, rows, from, Math.min(to, places)),
    )
    const head =
      rules.format === 'csv' && from === 0 && rows.kind !== 'held-back' && written.length > 0
        ? csvHeadings(
            written.map(({ title }) => title),
            rules,
          )
        : ''
    const between = rules.format === 'json' ? ',\n' : rules.format === 'ndjson' ? '\n' : ''
    const end = rules.format === 'ndjson' && parts.length > 0 ? '\n' : ''
    return { text: head + parts.join(between) + end, rows: parts.length, places }
  },
}

function* rowsToWrite(
  reader: ViewReader,
  { table: now, gone }: Flow,
  rows: ExportedRows,
  from: number,
  to: number,
): Work<number[]> {
  const table = rows.kind === 'passing' ? reader.table : now
  const among = rows.kind === 'all' || !rows.among ? null : bitsOfPacked(table, rows.among)
  yield
  const list: number[] = []
  for (let place = from; place < to; place++) {
    const row = rows.kind === 'passing' ? reader.rowAt(place) : place
    if (among && !hasBit(among, row)) continue
    if (rows.kind !== 'passing' && gone && hasBit(gone, row)) continue
    if (rows.kind === 'held-back' && reader.lineOf(idOfRow(table, row)) >= 0) continue
    list.push(row)
  }
  return list
}
