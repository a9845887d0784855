import type { KeyValue } from '@vast-meadow/engine'

/** Of the grid's handle: rows that are open. */
export interface DetailsHandle {
  /** How many rows are open, whether they pass or not. */
  readonly openedCount: number
  /** The keys of rows that are open, in the order in which they were opened. */
  openedKeys(): Promise<KeyValue[]>
  /** Opens the rows of keys or, with `open` false, closes them; answers how many there are of them. */
  openRows(keys: readonly KeyValue[], open?: boolean): Promise<number>
  /** Closes all rows. */
  closeRows(): void
}
