import { writeRows } from '../export/cell-writer.ts'
import { loadedPacker, loadPacker } from '../export/load-workbook.ts'
import type { PackedPart } from '../export/packed-part.ts'
import { sheetWriter, type SheetColumn } from '../export/sheet-writer.ts'
import type { ExportArgs } from './export-args.ts'
import { linesToExport } from './lines-to-export.ts'
import type { Question } from './question.ts'

export interface ExportSheetArgs extends ExportArgs {
  readonly values: 'shown' | 'raw'
  /** By column that is written, those of groups included. */
  readonly sheet: readonly SheetColumn[]
  /** The check sum of the sheet up to this part. */
  readonly crc: number
}

export interface ExportedSheet extends PackedPart {
  /** Rows that were written. */
  readonly rows: number
  /** Lines that were written: rows and heads of groups. */
  readonly lines: number
  /** Places there are: `to` of the last part. */
  readonly places: number
}

/** A part of the rows of a workbook’s sheet, packed as its file has them. Linear in the cells that are written. */
export const exportSheet: Question<ExportSheetArgs, ExportedSheet> = {
  load: loadPacker,
  *answer(asked, args) {
    const part = yield* linesToExport(asked, args)
    const writer = sheetWriter(part.columns, args.sheet, args.values, part.levels)
    const written = yield* writeRows(writer, part.lines)
    const packed = yield* loadedPacker()(written.join(''), args.crc)
    return { ...packed, rows: part.rows, lines: written.length, places: part.places }
  },
}
