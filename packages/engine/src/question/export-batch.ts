import { batchColumn, batchField, type BatchField } from '../export/batch-column.ts'
import type { PlacedBatch } from '../export/batch-encoder.ts'
import { encoderOf, loadEncoder } from '../export/load-encoder.ts'
import type { BatchFormat } from '../export/formats.ts'
import type { ExportArgs } from './export-args.ts'
import { linesToExport } from './lines-to-export.ts'
import type { Question } from './question.ts'

export interface ExportBatchArgs extends ExportArgs {
  readonly format: BatchFormat
  readonly values: 'shown' | 'raw'
  /** What stands at the beginning of the file comes before the batch. */
  readonly begins: boolean
}

export interface ExportedBatch {
  readonly bytes: Uint8Array<ArrayBuffer>
  /** Bytes of what stands at the beginning of the file. */
  readonly head: number
  /** What the file's end must say of the batch. */
  readonly told: PlacedBatch['told']
  readonly fields: readonly BatchField[]
  readonly rows: number
  /** Places there are: `to` of the last part. */
  readonly places: number
}

/** Some rows as a batch of a format that holds them column by column. Linear in the cells that are written. */
export const exportBatch: Question<ExportBatchArgs, ExportedBatch> = {
  load: ({ format }) => loadEncoder(format),
  *answer(asked, args) {
    const encoder = encoderOf(args.format)
    const shown = args.values === 'shown'
    const { columns, lines, rows, places } = yield* linesToExport(asked, args)
    const fields = columns.map(column => batchField(column, shown))
    const made = (function* () {
      for (const column of columns) yield batchColumn(column, lines, shown)
    })()
    const { bytes, told } = yield* encoder.encode(made, lines.length)
    const head = args.begins ? encoder.begin(fields) : new Uint8Array(0)
    const all = new Uint8Array(head.length + bytes.length)
    all.set(head)
    all.set(bytes, head.length)
    return { bytes: all, head: head.length, told, fields, rows, places }
  },
}

/** The end of such a file: what it says of all batches. */
export const exportEnd: Question<
  {
    readonly format: BatchFormat
    readonly fields: readonly BatchField[]
    readonly batches: readonly PlacedBatch[]
    readonly rows: number
  },
  Uint8Array<ArrayBuffer>
> = {
  load: ({ format }) => loadEncoder(format),
  *answer(_, { format, fields, batches, rows }) {
    return encoderOf(format).end(fields, batches, rows)
  },
}
