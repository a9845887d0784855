import type {
  Arrangement,
  ArrangementChange,
  ArrangementInput,
  ChangeList,
  DefinitionInput,
  OwnConditions,
  OwnSummaries,
  Placement,
  RowObject,
  RowSource,
  SaveAnswer,
  SourceInput,
} from '@vast-meadow/engine'
import type {
  ActionCall,
  BatchAction,
  BatchCall,
  CellAction,
  CellPainter,
  DetailPainter,
  HostMenuEntry,
  MenuPlace,
  OwnCheck,
  OwnChoices,
  OwnEditor,
} from '../painter.ts'
import type { DeleteAct, OpenAct, SelectionChange } from './events.ts'
import type { Texts } from './texts.ts'

/** What JSON cannot hold: functions, by the names that a definition uses for them. */
export interface Parts<Row extends object = object> {
  /** By the name that a column's definition gives, or by `cell:` and the column's key. */
  readonly painters?: Readonly<Record<string, CellPainter>>
  /** By the name that the definition’s `detail` gives: what draws the details of rows. */
  readonly details?: Readonly<Record<string, DetailPainter<unknown, Row>>>
  /** By the name of an action in the definition: what it does. The `action` event tells of it as well. */
  readonly actions?: Readonly<Record<string, CellAction<Row>>>
  /** By the name of an action on selected rows in the definition: what it does. The `batch` event tells of it as well. */
  readonly batch?: Readonly<Record<string, BatchAction<Row>>>
  /**
   * Saves what readers changed, and answers what came of it; nothing: all is saved. A promise that is rejected says that
   * nothing is. Without it, changes are the grid's own as soon as they are saved.
   */
  save?(changes: ChangeList): SaveAnswer | undefined | Promise<SaveAnswer | undefined>
  /** By the name that a column's `ownCheck` gives: what is wrong with a value. */
  readonly checks?: Readonly<Record<string, OwnCheck>>
  /** By the name that a column's `choices.own` gives: what can be chosen for a cell. */
  readonly choices?: Readonly<Record<string, OwnChoices>>
  /** By `cell:` and the column's key: the editor of its cells. */
  readonly editors?: Readonly<Record<string, OwnEditor>>
  /** What stands in the menus of cells, headings and heads of groups beside what the grid offers there. */
  menu?(place: MenuPlace<Row>): readonly HostMenuEntry[]
  /**
   * Conditions of one's own, by the name that their parts say. The engine then runs in the page, unless the placement
   * gives a worker whose entry hands the same ones to `serveEngine`.
   */
  readonly conditions?: OwnConditions
  /** Summaries of one's own, by the name that the arrangement says; they run where the engine does, as conditions do. */
  readonly summaries?: OwnSummaries
}

/** What of a reader is kept between visits: what is arranged, and other arrangements by name. Plain JSON. */
export interface KeptArrangements extends Arrangement {
  readonly named?: readonly NamedArrangement[]
  /** The name of the arrangement to begin with; without one, it begins as it was left. */
  readonly first?: string
}

export interface NamedArrangement {
  readonly name: string
  readonly arrangement: Partial<Arrangement>
}

/** Where a reader's arrangement is kept between visits. */
export interface ArrangementStorage {
  /** What was saved last, as it was; null: nothing. It may be of an older version, or damaged: the grid checks it. */
  load(): Promise<unknown>
  save(kept: KeptArrangements): Promise<void>
}

/** Where changes that are not saved are kept between visits. */
export interface ChangeStorage {
  /** What was kept last, as it was; null: nothing. The grid checks it. */
  load(): Promise<unknown>
  /** null: there is nothing to be kept. */
  save(changes: ChangeList | null): Promise<void>
}

/** What the host may keep from happening, by what it is. Each may answer later; until then nothing happens. */
export interface Allow {
  /** Rows are about to be selected, or not to be any more. */
  select?(change: SelectionChange): boolean | Promise<boolean>
  /**
   * A reader is about to arrange something; may answer another change to make of it. Who answers false and calls
   * `handle.arrange` arranges the grid alone.
   */
  arrange?(change: ArrangementChange): boolean | ArrangementChange | Promise<boolean | ArrangementChange>
  /** A reader is about to open a row, or to close it. */
  open?(act: OpenAct): boolean | Promise<boolean>
  /** Something is about to be done with a row, or with the selected rows; asked before the reader is. */
  act?(call: ActionCall | BatchCall): boolean | Promise<boolean>
  /** Rows are about to be taken out by an action that deletes them; asked before the reader is, after `act`. */
  delete?(act: DeleteAct): boolean | Promise<boolean>
}

/** `Row`: what a row is in the host's own types; it flows on to the handle. */
export interface MeadowOptions<Row extends object = object> {
  /** Default: made from the data, every field a column. */
  readonly definition?: DefinitionInput
  /** Rows as objects, fields by their names, or … */
  readonly rows?: readonly Row[]
  /** … what rows come from: a CSV file, a recipe, a table, or a source of one's own. */
  readonly source?: RowSource | SourceInput
  /** What to start with, laid over the definition's own start. */
  readonly arrangement?: ArrangementInput
  /** What JSON cannot hold: functions, by the names that the definition uses. */
  readonly parts?: Parts<Row>
  /** Words in place of the grid’s own; what is left out is of the language of the definition’s `locale`, where it was imported, else English. */
  readonly texts?: Partial<Texts>
  /** In which language the grid is, where its definition names none: a BCP 47 tag, for example `document.documentElement.lang`. */
  readonly locale?: string
  /** Where the engine runs; default: in a worker over 5,000 rows. */
  readonly placement?: Placement
  /** Where what a reader arranges is kept between visits. */
  readonly storage?: ArrangementStorage
  /** Where changes that are not saved are kept, so that they outlast a reload. */
  readonly unsaved?: ChangeStorage
  /**
   * Name of the parameter behind the `#` of the page's address that holds an arrangement, such as `view`: a page opened
   * with it begins so, and readers can copy such an address where the definition has `arrangements`.
   */
  readonly link?: string
  /** Where a reader was on a visit before: what `handle.place()` gave then, kept by the host as it is. */
  readonly place?: unknown
  /** Asked before something happens; whoever answers false keeps it from happening. */
  readonly allow?: Allow
  /** What “today” is reckoned by, in milliseconds since 1970; default: the present. */
  readonly clock?: () => number
}

/** What rows can be given as. */
export type RowsGiven<Row extends object = object> = readonly Row[] | RowSource | SourceInput

const isRowList = (given: RowsGiven): given is readonly object[] => Array.isArray(given)

/** Rows that are given as a list; null: they come from a source. Rows by an interface are objects like any other. */
export const rowList = (given: RowsGiven): readonly RowObject[] | null =>
  isRowList(given) ? (given as readonly RowObject[]) : null

/** What comes from a source, where no list is given. */
export const sourceGiven = (given: RowsGiven): RowSource | SourceInput | null =>
  isRowList(given) ? null : given

export const isRowSource = (given: RowsGiven): given is RowSource =>
  typeof given === 'object' && given !== null && 'view' in given
