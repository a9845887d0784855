import type { KeyValue } from '../key/key-value.ts'

/** Changes of rows, named by their key. All of it takes effect at once. */
export interface ChangeSet {
  /** Whole rows: those whose key is there take its place, the others are new. Fields not named are missing. */
  readonly put?: readonly object[]
  /** Parts of rows that are there; fields not named stay. */
  readonly update?: readonly object[]
  readonly remove?: readonly KeyValue[]
  /**
   * Rows that were removed: they are back as they were, at their places, before anything else takes effect. Those whose
   * room was given to others meanwhile, or that are there, are told as `no-such-row`.
   */
  readonly restore?: readonly KeyValue[]
  /**
   * Rows that come after all others, whatever their key: for rows that arrive in batches. Fields that are new become
   * columns; a column whose type does not hold for them becomes text.
   */
  readonly append?: readonly object[]
  /**
   * Parts of rows that are there, typed and not saved yet: lines, conditions, order and groups see them from now on,
   * the saved rows keep what they have. Saying of a cell what is saved takes its change back.
   */
  readonly pending?: readonly object[]
  /** Pending changes that are saved now: of these rows, or of all. Takes effect after `pending`. */
  readonly save?: readonly KeyValue[] | 'all'
  /** Pending changes that are given up; the saved values are shown again. Takes effect after `save`. */
  readonly giveBack?: readonly KeyValue[] | 'all'
}

export type ChangeProblem =
  /** A row that is to be updated or removed is not there, or one that is to be restored is not among the removed ones. */
  | { readonly code: 'no-such-row'; readonly key: KeyValue }
  /** A row does not name its key. */
  | { readonly code: 'no-key'; readonly nth: number }
  /** A field that the table does not have; the rest of the row took effect. */
  | { readonly code: 'no-such-field'; readonly field: string }
  /** A value that its column cannot hold; the cell stayed as it was, or is missing in a new row. */
  | { readonly code: 'not-of-type'; readonly field: string; readonly type: string; readonly text: string }

/** What came of a change set. */
export interface Committed {
  readonly updated: number
  readonly inserted: number
  readonly removed: number
  readonly restored: number
  readonly problems: readonly ChangeProblem[]
  /** Rows there are now. */
  readonly total: number
}
