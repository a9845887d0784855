import { hasBit } from '../table/bits.ts'
import { bitsOfPacked } from '../table/packed-rows.ts'
import { idOfRow } from '../table/row-id.ts'
import type { Work } from '../work/work.ts'
import { columnsToExport } from './columns-to-export.ts'
import type { ExportArgs, ExportedPart } from './export-args.ts'
import { groupedLines } from './grouped-lines.ts'
import type { QuestionContext } from './question.ts'

/** The lines and columns of a part, to be written in whatever format. Linear in the places that are looked at. */
export function* linesToExport(asked: QuestionContext, args: ExportArgs): Work<ExportedPart> {
  const { groups, request } = args
  if (groups && request && args.rows.kind === 'passing')
    return yield* groupedLines(asked, args, groups, request)
  const reader = asked.view(args.view)
  // All rows are those that are there now; those that pass are the view's.
  const { table, shows } = args.rows.kind === 'passing' ? reader : asked.flow
  const places = args.rows.kind === 'passing' ? reader.rowCount : table.rows
  const lines = yield* rowsOfPart(asked, args, Math.min(args.to, places))
  const columns = columnsToExport(table, shows, args.columns)
  return { lines, levels: [], columns, table, shows, lasting: true, rows: lines.length, places }
}

function* rowsOfPart(asked: QuestionContext, { view, rows, from }: ExportArgs, to: number): Work<number[]> {
  const reader = asked.view(view)
  const { table: now, gone } = asked.flow
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
