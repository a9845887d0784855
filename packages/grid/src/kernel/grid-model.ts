import {
  askedLevel,
  requestOf,
  searchColumns,
  arrangementFor,
  bindingOf,
  bucketsFor,
  columnsMoved,
  headingParted,
  ArrangementStore,
  defineFrom,
  canKeep,
  isAble,
  kindOf,
  kindsFor,
  mergeArrangement,
  orderAfterClick,
  PLAIN_BINDING,
  readDefinition,
  shower,
  speaksOfCount,
  summariesFor,
  summaryField,
  summaryFits,
  summaryShower,
  usualBucket,
  usualKind,
  keysIn,
  withAbsentColumns,
} from '@vast-meadow/engine/client'
import type {
  Among,
  AnswerOf,
  ArgsOf,
  Arrangement,
  ArrangementChange,
  ArrangementListener,
  Binding,
  Bucket,
  BucketKind,
  ColumnDefinition,
  ColumnPlace,
  Condition,
  ConditionKindName,
  Definition,
  DefinitionInput,
  Field,
  GroupMeasure,
  GroupPath,
  Keep,
  LeftOut,
  Level,
  OrderKey,
  PhraseOf,
  QuestionName,
  RowSource,
  SelectionRules,
  Show,
  SourceDescription,
  Summary,
  Value,
  ViewRequest,
  Why,
} from '@vast-meadow/engine'
import { MIN_COLUMN_WIDTH } from '../band/geometry.ts'
import { plainJson } from './plain-json.ts'
import type { AskedRows } from './selected-rows.ts'
import { DefinitionError } from './problem.ts'

/** Asked of the column that tells where the free expression holds. */
const NO_DEFINITION: Pick<Definition, 'columns' | 'zone'> = { columns: [], zone: undefined }

/** The expressions by which rows look, and can be acted on. */
const rulesOf = (definition: Definition | null): string[] => [
  ...(definition?.styles ?? []).map(({ when }) => when),
  ...(definition?.columns ?? []).flatMap(({ cell }) =>
    cell.kind === 'actions' ? cell.actions.flatMap(({ when }) => when ?? []) : [],
  ),
]

/** Before there are rows. */
const NO_SELECTION: SelectionRules = {
  rows: 'none',
  by: 'box',
  within: 'all',
  notPassing: 'keep',
  cells: false,
}

/** True: a change may be; false: it may not; or what shall be in its place. */
type HostAnswer = boolean | ArrangementChange

/** Reads a definition, or throws a `DefinitionError` that names every problem and its place. */
export function definitionOf(input: DefinitionInput): Definition {
  const read = readDefinition(plainJson(input))
  if (read.ok) return read.definition
  throw new DefinitionError(read.problems)
}

/** What a grid is about, without anything drawn: rows' source, definition, arrangement, and the acts of a reader. */
export class GridModel {
  definition: Definition | null = null
  description: SourceDescription | null = null
  source: RowSource | null = null
  /** What a character takes on average where the cells stand, in CSS px; not known: as in most pages. */
  characterPx: number | undefined = undefined
  /** How many rows are selected, for rules that speak of it. */
  selectedCount = 0
  /** Only these rows are shown, whatever else is arranged; null: any. Not kept: rows have other ids at the next visit. */
  among: Among | null = null
  /** The free expression cannot be read, and so asks nothing. */
  whereWrong = false
  /** The definition that the host gave; null: it follows from the rows, other rows, another definition. */
  given: Definition | null = null
  /** What relative dates count from; the same here and where rows are searched. */
  private now: number
  private ownsSource = false
  private kept: {
    definition: Definition
    now: number
    where: string
    worked: string
    counted: number
    binding: Binding
  } | null = null
  private store: ArrangementStore
  private readonly listener: ArrangementListener
  /**
   * What was given to begin with and what was changed since, by whomever; all else follows the definition's start, also
   * that of a later definition. Columns of it that are not there may come with other rows.
   */
  private arranged: Partial<Arrangement> = {}
  /** The parts of that which a reader arranged last: of these the definition has a say. */
  private readonly byReader = new Set<keyof Arrangement>()
  /** Who uses the grid: a reader, or a builder, whom no definition keeps from anything. */
  worker: 'reader' | 'builder' = 'reader'
  /** What readers start with; null: as the definition says. */
  startsWith: Arrangement | null = null

  /** In which language a definition is made that nobody gave. */
  locale: string | undefined
  private readonly clock: () => number
  private readonly amend: (change: ArrangementChange) => ArrangementChange

  /** `clock`: what “today” is reckoned by, in milliseconds since 1970. `amend`: completes changes before they are applied. */
  constructor(
    listener: ArrangementListener,
    clock: () => number = Date.now,
    amend: (change: ArrangementChange) => ArrangementChange = change => change,
  ) {
    this.amend = amend
    this.listener = listener
    this.clock = clock
    this.now = clock()
    this.store = new ArrangementStore(arrangementFor(defineFrom('', [], [])))
    this.store.listen(this.noted)
  }

  private readonly noted: ArrangementListener = (arrangement, transaction) => {
    this.arranged = { ...this.arranged, ...transaction.change }
    for (const part of keysIn(transaction.change))
      if (transaction.why === 'reader') this.byReader.add(part)
      else this.byReader.delete(part)
    this.listener(arrangement, transaction)
  }

  get arrangement(): Arrangement {
    return this.store.arrangement
  }

  /** What the host says of a change that somebody wants who works with the grid; set by the kernel. */
  hostSays: (change: ArrangementChange) => HostAnswer | Promise<HostAnswer> = () => true
  /** The host let nothing happen: what shows the arrangement is to show it as it is. */
  refused: () => void = () => {}

  /** null: nothing changed, or the host still thinks about it. */
  readonly apply: ArrangementStore['apply'] = (change, why) => {
    if (why !== 'reader') return this.applyNow(change, why)
    const answered = (answer: HostAnswer): ReturnType<ArrangementStore['apply']> => {
      if (answer === false) this.refused()
      return answer === false ? null : this.applyNow(answer === true ? change : answer, why)
    }
    const answer = this.hostSays(change)
    if (!(answer instanceof Promise)) return answered(answer)
    answer.then(answered, () => this.refused())
    return null
  }

  private applyNow(change: ArrangementChange, why: Why): ReturnType<ArrangementStore['apply']> {
    const who: Why = why === 'reader' ? this.worker : why
    return this.store.apply(this.within(this.amend(change)), who)
  }

  /** What to keep for the next visit: with what was arranged of columns that are not there now. */
  get toKeep(): Arrangement {
    const { definition, arrangement, arranged } = this
    return definition ? withAbsentColumns(arrangement, arranged, definition) : arrangement
  }

  /** What the grid starts with, if nothing were arranged. */
  get start(): Arrangement {
    const { definition, startsWith } = this
    return definition ? arrangementFor(definition, startsWith ?? {}) : this.arrangement
  }

  /** A change as far as the definition's columns have it, whoever asks for it. */
  private within(change: ArrangementChange): ArrangementChange {
    if (!this.definition) return change
    const { pinnedStart = [], pinnedEnd = [] } = change
    const unless = (pinned: readonly string[]) => (key: string) => !pinned.includes(key)
    // A column stands at one edge: the one that it was pinned to last.
    const before = {
      ...this.arrangement,
      pinnedStart: this.arrangement.pinnedStart.filter(unless(pinnedEnd)),
      pinnedEnd: this.arrangement.pinnedEnd.filter(unless(pinnedStart)),
    }
    const given = Object.fromEntries(Object.entries(change).filter(([, part]) => part !== undefined))
    // What is the same as before is no part of the transaction.
    return arrangementFor(this.definition, { ...before, ...given })
  }

  /** Takes rows from another source; one that the grid made itself is closed. */
  takeSource(source: RowSource, description: SourceDescription, own: boolean): void {
    if (this.ownsSource && this.source !== source) this.source?.close()
    this.source = source
    this.ownsSource = own
    this.description = description
  }

  /** The definition for rows as they are described: the one given, else one made from them. */
  definitionFor({ fields, samples, key: known = [] }: SourceDescription): Definition {
    if (this.given) return this.given
    // An empty list tells of no fields: what was there before is there again with the next rows.
    if (fields.length === 0 && this.definition) return this.definition
    const { title = '', key = [], locale, density } = this.definition ?? {}
    const made = defineFrom(title, fields, samples, this.characterPx)
    const there = new Set(fields.map(field => field.key))
    const kept = key.filter(name => there.has(name))
    const named = kept.length > 0 ? kept : [...known]
    return { ...made, key: named, locale: locale ?? this.locale, density: density ?? made.density }
  }

  /** The columns whose field the rows do not have; none while no field is known. */
  get columnsWithoutField(): readonly ColumnDefinition[] {
    const { definition, description } = this
    if (!definition || !description || description.fields.length === 0) return []
    const there = new Set(description.fields.map(field => field.key))
    return definition.columns.filter(({ key, expression }) => expression === undefined && !there.has(key))
  }

  /**
   * Sets the definition; what of a reader's arrangement does not hold in it is answered. `begun`: what to begin with,
   * where nothing was arranged yet; `byReader`: a reader arranged that.
   */
  define(definition: Definition, begun: Partial<Arrangement> = {}, byReader = false): readonly LeftOut[] {
    if (byReader) for (const part of keysIn(begun)) if (!(part in this.arranged)) this.byReader.add(part)
    this.arranged = { ...begun, ...this.arranged }
    this.definition = definition
    this.now = this.clock()
    const { arrangement, leftOut } = this.merged(definition)
    this.store = new ArrangementStore(arrangement)
    this.store.listen(this.noted)
    return leftOut
  }

  /** What is arranged, laid over a definition: what a reader arranged as far as it allows, all else as it is. */
  private merged(definition: Definition): ReturnType<typeof mergeArrangement> {
    const { arranged, byReader, description } = this
    const fields = description && description.fields.length > 0 ? description.fields : null
    const ofReader = Object.fromEntries(
      keysIn(arranged).flatMap(part => (byReader.has(part) ? [[part, arranged[part]]] : [])),
    )
    const { arrangement, leftOut } = mergeArrangement(definition, ofReader, fields)
    const held = Object.fromEntries([...byReader].map(part => [part, arrangement[part]]))
    return { arrangement: arrangementFor(definition, { ...arranged, ...held }), leftOut }
  }

  /** Lays what a reader kept over the definition; what does not hold in it is answered. */
  takeKept(kept: Partial<Arrangement>): readonly LeftOut[] {
    const { definition } = this
    if (!definition) return []
    const { arrangement, leftOut } = mergeArrangement(definition, kept, this.description?.fields ?? null)
    this.apply({ ...arrangement, page: 0 }, 'reader')
    return leftOut
  }

  /** Whether any rule of the definition speaks of how many rows are selected. */
  get speaksOfCount(): boolean {
    return rulesOf(this.definition).some(speaksOfCount)
  }

  /** How rows and cells are picked. */
  get selectionRules(): SelectionRules {
    return this.definition?.selection ?? NO_SELECTION
  }

  /** The fields whose values name a row. */
  get keyFields(): readonly string[] {
    return this.definition?.key ?? []
  }

  close(): void {
    if (this.ownsSource) this.source?.close()
    this.source = null
  }

  /** What the source is told of the definition; the same one until what it follows from changes. */
  get binding(): Binding {
    const { definition, now, kept } = this
    const { where, groups, summaries } = this.arrangement
    if (!definition) return PLAIN_BINDING
    const worked = JSON.stringify([
      groups.map(({ bucket }) => (bucket.by === 'expression' ? bucket.expression : '')),
      Object.entries(summaries).filter(([, one]) => typeof one === 'object' && one.kind === 'expression'),
    ])
    const counted = this.speaksOfCount ? this.selectedCount : 0
    if (
      kept?.definition === definition &&
      kept.now === now &&
      kept.where === where &&
      kept.worked === worked &&
      kept.counted === counted
    )
      return kept.binding
    this.kept = {
      definition,
      now,
      where,
      worked,
      counted,
      binding: bindingOf(definition, now, where, groups, summaries, counted),
    }
    return this.kept.binding
  }

  titleOf(key: string): string {
    return this.columnOf(key)?.title || key
  }

  /** How a column writes a value. */
  showOf(key: string): (value: Value) => string {
    const field = this.fieldOf(key)
    return field ? shower(field, this.binding.formats[key]) : String
  }

  /** What would be asked of the source with other levels of groups. */
  requestFor(groups: readonly Level[]): ViewRequest {
    const { definition, now } = this
    const asked = { ...this.request(), groups: groups.map(askedLevel) }
    if (!definition || !groups.some(({ bucket }) => bucket.by === 'expression')) return asked
    return {
      ...asked,
      binding: bindingOf(
        definition,
        now,
        this.arrangement.where,
        groups,
        this.arrangement.summaries,
        this.selectedCount,
      ),
    }
  }

  /** What “today” is reckoned by. */
  get timeNow(): number {
    return this.clock()
  }

  request(): ViewRequest {
    const { definition, arrangement, binding } = this
    const among = this.among ?? undefined
    return { ...requestOf(definition ?? NO_DEFINITION, arrangement, this.clock(), binding), among }
  }

  /** What would be asked of the source by other conditions, in whatever order. */
  requestOfRows({ conditions, where, search }: AskedRows): ViewRequest {
    const { definition, arrangement, now } = this
    const asked = { ...arrangement, conditions, where, search, order: [], groups: [] }
    const own = where !== arrangement.where && definition
    const binding = own ? bindingOf(definition, now, where) : this.binding
    return requestOf(definition ?? NO_DEFINITION, asked, this.clock(), binding)
  }

  /** The columns that the search looks in. */
  get searchColumns(): string[] {
    return searchColumns(this.definition?.columns ?? [], this.arrangement)
  }

  canOrder(column: string): boolean {
    return (this.columnOf(column)?.orderable ?? false) && isAble(this.description?.can.order)
  }

  /** Whether the source answers a question. */
  canTell(question: QuestionName): boolean {
    return isAble(this.description?.can.questions, question)
  }

  /** Asks the source; undefined where there are no rows. */
  async ask<Name extends QuestionName>(
    question: Name,
    args: ArgsOf<Name>,
  ): Promise<AnswerOf<Name> | undefined> {
    return await this.source?.ask(question, args)
  }

  canAsk(column: string): boolean {
    return (this.columnOf(column)?.askable ?? false) && isAble(this.description?.can.conditions)
  }

  orderBy(column: string, adding: boolean): void {
    if (!this.canOrder(column)) return
    const several = adding && (this.definition?.severalKeys ?? true)
    this.apply({ order: orderAfterClick(this.arrangement.order, column, several) }, 'reader')
  }

  /** Sets a column's direction, as the only key or beside the others; null takes it off. */
  setDirection(column: string, direction: OrderKey['direction'] | null, adding: boolean): void {
    if (!this.canOrder(column)) return
    const { order } = this.arrangement
    const others = order.filter(key => key.column !== column)
    const several = adding && (this.definition?.severalKeys ?? true)
    if (direction === null) this.apply({ order: others }, 'reader')
    else if (!several) this.apply({ order: [{ column, direction }] }, 'reader')
    else if (others.length === order.length)
      this.apply({ order: [...order, { column, direction }] }, 'reader')
    else
      this.apply({ order: order.map(key => (key.column === column ? { column, direction } : key)) }, 'reader')
  }

  /** The condition on a column; null: none. */
  conditionOf(column: string): Condition | null {
    const { conditions } = this.arrangement
    return Object.hasOwn(conditions, column) ? conditions[column] : null
  }

  /** Sets a column's one condition; null lifts it. */
  setCondition(column: string, condition: Condition | null): void {
    const { [column]: now, ...others } = this.arrangement.conditions
    if (condition === null && now === undefined) return
    if (JSON.stringify(now) === JSON.stringify(condition)) return
    this.apply({ conditions: condition ? { ...others, [column]: condition } : others }, 'reader')
  }

  fieldOf(key: string): Field | undefined {
    return this.description?.fields.find(field => field.key === key)
  }

  /** What a short phrase about the column may refer to; null where the data has no such column. */
  phraseOf(key: string): PhraseOf | null {
    const field = this.fieldOf(key)
    if (!field) return null
    const format = this.binding.formats[key] ?? {}
    const { yes, no } = format
    return { field, title: this.titleOf(key), yes, no, format }
  }

  /** The kinds of condition that a column offers, and the one that an editor starts with. */
  kindsOf(key: string): { readonly kinds: readonly ConditionKindName[]; readonly start: ConditionKindName } {
    const type = this.fieldOf(key)?.type ?? 'text'
    const { kinds: offered, startKind } = this.columnOf(key) ?? {}
    const can = this.description?.can.conditions
    const able = kindsFor(type).filter(kind => !can || isAble(can, kind))
    const kinds = offered ? able.filter(kind => offered.includes(kind)) : able
    const usual = usualKind(type)
    const start =
      startKind && kinds.includes(startKind) ? startKind : kinds.includes(usual) ? usual : (kinds[0] ?? usual)
    return { kinds, start }
  }

  /** The same about what groups are measured by; null where the data has no such column. */
  measurePhraseOf(measure: GroupMeasure): PhraseOf | null {
    if (measure === 'size') return { field: { key: '', type: 'integer' } }
    const of = this.phraseOf(measure.column)
    return of && { ...of, field: summaryField(measure.summary, of.field) }
  }

  showColumn(key: string, shown: boolean): void {
    const others = this.arrangement.hidden.filter(hidden => hidden !== key)
    this.apply({ hidden: shown ? others : [...others, key] }, 'reader')
  }

  /** Whether readers may put the column elsewhere. */
  canMove(key: string): boolean {
    return (this.definition?.movable ?? false) && (this.columnOf(key)?.movable ?? false)
  }

  /** The heading whose columns stay together that a move would part; null: none. */
  headingParted(keys: readonly string[], place: ColumnPlace): string | null {
    const { definition } = this
    const parted = definition && headingParted(definition, this.arrangement, keys, place)
    return parted === null ? null : (definition?.headings.find(({ key }) => key === parted)?.title ?? null)
  }

  /** Puts columns elsewhere, side by side. */
  moveColumns(keys: readonly string[], place: ColumnPlace): void {
    this.apply(columnsMoved(this.arrangement, keys, place), 'reader')
  }

  /** Opens a group that is closed, or closes one that is open. */
  toggleGroup(path: GroupPath): void {
    const { levels, except } = this.arrangement.open
    const name = JSON.stringify(path)
    const others = except.filter(other => JSON.stringify(other) !== name)
    const toggled = others.length < except.length ? others : [...except, [...path]]
    this.apply({ open: { levels, except: toggled } }, 'reader')
  }

  /** Opens so many levels, whatever was open; null: all. */
  openLevels(levels: number | null): void {
    this.apply({ open: { levels, except: [] } }, 'reader')
  }

  /** Opens or closes groups of one level that stand together. */
  openGroups(paths: readonly GroupPath[], open: boolean): void {
    const { levels, except } = this.arrangement.open
    const names = new Set(paths.map(path => JSON.stringify(path)))
    const others = except.filter(path => !names.has(JSON.stringify(path)))
    const exceptions = paths.filter(path => (levels === null || path.length <= levels) !== open)
    this.apply({ open: { levels, except: [...others, ...exceptions.map(path => [...path])] } }, 'reader')
  }

  /** Whether readers may group by the column. */
  canGroup(column: string): boolean {
    const { definition, description } = this
    return (
      (definition?.groupable ?? false) &&
      (this.columnOf(column)?.groupable ?? false) &&
      isAble(description?.can.groups)
    )
  }

  /** Whether groups can be kept by what they come to. */
  get canKeepGroups(): boolean {
    return this.canKeep({ where: [] })
  }

  canKeep(keep: Keep): boolean {
    const { can } = this.description ?? {}
    return !can || canKeep(keep, can)
  }

  /** Whether readers may group by any column. */
  get groupable(): boolean {
    return this.definition?.columns.some(({ key }) => this.canGroup(key)) ?? false
  }

  /** The ways in which a column may be cut into groups. */
  bucketKindsOf(column: string): BucketKind[] {
    const can = this.description?.can.groups
    return bucketsFor(this.fieldOf(column)?.type ?? 'text').filter(kind => !can || isAble(can, kind))
  }

  /** The bucket that a column is grouped by at first: the definition's, else one that makes some groups and no flood. */
  async bucketFor(column: string): Promise<Bucket> {
    const given = this.columnOf(column)?.bucket
    const field = this.fieldOf(column)
    if (given || !field || !this.canTell('profile')) return given ?? { by: 'value' }
    const told = await this.ask('profile', { column, limit: 0, binding: this.binding }).catch(() => undefined)
    const usual = told && usualBucket(field, told)
    return usual && this.bucketKindsOf(column).includes(usual.by) ? usual : { by: 'value' }
  }

  /** The summaries that a column offers. */
  summariesOf(column: string): readonly Summary[] {
    const field = this.fieldOf(column)
    const can = this.description?.can.summaries
    if (!field || !can) return []
    const offered = this.columnOf(column)?.summaries ?? summariesFor(field.type)
    return offered.filter(summary => summaryFits(summary, field.type) && isAble(can, kindOf(summary)))
  }

  /** Sets what a column comes to in groups and in all; null: nothing. */
  setSummary(column: string, summary: Summary | null): void {
    const { [column]: _, ...others } = this.arrangement.summaries
    this.apply({ summaries: summary === null ? others : { ...others, [column]: summary } }, 'reader')
  }

  /** How a column's summary is written. */
  showSummaryOf(column: string, summary: Summary): Show {
    const field = this.fieldOf(column)
    return field ? summaryShower(summary, field, this.binding.formats[column]) : String
  }

  widthOf(key: string): number {
    const { widths } = this.arrangement
    return Object.hasOwn(widths, key) ? widths[key] : (this.columnOf(key)?.width ?? 0)
  }

  setWidth(key: string, width: number): void {
    this.setWidths({ [key]: width })
  }

  /** Sets the widths of columns, as far as they may have them, as one act. */
  setWidths(wanted: Readonly<Record<string, number>>): void {
    const within = Object.entries(wanted).map(([key, width]): [string, number] => [
      key,
      this.widthWithin(key, width),
    ])
    this.apply({ widths: { ...this.arrangement.widths, ...Object.fromEntries(within) } }, 'reader')
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

  columnOf(key: string): Definition['columns'][number] | undefined {
    return this.definition?.columns.find(column => column.key === key)
  }
}
