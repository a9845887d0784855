import type { GroupPath, KeyValue, RowId, Value } from '@vast-meadow/engine'
import type { RecordOf } from './kernel/record-of.ts'
import type { SelectedRows } from './kernel/selected-rows.ts'

/** The cell that a painter draws. */
export interface PaintedCell {
  readonly column: string
  /** Names the row for its source. */
  readonly row: RowId
  readonly value: Value
  /** The value as the column's format writes it. */
  readonly text: string
  /** Whether the row is selected. */
  readonly selected: boolean
  /** Another value of the same row. */
  readonly valueOf: (column: string) => Value
}

/**
 * Draws the cells of a column with elements of its own. Cells are recycled: `update` is called again with another
 * row for as long as the cell is in view, `release` when it is given up. A painter that throws is switched off: its
 * cells show their text, and a `problem` event says so.
 */
export interface CellPainter<State = unknown> {
  /** Puts elements into the empty cell and returns what `update` needs to find them. */
  create(cell: HTMLElement): State
  update(state: State, cell: PaintedCell): void
  release?(state: State): void
}

/** The open row that a painter draws more of. */
export interface PaintedDetail<Row extends object = object> {
  readonly key: KeyValue
  readonly record: RecordOf<Row>
  /** Closes the row, as the reader would. */
  close(): void
}

/**
 * Draws what rows show when they are open, as high as it needs. What it drew is kept while the row is out of view, for
 * some twenty rows; `update` is called when the row's fields are there, and again when they may differ. A painter that
 * throws is switched off: a list of columns stands in its place, and a `problem` event says so.
 */
export interface DetailPainter<State = unknown, Row extends object = object> {
  /** Puts elements into the empty place and returns what `update` needs to find them. */
  create(place: HTMLElement): State
  update(state: State, detail: PaintedDetail<Row>): void
  release?(state: State): void
}

/** What a menu was asked for at: a cell, a heading, or the head of a group. */
export type MenuPlace<Row extends object = object> =
  | {
      readonly kind: 'cell'
      readonly column: string
      readonly value: Value
      /** The row’s key and its fields, as they are when that is asked. */
      key(): Promise<KeyValue>
      record(): Promise<RecordOf<Row>>
    }
  | { readonly kind: 'heading'; readonly column: string }
  | { readonly kind: 'group'; readonly column: string; readonly path: GroupPath; readonly value: Value }

/** What the host adds to a menu. What `act` throws is told as a `problem`. */
export interface HostMenuEntry {
  readonly text: string
  act(): void | Promise<void>
}

/** The row that an action was asked for. */
export interface ActionCall<Row extends object = object> {
  /** The action's name in the definition. */
  readonly name: string
  readonly column: string
  readonly key: KeyValue
  readonly record: RecordOf<Row>
}

/** What an action may answer, to be told to the reader. */
export interface ActionDone {
  /** What was done, in a sentence; default: the action's title. */
  readonly text?: string
  /** Undoes it; the reader is offered that. */
  undo?(): void | Promise<void>
}
/**
 * What an action does. It may answer what was done, at once or later; until then its button shows that it is under way.
 * What it throws is told where it was asked for.
 */
type ActionHandler<Call> =
  ((call: Call) => void) | ((call: Call) => ActionDone | Promise<ActionDone | undefined>)

/** What happens with the row when an action's button is pressed, after the confirmation where one is asked. */
export type CellAction<Row extends object = object> = ActionHandler<ActionCall<Row>>

/** The selected rows that an action was asked for. */
export interface BatchCall<Row extends object = object> {
  /** The action's name in the definition. */
  readonly name: string
  readonly count: number
  /** What is selected, for a server: keys, or a request and what is taken out of it. */
  readonly rows: SelectedRows
  /** The rows as plain objects, at most `limit`; default 10,000. */
  records(limit?: number): Promise<RecordOf<Row>[]>
}

/** What happens with the selected rows. */
export type BatchAction<Row extends object = object> = ActionHandler<BatchCall<Row>>

/** What an editor of the host's own is for. */
export interface EditorCall {
  /** What the cell has, as text. */
  readonly text: string
  /** Names the cell aloud. */
  readonly label: string
  /** The reader is done: what `text()` gives then is taken. */
  done(): void
  cancel(): void
}

export interface CellEditorPart {
  /** What the cell is to have, as text that reads as the column writes its values. */
  text(): string
  release?(): void
}

/** Puts an editor into the place of a cell. Tab and Escape are the grid's, Enter is the editor's own. */
export type OwnEditor = (place: HTMLElement, call: EditorCall) => CellEditorPart

/** A value to be checked by the host. */
export interface CheckCall {
  readonly column: string
  readonly value: Value
  /** null: the row is new. */
  readonly key: KeyValue
  /** The values of the row that are changed; of a new row all that it has. */
  readonly values: Readonly<Record<string, Value>>
}

/** A cell for which a reader chooses something. */
export interface ChoiceCall {
  readonly column: string
  /** What is typed so far. */
  readonly search: string
  /** null: the row is new. */
  readonly key: KeyValue
  /** What its row has, changes included, as far as it is shown or changed. */
  readonly values: Readonly<Record<string, Value>>
}

/** Answers what can be chosen, as the column writes it; may fetch it. What comes after more was typed does not count. */
export type OwnChoices = (
  call: ChoiceCall,
) => readonly (string | number)[] | Promise<readonly (string | number)[]>

/** Answers what is wrong, in words for the reader; null: nothing. May answer later. */
export type OwnCheck = (call: CheckCall) => string | null | undefined | Promise<string | null | undefined>
