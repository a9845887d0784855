import {
  arrangementFor,
  bindingOf,
  ArrangementStore,
  defineFrom,
  orderAfterClick,
  readDefinition,
  shownColumns,
  shower,
  type Arrangement,
  type ArrangementChange,
  type ArrangementListener,
  type Binding,
  type Definition,
  type DefinitionInput,
  type FlowRequest,
  type RowSource,
  type SourceDescription,
  type Value,
} from '@vast-meadow/engine'
import { MIN_COLUMN_WIDTH } from '../band/geometry.ts'

const RESETS_PAGE = ['order', 'conditions', 'search', 'group', 'pageSize'] as const

/** Reads a definition, or throws a `TypeError` that names every problem and its place. */
export function definitionOf(input: DefinitionInput): Definition {
  const read = readDefinition(input)
  if (read.ok) return read.definition
  const lines = read.problems.map(({ path, message }) => `${path || 'definition'}: ${message}`)
  throw new TypeError(lines.join('\n'))
}

/** What a grid is about, without anything drawn: rows' source, definition, arrangement, and the acts of a reader. */
export class GridModel {
  definition: Definition | null = null
  description: SourceDescription | null = null
  source: RowSource | null = null
  /** The definition follows from the data; other data, another definition. */
  madeFromData = false
  /** What relative dates count from; the same here and where rows are searched. */
  private now = Date.now()
  private ownsSource = false
  private store: ArrangementStore
  private readonly listener: ArrangementListener
  /** What was changed before there was a definition to check it against. */
  private early: ArrangementChange = {}

  constructor(listener: ArrangementListener) {
    this.listener = listener
    this.store = new ArrangementStore(arrangementFor(defineFrom('', [], [])))
    this.store.listen((arrangement, transaction) => {
      this.early = { ...this.early, ...transaction.change }
      this.listener(arrangement, transaction)
    })
  }

  get arrangement(): Arrangement {
    return this.store.arrangement
  }

  readonly apply: ArrangementStore['apply'] = (change, why) => {
    // Other rows stand on the pages then, so the first one is shown.
    const turned = this.definition?.pages && !('page' in change) && RESETS_PAGE.some(key => key in change)
    return this.store.apply(turned ? { ...change, page: 0 } : change, why)
  }

  /** Takes rows from another source; one that the grid made itself is closed. */
  takeSource(source: RowSource, description: SourceDescription, own: boolean): void {
    if (this.ownsSource && this.source !== source) this.source?.close()
    this.source = source
    this.ownsSource = own
    this.description = description
  }

  /** The definition given, as long as the data has any of its columns; else one made from the data. */
  fittingDefinition(given: Definition | null, description: SourceDescription): Definition {
    const fields = new Set(description.fields.map(field => field.key))
    const fits = !this.madeFromData && given?.columns.some(column => fields.has(column.key))
    if (fits && given) return given
    this.madeFromData = true
    const { title = '', key = [], locale, density } = given ?? {}
    const made = defineFrom(title, description.fields, description.samples)
    return { ...made, key: key.filter(name => fields.has(name)), locale, density: density ?? made.density }
  }

  /** Sets the definition, and the arrangement as far as its columns are still there. */
  define(definition: Definition, arrangement: Partial<Arrangement>): void {
    const early = this.definition ? {} : this.early
    this.definition = definition
    this.now = Date.now()
    this.store = new ArrangementStore(arrangementFor(definition, { ...arrangement, ...early }))
    this.store.listen(this.listener)
  }

  /** The fields whose values name a row. */
  get keyFields(): readonly string[] {
    return this.definition?.key ?? []
  }

  close(): void {
    if (this.ownsSource) this.source?.close()
    this.source = null
  }

  /** What the source is told of the definition. */
  get binding(): Binding {
    return this.definition ? bindingOf(this.definition, this.now) : { formats: {}, computed: [] }
  }

  titleOf(key: string): string {
    return this.columnOf(key)?.title || key
  }

  /** How a column writes a value. */
  showOf(key: string): (value: Value) => string {
    const field = this.description?.fields.find(field => field.key === key)
    return field ? shower(field, this.binding.formats[key]) : String
  }

  request(): FlowRequest {
    const { order, conditions, search, group, open } = this.arrangement
    const { start, middle, end } = shownColumns(this.arrangement)
    return { order, conditions, search, group, open, searchColumns: [...start, ...middle, ...end] }
  }

  orderBy(column: string, adding: boolean): void {
    if (!this.columnOf(column)?.orderable || !this.description?.can.order) return
    this.apply({ order: orderAfterClick(this.arrangement.order, column, adding) }, 'reader')
  }

  showColumn(key: string, shown: boolean): void {
    const others = this.arrangement.hidden.filter(hidden => hidden !== key)
    this.apply({ hidden: shown ? others : [...others, key] }, 'reader')
  }

  pinColumn(key: string, pinned: boolean): void {
    const others = this.arrangement.pinnedStart.filter(other => other !== key)
    this.apply({ pinnedStart: pinned ? [...others, key] : others }, 'reader')
  }

  toggleGroup(value: Value): void {
    const { all, except } = this.arrangement.open
    const others = except.filter(other => other !== value)
    const open = { all, except: others.length < except.length ? others : [...except, value] }
    this.apply({ open }, 'reader')
  }

  widthOf(key: string): number {
    return this.arrangement.widths[key] ?? this.columnOf(key)?.width ?? 0
  }

  setWidth(key: string, width: number): void {
    const widths = { ...this.arrangement.widths, [key]: this.widthWithin(key, width) }
    this.apply({ widths }, 'reader')
  }

  /** The nearest width that a column may have. */
  widthWithin(key: string, width: number): number {
    const { minWidth = MIN_COLUMN_WIDTH, maxWidth = Infinity } = this.columnOf(key) ?? {}
    return Math.max(minWidth, Math.min(maxWidth, width))
  }

  /** Lines on a page; null: there are no pages. */
  get pageSize(): number | null {
    const { pages } = this.definition ?? {}
    return pages ? (this.arrangement.pageSize ?? pages.size) : null
  }

  private columnOf(key: string): Definition['columns'][number] | undefined {
    return this.definition?.columns.find(column => column.key === key)
  }
}
