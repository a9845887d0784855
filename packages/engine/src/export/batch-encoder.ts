import type { BatchColumn, BatchField } from './batch-column.ts'
import type { Work } from '../work/work.ts'

/** Where a batch stands in the file, and what the file's end says of it: plain data, known to its encoder alone. */
export interface PlacedBatch {
  /** Bytes of the file before the batch. */
  readonly at: number
  readonly told: unknown
}

/**
 * Writes a format that holds rows column by column, a batch of rows at a time. It holds nothing in between: what the end of
 * the file must say of a batch is handed out with it.
 */
export interface BatchEncoder {
  /** What stands before the first batch. */
  begin(fields: readonly BatchField[]): Uint8Array<ArrayBuffer>
  /** One batch of rows. Columns are made one after another, with room between for other work. */
  encode(
    columns: Iterable<BatchColumn>,
    rows: number,
  ): Work<{ readonly bytes: Uint8Array<ArrayBuffer>; readonly told: unknown }>
  /** What stands behind the last batch. */
  end(fields: readonly BatchField[], batches: readonly PlacedBatch[], rows: number): Uint8Array<ArrayBuffer>
}
