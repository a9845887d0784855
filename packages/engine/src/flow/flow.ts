import type { Format } from '../table/format.ts'
import { asColumn, columnIndexesOf, type ColumnIndex, type Table } from '../table/column.ts'
import { privateMemory, settle, type Allocate } from '../table/allocate.ts'
import { bitsOfPacked } from '../table/packed-rows.ts'
import { andInto, andNotInto, countBits, fullBits, listBits, type Bits } from '../table/bits.ts'
import { shower, type Show } from '../table/shown-text.ts'
import { searchWords } from '../search/fold.ts'
import type { BoundFormula } from '../expression/expressions.ts'
import type { Condition } from '../condition/condition.ts'
import type { Clock } from '../condition/clock.ts'
import { ColumnCodes } from '../order/column-codes.ts'
import { rowComparer } from '../order/merge-rows.ts'
import { orderRows, type OrderBy } from '../order/order-rows.ts'
import { sortTextsSplit, type SortTask } from '../order/split-sort.ts'
import { changedRows, type TableEdit } from '../edit/table-edit.ts'
import { pickRows } from '../edit/gather-rows.ts'
import { countLines } from '../layout/nested-lines.ts'
import { GroupBase } from '../group/group-base.ts'
import { GroupSummaries } from '../group/group-summaries.ts'
import { combineLevels, treeOf } from '../group/group-tree.ts'
import type { OwnSummaries } from '../summary/own-summary.ts'
import type { Helper } from '../work/helper.ts'
import { SLICE, type Work } from '../work/work.ts'
import type { PredicatesTask } from './helper-predicates.ts'
import { StageCache, signatureOf, type ConditionResult, type Found, type Passing } from './stage-cache.ts'
import { NO_TOOLS, type ConditionTools, type Predicates } from './predicates.ts'
import { predicatesOf } from './split-predicates.ts'
import { timedWork } from './timed-work.ts'
import type { FlowReport, FlowRequest, Formats, OpenGroups, StageName, StageReport } from './request.ts'
import { formatOf, type GroupContext, type OrderedRows } from './group-context.ts'
import { GroupStage, type GroupedRows } from './group-stage.ts'
import { GroupReader, openBits, type GroupedLevel } from './group-reader.ts'
import { lineCountOf, type FlowView, type GroupedViewLevel } from './view.ts'
import { sure } from '../work/checked.ts'

/** Sorting the whole table once serves every later condition; below this share of rows it is not worth it. */
const SORT_WHOLE_FROM = 1 / 8

/** What helpers of a flow are handed. */
export type HelperTask = PredicatesTask | SortTask

export interface FlowTools extends ConditionTools {
  /** Summaries of the host's own. */
  readonly summaries?: OwnSummaries
  /** Threads that do a part of the work; default: none. */
  readonly helpers?: readonly Helper<HelperTask>[]
}

/** What a stage came to, and the signature of all that it came from. */
interface Staged<T> {
  readonly value: T
  readonly signature: string
  readonly fresh: boolean
}

/**
 * The stages that rows pass, over one table. Each stage is a function of what the stage before it came to and of its
 * part of the request; a request carries its own results from stage to stage, and what is kept is kept by signature.
 * Requests may therefore be worked on in turns. What changes the flow itself (`bind`, `update`, `withColumns`) must
 * not run while any is being answered.
 */
export class Flow {
  table: Table
  readonly columnIndexes: ReadonlyMap<string, ColumnIndex>
  /** Rows of the table that are no longer there. */
  private absent: Bits | null = null
  codes: ColumnCodes
  private readonly tools: FlowTools
  private shownBy: readonly Show[]
  private formats: Formats = {}
  private predicates: Predicates
  /** The language in which texts are ordered; undefined: the page's own. */
  locale: string | undefined
  private readonly cache = new StageCache()
  /** What groups are summed up by besides columns. */
  readonly parts: { readonly own: OwnSummaries; formulas: readonly BoundFormula[] }
  private readonly groups = new GroupStage()
  /** Arrays as they were copied to the view's memory. */
  private readonly settledArrays = new WeakMap<Uint32Array, Uint32Array>()
  /** By an order of groups: their keys in it. */
  private readonly orderedKeys = new WeakMap<Uint32Array, Uint32Array>()

  /** `absent`: rows of the table that are not there. `predicates`: those of the table, where they are there already. */
  constructor(
    table: Table,
    absent: Bits | null = null,
    tools: FlowTools = NO_TOOLS,
    predicates: Predicates = predicatesOf(table, tools, tools.helpers ?? []),
  ) {
    this.table = table
    this.absent = absent
    this.tools = tools
    this.parts = { own: tools.summaries ?? {}, formulas: [] }
    this.columnIndexes = columnIndexesOf(table.fields)
    this.codes = this.newCodes()
    this.shownBy = table.fields.map(field => shower(field))
    this.predicates = predicates
  }

  get shows(): readonly Show[] {
    return this.shownBy
  }

  /** How a column of the table writes its values. */
  formatOf(column: string): Format {
    return formatOf(this.formats, column)
  }

  /** Rows of the table that are no longer there; null: all are. */
  get gone(): Bits | null {
    return this.absent
  }

  /** Rows that are there. */
  get total(): number {
    return this.table.rows - (this.absent ? countBits(this.absent) : 0)
  }

  /** The place of a field's column; only for fields that are there. */
  columnIndex(key: string): ColumnIndex {
    const place = this.columnIndexes.get(key)
    if (place === undefined) throw new Error(`There is no field "${key}".`)
    return place
  }

  /**
   * Goes over to a changed table of the same fields. What was found, met and ordered is brought up to date by looking
   * at the changed rows alone, unless they are many. Must not run while a request is being answered.
   */
  *update(edit: TableEdit): Work<void> {
    const { table, absent } = edit
    // A column that is written otherwise now, with more decimals, shows other text in every row.
    const rewritten = [...table.fields.keys()]
      .filter(place => table.fields[place] !== this.table.fields[place])
      .map(asColumn)
    this.cache.forgetColumns(rewritten, key => this.columnIndex(key))
    this.table = table
    this.absent = absent
    if (rewritten.length > 0) this.groups.clear()
    this.groups.follow(edit)
    this.shownBy = table.fields.map(field => shower(field, this.formats[field.key]))
    this.codes.follow(table, place => changedRows(edit, [place]), rewritten)
    yield* this.predicates.follow(edit)
    yield* this.cache.follow(edit, {
      rowsMeeting: (rows, { key, condition, clock }) =>
        this.probe(rows, flow => flow.rowsMeeting(key, condition, clock)),
      rowsFound: (rows, { search, columns }) => this.probe(rows, flow => flow.rowsFound(search, columns)),
      collation: natural => this.codes.collation(natural),
      shows: this.shownBy,
      columnIndex: key => this.columnIndex(key),
    })
  }

  /** A flow over the same rows with other columns; what is known of columns that stay is known there too. */
  withColumns(table: Table): Flow {
    const same = (place: ColumnIndex): boolean => this.table.columns[place] === table.columns[place]
    const predicates = this.predicates.withColumns(
      table,
      table.columns.map((_, place) => asColumn(place)).filter(same),
    )
    const next = new Flow(table, this.absent, this.tools, predicates)
    next.locale = this.locale
    next.codes = next.newCodes()
    next.formats = this.formats
    next.shownBy = table.fields.map(field => shower(field, this.formats[field.key]))
    next.codes.adopt(this.codes)
    next.cache.adopt(this.cache, same, key => this.columnIndex(key))
    return next
  }

  /** Asks the same of some rows alone. */
  private *probe(rows: Uint32Array, ask: (flow: Flow) => Work<Bits | null>): Work<Bits | null> {
    return rows.length === 0 ? null : yield* ask(this.flowOf(rows))
  }

  /** The same flow over some of its rows alone. */
  flowOf(rows: Uint32Array): Flow {
    // Helpers hold one table at a time: this flow's.
    const flow = new Flow(pickRows(this.table, rows), null, { ...this.tools, helpers: [] })
    flow.bind(this.formats, this.locale)
    return flow
  }

  /** The rows that a search finds; null: it asks for nothing. */
  private *rowsFound(search: string, columns: readonly ColumnIndex[]): Work<Bits | null> {
    const words = searchWords(search)
    return words.length === 0 ? null : yield* this.predicates.rowsWith(words, columns)
  }

  /** Sets how columns write their values, and the language in which texts are ordered. */
  bind(formats: Formats, locale?: string): void {
    if (locale !== this.locale) {
      this.locale = locale
      this.codes = this.newCodes()
      this.cache.forgetOrders()
      this.groups.clear()
    }
    if (JSON.stringify(formats) === JSON.stringify(this.formats)) return
    this.formats = formats
    this.shownBy = this.table.fields.map(field => shower(field, formats[field.key]))
    this.predicates.bind(formats)
    this.codes.forgetShown()
    this.cache.forgetShown()
    this.groups.clear()
  }

  private newCodes(): ColumnCodes {
    const { helpers = [] } = this.tools
    return new ColumnCodes(
      this.table,
      this.locale,
      place => this.shownBy[place],
      (texts, collator) => sortTextsSplit(texts, collator, helpers),
    )
  }

  /** Computes what the request asks for. `allocate` says in which memory the view's arrays shall lie. */
  *arrange(
    asked: FlowRequest,
    allocate: Allocate = privateMemory,
  ): Work<{ view: FlowView; report: FlowReport }> {
    // “Now” is the same throughout.
    const request = { ...asked, clock: clockOf(asked) }
    const { fields } = this.table
    const { total } = this
    const stages: StageReport[] = [
      { stage: 'source', rowsIn: total, rowsOut: total, ms: 0, fresh: false },
      { stage: 'columns', rowsIn: fields.length, rowsOut: request.searchColumns.length, ms: 0, fresh: false },
    ]
    const timed = stageTimer(stages)

    const found = yield* timed('search', total, this.findRows(request), kept =>
      kept ? countBits(kept) : total,
    )
    const results: ConditionResult[] = []
    const foundCount = sure(stages.at(-1)).rowsOut
    const meeting = this.meetConditions(request, found, results)
    const passing = yield* timed('conditions', foundCount, meeting, p => p.count)
    const { count } = passing.value
    const ordered = yield* timed('order', count, this.order(request, passing), () => count)
    const grouped = yield* timed('groups', count, this.group(request, passing, ordered), g =>
      g ? sure(g.starts.at(-1)).length - 1 : count,
    )
    const laid = this.layLines(request, ordered, count, grouped, allocate)
    const kept = grouped.value?.rows?.length ?? count
    const { value: view } = yield* timed('rows', kept, laid, lineCountOf)
    return {
      view,
      report: {
        stages,
        passing: kept,
        total,
        groups: grouped.value?.starts.map(starts => starts.length - 1) ?? [],
        groupsHeldBack: grouped.value?.heldBack ?? [],
        ...(yield* this.countHeldBack(request, count)),
        ...conditionsTold(results),
      },
    }
  }

  /** The rows that meet the search and every condition but the column's own; null: all rows. */
  *passingWithout(request: FlowRequest, column: string): Work<Bits | null> {
    const found = (yield* this.findRows(request)).value
    const conditions = this.conditionsOf(request).filter(([key]) => key !== column)
    const clock = clockOf(request)
    const among = this.amongOf(request)
    let bits: Bits | null = found ? found.slice() : null
    if (among && bits) andInto(bits, among)
    else if (among) bits = among
    for (const [key, condition] of conditions) {
      const met = yield* this.rowsMeeting(key, condition, clock)
      if (bits) andInto(bits, met)
      else bits = met.slice()
    }
    return bits
  }

  /** The rows that are there and meet every condition, whatever is searched; null: all rows. */
  *passingWithoutSearch(request: FlowRequest): Work<Bits | null> {
    let bits = this.presentOf(this.amongOf(request))
    const clock = clockOf(request)
    for (const [key, condition] of this.conditionsOf(request)) {
      const met = yield* this.rowsMeeting(key, condition, clock)
      if (!bits) bits = met.slice()
      else andInto(bits, met)
    }
    return bits
  }

  /** The rows in which a word of a search stands, also those that are no longer there. */
  *rowsWithWord(word: string, request: FlowRequest): Work<Bits> {
    const columns = request.searchColumns.flatMap(key => this.columnIndexes.get(key) ?? [])
    return yield* this.predicates.rowsWith([word], columns)
  }

  /** The rows that meet one condition, whatever else is asked. */
  *meetAlone(column: string, condition: Condition, clock: Clock = presentClock()): Work<ConditionResult> {
    return (yield* this.result(column, condition, clock)).value
  }

  /** The rows that are there, of those that alone are asked for; null: all rows. */
  present(request: FlowRequest): Bits | null {
    return this.presentOf(this.amongOf(request))
  }

  /** Builds the search indexes of the named columns ahead of the first search. */
  *prepareSearch(columns: readonly string[]): Work<void> {
    yield* this.predicates.prepare(columns.flatMap(key => this.columnIndexes.get(key) ?? []))
  }

  /** The request's conditions on columns that the table has, in an order of their own. */
  private conditionsOf(request: FlowRequest): [string, Condition][] {
    const known = Object.entries(request.conditions).filter(([key]) => this.columnIndexes.has(key))
    return known.sort(([a], [b]) => (a < b ? -1 : 1))
  }

  private *findRows(request: FlowRequest): Work<Staged<Bits | null>> {
    const columns = request.searchColumns.flatMap(key => this.columnIndexes.get(key) ?? [])
    const search = request.search.trim()
    const signature = JSON.stringify(search ? [search, columns] : [])
    const { value, fresh } = yield* this.cache.found.of(signature, () => this.find(search, columns))
    return { value: this.presentOf(value.rows), fresh, signature }
  }

  private *find(search: string, columns: readonly ColumnIndex[]): Work<Found> {
    return { search, columns, rows: yield* this.rowsFound(search, columns) }
  }

  /** Without the rows that are no longer there; null: all rows. */
  private presentOf(found: Bits | null): Bits | null {
    if (!this.absent) return found
    const present = found ? found.slice() : fullBits(this.table.rows)
    andNotInto(present, this.absent)
    return present
  }

  private *rowsMeeting(key: string, condition: Condition, clock: Clock): Work<Bits> {
    return (yield* this.result(key, condition, clock)).value.rows
  }

  private *result(key: string, condition: Condition, clock: Clock): Work<Staged<ConditionResult>> {
    const field = this.table.fields[this.columnIndex(key)]
    const signature = signatureOf(condition, field, clock, this.tools.pattern !== null)
    const { value, fresh } = yield* this.cache.conditions.of(signature, () =>
      this.meet(key, condition, clock),
    )
    return { value, fresh, signature }
  }

  private *meet(key: string, condition: Condition, clock: Clock): Work<ConditionResult> {
    const asked = this.predicates.rowsMeeting(this.columnIndex(key), condition, clock)
    const { value, ms } = yield* timedWork(asked)
    return { key, condition, clock, ...value, ms }
  }

  /** `results`: takes what came of each condition. */
  private *meetConditions(
    request: FlowRequest & { readonly clock: Clock },
    found: Staged<Bits | null>,
    results: ConditionResult[],
  ): Work<Staged<Passing>> {
    const signatures: string[] = []
    const conditions = this.conditionsOf(request)
    this.cache.makeRoom(conditions.length)
    for (const [key, condition] of conditions) {
      const { value, signature } = yield* this.result(key, condition, request.clock)
      results.push(value)
      signatures.push(signature)
    }
    const among = this.amongOf(request)
    const signature = JSON.stringify([found.signature, signatures, ...(among ? [request.among?.name] : [])])
    const sets = results.map(({ rows }) => rows)
    const { value, fresh } = yield* this.cache.passing.of(signature, () =>
      this.meetAll(found.value, among ? [...sets, among] : sets),
    )
    return { value, fresh, signature }
  }

  /** The rows that alone are asked for; null: any. */
  private amongOf({ among }: FlowRequest): Bits | null {
    return among ? bitsOfPacked(this.table, among.rows) : null
  }

  private *meetAll(found: Bits | null, sets: readonly Bits[]): Work<Passing> {
    if (sets.length === 0) return { bits: found, count: found ? countBits(found) : this.total }
    const bits = found ? found.slice() : fullBits(this.table.rows)
    for (const met of sets) andInto(bits, met)
    return { bits, count: countBits(bits) }
  }

  private *order(
    request: FlowRequest,
    passing: Staged<Passing>,
  ): Work<Staged<Uint32Array | null> & { readonly keys: readonly OrderBy[] }> {
    const keys = request.order.flatMap((key): OrderBy[] => {
      const column = this.columnIndexes.get(key.column)
      if (column === undefined) return []
      const descending = key.direction === 'descending'
      const shown = key.by === 'shown'
      return [{ column, descending, shown, natural: key.natural, missingFirst: key.missing === 'first' }]
    })
    const sortSignature = JSON.stringify(keys)
    const signature = sortSignature + passing.signature
    const { value, fresh } = yield* this.cache.ordered.of(signature, () =>
      this.orderPassing(keys, sortSignature, passing.value),
    )
    return { value: value.rows, fresh, signature, keys }
  }

  private *orderPassing(
    keys: readonly OrderBy[],
    signature: string,
    { bits, count }: Passing,
  ): Work<{ readonly rows: Uint32Array | null }> {
    if (keys.length === 0) return { rows: bits ? listBits(bits, count) : null }
    const whole = this.cache.sorted.get(signature)
    if (!whole && bits && count < this.table.rows * SORT_WHOLE_FROM)
      return { rows: yield* orderRows(this.table, this.codes, keys, listBits(bits, count)) }
    const rows = whole?.rows ?? (yield* orderRows(this.table, this.codes, keys, null))
    if (!whole) this.cache.sorted.set(signature, { keys, rows })
    return { rows: bits ? yield* keepSet(rows, bits, count) : rows }
  }

  private *group(
    request: FlowRequest,
    passing: Staged<Passing>,
    ordered: Staged<Uint32Array | null> & OrderedRows,
  ): Work<Staged<GroupedRows | null>> {
    if (!request.groups.some(({ column }) => this.columnIndexes.has(column)))
      return { value: null, fresh: false, signature: '' }
    return yield* this.groups.group(this.groupContext(), request, passing, ordered)
  }

  /** What a request's columns come to in its groups; without groups, in all rows. Stages that hold are not worked out again. */
  *groupedRows(asked: FlowRequest): Work<GroupedRows> {
    const request = { ...asked, clock: clockOf(asked) }
    const passing = yield* this.meetConditions(request, yield* this.findRows(request), [])
    const ordered = yield* this.order(request, passing)
    return (yield* this.groups.group(this.groupContext(), request, passing, ordered)).value
  }

  /** What columns come to in any rows, which are in no groups. */
  *summariesAmong(rows: Bits): Work<GroupSummaries> {
    const levels = yield* combineLevels([], this.table.rows)
    const base = new GroupBase(this.table, this.codes, levels, rows, this.parts)
    return new GroupSummaries(yield* treeOf(levels, yield* base.counts()), base)
  }

  private groupContext(): GroupContext {
    const { table, codes, formats, shownBy: shows, tools, parts } = this
    return {
      table,
      codes,
      formats,
      shows,
      tools,
      parts,
      placeOf: key => this.columnIndexes.get(key),
      compareRows: keys => rowComparer(table, keys, natural => codes.collation(natural), shows),
    }
  }

  private *layLines(
    request: FlowRequest,
    ordered: Staged<Uint32Array | null>,
    count: number,
    { value: grouped, signature: groupSignature }: Staged<GroupedRows | null>,
    allocate: Allocate,
  ): Work<Staged<FlowView>> {
    const feet = request.groups.map(level => level.feet)
    const open = grouped ? JSON.stringify([request.open, feet]) : ''
    const signature = `${ordered.signature}|${groupSignature}|${open}`
    const source = grouped ? grouped.rows : ordered.value
    const { value, fresh } = yield* this.cache.lines.of(signature, () =>
      this.lay(source, source?.length ?? count, grouped, request.open, allocate),
    )
    return { value, fresh, signature }
  }

  private *lay(
    source: Uint32Array | null,
    rowCount: number,
    grouped: GroupedRows | null,
    open: OpenGroups,
    allocate: Allocate,
  ): Work<FlowView> {
    yield
    return {
      rows: source && this.settled(source, allocate),
      rowCount,
      groups: grouped && this.layGroups(grouped, open, allocate),
    }
  }

  /** Opening a group leaves rows and groups where they are; they are copied to their memory once. */
  private settled(source: Uint32Array, allocate: Allocate): Uint32Array {
    const known = this.settledArrays.get(source)
    if (known) return known
    const array = settle(source, allocate)
    this.settledArrays.set(source, array)
    return array
  }

  /** Reads what names the groups. */
  groupReader(grouped: GroupedRows, allocate: Allocate = privateMemory): GroupReader {
    const levels = this.groupedLevels(grouped, allocate)
    return new GroupReader(levels, this.table, grouped.rows, this.shownBy, this.formats)
  }

  private groupedLevels(
    { levels, summaries, order, starts }: GroupedRows,
    allocate: Allocate,
  ): GroupedLevel[] {
    return levels.map(({ level, named, place, bucket, buckets }, nth): GroupedLevel => {
      const { keyOf } = summaries.tree.levels[nth]
      const { nodes, children } = order[nth]
      return {
        column: named,
        from: place,
        bucket,
        keys: buckets.keys,
        missing: buckets.size,
        keyOf: this.settled(this.keysInOrder(keyOf, nodes), allocate),
        starts: this.settled(starts[nth], allocate),
        children: children && this.settled(children, allocate),
        feet: level.feet,
      }
    })
  }

  private layGroups(
    grouped: GroupedRows,
    open: OpenGroups,
    allocate: Allocate,
  ): NonNullable<FlowView['groups']> {
    const reader = this.groupReader(grouped, allocate)
    const bits = openBits(reader, open)
    const opened = reader.levels.map((level, nth) => ({ ...level, open: bits[nth] }))
    const { heads, lineCount } = countLines(opened)
    return {
      levels: opened.map((level, nth): GroupedViewLevel => ({
        ...level,
        open: settle(level.open, allocate),
        heads: settle(heads[nth], allocate),
      })),
      lineCount,
    }
  }

  private keysInOrder(keyOf: Uint32Array, nodes: Uint32Array | null): Uint32Array {
    if (!nodes) return keyOf
    const known = this.orderedKeys.get(nodes)
    if (known) return known
    const keys = nodes.map(node => keyOf[node])
    this.orderedKeys.set(nodes, keys)
    return keys
  }

  private *countHeldBack(
    request: FlowRequest,
    passing: number,
  ): Work<Pick<FlowReport, 'heldBack' | 'searchHeldBack'>> {
    const held: Record<string, number> = {}
    for (const [key] of this.conditionsOf(request)) {
      const others = yield* this.passingWithout(request, key)
      held[key] = (others ? countBits(others) : this.total) - passing
    }
    if (request.search.trim() === '') return { heldBack: held, searchHeldBack: 0 }
    const others = yield* this.passingWithoutSearch(request)
    return { heldBack: held, searchHeldBack: (others ? countBits(others) : this.total) - passing }
  }
}

/** Of each condition of a request: what asking took, and what could not be asked. */
function conditionsTold(
  results: readonly ConditionResult[],
): Pick<FlowReport, 'conditionMs' | 'conditionProblems'> {
  const told = results.filter(({ problems }) => problems.length > 0)
  return {
    conditionMs: Object.fromEntries(results.map(({ key, ms }) => [key, ms])),
    conditionProblems: Object.fromEntries(told.map(({ key, problems }) => [key, problems])),
  }
}

const presentClock = (): Clock => ({ now: Date.now() })
const clockOf = ({ clock }: FlowRequest): Clock => clock ?? presentClock()

/** Runs a stage, notes its time without the pauses between its slices, and what came out. */
function stageTimer(stages: StageReport[]) {
  return function* <S extends Staged<unknown>>(
    stage: StageName,
    rowsIn: number,
    work: Work<S>,
    countOut: (value: S['value']) => number,
  ): Work<S> {
    const { value: done, ms } = yield* timedWork(work)
    const { value, fresh } = done
    stages.push({ stage, rowsIn, rowsOut: countOut(value), ms: fresh ? ms : 0, fresh })
    return done
  }
}

/** The rows of `rows` that are in the set, in their order; `count` is how many there are. */
function* keepSet(rows: Uint32Array, bits: Bits, count: number): Work<Uint32Array> {
  const out = new Uint32Array(count)
  let at = 0
  for (let from = 0; from < rows.length; from += SLICE) {
    at = keepSome(rows, bits, out, at, from, Math.min(rows.length, from + SLICE))
    yield
  }
  return out
}

function keepSome(
  rows: Uint32Array,
  bits: Bits,
  out: Uint32Array,
  at: number,
  from: number,
  to: number,
): number {
  for (let i = from; i < to; i++) {
    const row = rows[i]
    // Written in any case and perhaps over: no branch is guessed wrong. What is past the end is written nowhere.
    out[at] = row
    at += (bits[row >>> 5] >>> (row & 31)) & 1
  }
  return at
}
