import type { Table } from '../table/column.ts'
import type { Show } from '../table/shown-text.ts'
import type { WrittenColumn } from '../export/written-column.ts'
import type { ExportedColumn } from './export-args.ts'

/** The columns of a table that are written; those that it does not have are left out. */
export const columnsToExport = (
  table: Table,
  shows: readonly Show[],
  wanted: readonly ExportedColumn[],
): WrittenColumn[] =>
  wanted.flatMap(({ key, title }) => {
    const place = table.fields.findIndex(field => field.key === key)
    return place < 0
      ? []
      : [{ title, field: table.fields[place], column: table.columns[place], show: shows[place] }]
  })
