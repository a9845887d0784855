import type {
  Arrangement,
  ArrangementInput,
  ArrangementChange,
  Definition,
  Explanation,
  HeadLine,
  LineIndex,
  PackedRows,
  RowId,
  RowRecord,
  Rows,
  Transaction,
  Value,
  View,
} from '@vast-meadow/engine'
import type { Chip } from './chips-view.ts'
import type { Hindering } from './state-view.ts'
import { type PageLine } from './page-line.ts'
import type { SelectedRows } from './selected-rows.ts'
import type { ToldSummary } from './some-summaries.ts'

/** A cell of the grid, the header included. */
export interface Place {
  /** A line that can be scrolled over; −1: the header. */
  readonly line: PageLine
  readonly column: string
}

/** A row's cell, for what can be done from it. */
export interface PlacedCell extends Place {
  readonly row: RowId
  readonly value: Value
}

export interface MenuEntry {
  readonly text: string
  /** Entries of a lower rank stand before others; default: 0. */
  readonly rank?: number
  act(): void
}

/** Cells in a rectangle: the lines of the view `from` up to `to`, and the columns in their order. */
export interface CellBox {
  readonly from: LineIndex
  readonly to: LineIndex
  readonly columns: readonly string[]
}

/** Something that a reader did and that is not arranged: it can be taken back and done again. */
export interface ReaderAct {
  /** What was done, in words. */
  readonly said: string
  /** Answers whether anything was left to be taken back, or done again. */
  undo(): Promise<boolean>
  redo(): Promise<boolean>
}

/** What columns come to in some rows. */
export interface SummaryLine {
  /** Which rows, or cells, these are. */
  readonly name: string
  summaryOf(column: string): ToldSummary | null
}

/**
 * What a feature adds to the grid. Everything is optional; each member says how the answers of several features become
 * one. A feature is made from the kernel alone and knows no other feature.
 */
export interface Feature {
  readonly name: string
  /** Methods and properties of the grid's handle; no two features have the same. */
  readonly handle?: object

  /** What a reader arranged the first rows as; the first that is not null counts, laid over the definition's start. */
  begins?(): Promise<ArrangementInput | null>
  /** Completes a change before it is applied: each is given what the one before it made of it. */
  amend?(change: ArrangementChange): ArrangementChange
  /** Somebody else works with the grid from now on; all are told. */
  handedOver?(): void
  /** Something is arranged otherwise; all are told. */
  arranged?(arrangement: Arrangement, change: ArrangementChange, transaction: Transaction): void
  /** What shows the arrangement is out of date, or what it is shown by is another; all are told. */
  refresh?(): void
  /** Another definition is drawn from now on; all are told. */
  defined?(definition: Definition): void
  /** Another view is shown; all are told. */
  viewed?(view: View): void
  /** Summaries have come; all are told. */
  summarised?(): void
  /** Rows changed that no reader has changed; all are told. */
  changedByItself?(): void
  /** The line to where the rows are fails, and why, or does so no more (null); all are told. */
  lineTold?(problem: string | null): void
  /** What is arranged cannot be shown, and what was shown before stays; null: it is shown. */
  notShown?(problem: string | null): void
  /** The scrolling layer was drawn; all are told, at most once a frame. */
  drawn?(): void

  /** A key with the keyboard in the grid; the first that has done something with it answers true. */
  key?(event: KeyboardEvent, at: Place): boolean
  /** A key anywhere in the grid that is nothing to a field; likewise. */
  gridKey?(event: KeyboardEvent): boolean
  /** A click; the first that has done something with it answers true. */
  click?(event: MouseEvent, at: Place): boolean
  /** A double click; likewise. */
  doubleClick?(at: Place): boolean
  /** The menu of a place is asked for; likewise. */
  menu?(at: Place): boolean
  /** The card of a place is asked for, where everything about it is set; likewise. */
  card?(at: Place): boolean
  /** What can be done from a heading; all are listed, in the features' order. */
  headingMenu?(column: string): readonly MenuEntry[]
  /** What can be done from the head of a group; all are listed, in the features' order. */
  headMenu?(head: HeadLine): readonly MenuEntry[]
  /** Opens a menu at an element; the first that has one answers true. */
  openMenu?(entries: readonly MenuEntry[], anchor: HTMLElement): boolean
  /** Ticks a row, or takes its tick away; the first that does answers true. */
  toggleRow?(row: RowId): boolean
  /** What can be done from a cell; all are listed, in the features' order. */
  cellMenu?(cell: PlacedCell): readonly MenuEntry[]

  /**
   * What else can be set of a column in its card; all are shown, in the features' order. Asked again after every change.
   * `close`: closes the card.
   */
  cardPart?(column: string, close: () => void): HTMLElement | null
  /** A heading, or the first of several (`headingDrag.columns`), is dragged over a place of the window; all are told, and answer whether they would take it there. */
  headingOver?(column: string, at: { readonly x: number; readonly y: number }): boolean
  /** A heading was let go; the first that has taken it answers true. */
  headingDropped?(column: string, at: { readonly x: number; readonly y: number }): boolean
  /** A drag of a heading begins, or ends, whatever came of it; all are told. */
  headingDragged?(column: string | null): void

  /** What is active and can be lifted; all are shown, in the features' order. */
  chips?(): readonly Chip[]
  /** What holds rows back, when nothing passes; all are shown, in the features' order. */
  hindrances?(told: Explanation): readonly Hindering[]
  /** The change after which nothing of the feature holds rows back; all are joined. */
  lifted?: ArrangementChange
  /** Lifts what holds rows back and is not arranged; all are told. */
  liftAll?(): void

  /** A reader did something that is not arranged; all are told. */
  noteAct?(act: ReaderAct): void

  /** What columns come to in some rows, each a line beside that of all rows; all are shown, in the features' order. */
  summaryLines?(): readonly SummaryLine[]
  /** There are other such lines, or they come to something else; all are told. */
  summaryLinesDiffer?(): void

  /** The rectangles of cells that are picked; the first that is not null counts. */
  cellBoxes?(): readonly CellBox[] | null

  /** Whether a row is shown as selected; true where any says so. */
  selects?(row: RowId): boolean
  /** Whether the rows of a group are selected; the first that answers counts. */
  selectsGroup?(head: HeadLine): 'true' | 'false' | 'mixed'
  /** What is selected, for whoever acts on it; the first that answers counts. */
  selectedRows?(): Promise<SelectedRows>
  selectedRecords?(limit?: number): Promise<RowRecord[]>
  /** The rows that are ticked, as they are kept; the first that is not null counts. */
  ticked?(): PackedRows | null
  /** Rows that are open and show more of themselves; the first that is not null counts. */
  openRows?(): readonly RowId[] | null
  /** Whether a row is open; true where any says so. */
  isOpen?(row: RowId): boolean
  /** Open rows are these now: they have other ids in new rows. */
  openAgain?(rows: readonly RowId[]): void
  /** What an open row shows, to be put into its line, and its height in CSS px once that is known; the first that is not null counts. */
  detailOf?(row: RowId): HTMLElement | null
  detailHeightOf?(row: RowId): number | null
  /** Opens a row or closes it; the first that does answers true. */
  toggleOpen?(row: RowId): boolean
  /** Rows that a reader holds on to, whatever becomes of them; the first that is not null counts. */
  held?(): Rows | null
  /** Held rows are these now: they have other ids in new rows. */
  holdAgain?(rows: Rows): void
  /** Rows are no longer there; all are told. */
  gone?(rows: readonly RowId[]): void
}

/** The features of a grid, asked as one. One that throws is told of and left out from then on. */
export class Features {
  private list: readonly Feature[] = []
  private readonly failed: (feature: Feature, error: unknown) => void

  constructor(failed: (feature: Feature, error: unknown) => void) {
    this.failed = failed
  }

  set(list: readonly Feature[]): void {
    this.list = list
  }

  /** Every feature's answer, in their order. */
  all<Answer>(ask: (feature: Feature) => Answer): Answer[] {
    const answers: Answer[] = []
    for (const feature of this.list) {
      try {
        answers.push(ask(feature))
      } catch (error) {
        this.drop(feature, error)
      }
    }
    return answers
  }

  /** What becomes of a value when each feature is given what the one before it made of it. */
  pipe<T>(value: T, step: (feature: Feature, value: T) => T | undefined): T {
    let made = value
    for (const feature of this.list) {
      try {
        made = step(feature, made) ?? made
      } catch (error) {
        this.drop(feature, error)
      }
    }
    return made
  }

  /** Whether any feature answers true; those behind it are not asked. */
  some(ask: (feature: Feature) => boolean | undefined): boolean {
    for (const feature of this.list) {
      try {
        if (ask(feature)) return true
      } catch (error) {
        this.drop(feature, error)
      }
    }
    return false
  }

  private drop(feature: Feature, error: unknown): void {
    this.list = this.list.filter(other => other !== feature)
    this.failed(feature, error)
  }
}
