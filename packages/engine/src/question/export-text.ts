import { csvHeadings, textWriter, writeRows, type TextRules, type TextWriter } from '../export/cell-writer.ts'
import type { Table } from '../table/column.ts'
import type { Show } from '../table/shown-text.ts'
import type { ExportArgs, ExportedPart } from './export-args.ts'
import { linesToExport } from './lines-to-export.ts'
import type { Question } from './question.ts'

export interface ExportTextArgs extends ExportArgs {
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

function writerOf({ table, shows, columns, lasting }: ExportedPart, rules: TextRules): TextWriter {
  if (!lasting) return textWriter(columns, rules)
  const signature = JSON.stringify([columns.map(({ field }) => field.key), rules])
  const before = kept.get(table)
  if (before?.shows === shows && before.signature === signature) return before.writer
  const writer = textWriter(columns, rules)
  kept.set(table, { shows, signature, writer })
  return writer
}

/** A part of rows as text. Linear in the places that are looked at and the cells that are written. */
export const exportText: Question<ExportTextArgs, ExportedText> = {
  *answer(asked, args) {
    const { rules, from } = args
    const part = yield* linesToExport(asked, args)
    const written = yield* writeRows(writerOf(part, rules), part.lines)
    const titles = part.columns.map(({ title }) => title)
    const begins = from === 0 && args.rows.kind !== 'held-back'
    const head = rules.format === 'csv' && begins && titles.length > 0 ? csvHeadings(titles, rules) : ''
    const between = rules.format === 'json' ? ',\n' : rules.format === 'ndjson' ? '\n' : ''
    const end = rules.format === 'ndjson' && written.length > 0 ? '\n' : ''
    const text = head + written.join(between) + end
    return { text, rows: part.rows, places: part.places }
  },
}
