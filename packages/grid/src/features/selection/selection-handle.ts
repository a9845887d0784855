import type { KeyValue, RowRecord } from '@vast-meadow/engine'
import type { SelectedRows } from '../../kernel/selected-rows.ts'

/** Of the grid's handle: what is selected. */
export interface SelectionHandle {
  readonly selectedCount: number
  /** Whether the row of a key is selected. */
  isSelected(key: KeyValue): Promise<boolean>
  /** What is selected, for a server: keys, or a request and what is taken out of it. */
  selectedRows(): Promise<SelectedRows>
  /** The keys of selected rows, at most `limit`; default 10,000. */
  selectedKeys(limit?: number): Promise<KeyValue[]>
  /** The selected rows as plain objects, at most `limit`; default 10,000. */
  selectedRecords(limit?: number): Promise<RowRecord[]>
  /** Selects the rows of keys, in place of what was or, with `adding`, beside it; answers how many there are of them. */
  selectRows(keys: readonly KeyValue[], adding?: boolean): Promise<number>
  /** Takes the rows of keys out of what is selected. */
  unselectRows(keys: readonly KeyValue[]): Promise<void>
  /** Selects all rows that pass, on whatever page they are. */
  selectAll(): Promise<void>
  clearSelection(): void
  /** Shows only the rows that are selected now, until it is lifted; false where none is. */
  showOnlySelected(): boolean
  /** Shows all rows again that pass. */
  showAllAgain(): void
  /** Whether only the rows that were selected are shown. */
  readonly showsOnlySelected: boolean
  /** Goes to the next selected row behind the one that the keyboard is on; false where none passes. */
  goToNextSelected(): Promise<boolean>
}
