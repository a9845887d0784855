import { privateMemory, settle, type Allocate } from '../table/allocate.ts'
import {
  andInto,
  andNotInto,
  countBits,
  emptyBits,
  fullBits,
  hasBit,
  lengthened,
  listBits,
  setBit,
  type Bits,
} from '../table/bits.ts'
import type { Table, Value } from '../table/column.ts'
import { valueAt } from '../table/column.ts'
import { shower, type Show } from '../table/shown-text.ts'
import { searchWords } from '../search/fold.ts'
import type { Condition } from '../condition/condition.ts'
import type { Clock } from '../condition/clock.ts'
import { ColumnCodes } from '../order/column-codes.ts'
import { mergeRows, rowComparer } from '../order/merge-rows.ts'
import { orderRows, type OrderBy } from '../order/order-rows.ts'
import { sortTextsSplit, type SortTask } from '../order/split-sort.ts'
import type { TableEdit } from '../edit/editable-table.ts'
import { pickRows } from '../edit/gather-rows.ts'
import { groupRows, type Grouping } from '../group/group-rows.ts'
import { headLines } from '../layout/group-lines.ts'
import type { Helper } from '../work/helper.ts'
import { SLICE, type Work } from '../work/work.ts'
import { ConditionResults, type ConditionResult } from './condition-results.ts'
import type { PredicatesTask } from './helped-predicates.ts'
import { NO_TOOLS, type ConditionTools, type Predicates } from './predicates.ts'
import { predicatesOf } from './split-predicates.ts'
import { timedWork } from './timed-work.ts'
import type { FlowReport, FlowRequest, Formats, OpenGroups, StageName, StageReport } from './request.ts'
import type { FlowView } from './view.ts'

/** Sorting the whole table once serves every later condition; below this share of rows it is not worth it. */
const SORT_WHOLE_FROM = 1 / 8

/** What helpers of a flow are handed. */
export type HelperTask = PredicatesTask | SortTask

export interface FlowTools extends ConditionTools {
  /** Threads that do a part of the work; default: none. */
  readonly helpers?: readonly Helper<HelperTask>[]
}

interface Passing {
  /** null: every row. */
  readonly bits: Bits | null
  readonly count: number
}

interface Kept<T> {
  readonly signature: string
  readonly value: T
}

/**
 * The stages that rows pass, over one table. Each stage keeps its last result and the signature of what it came
 * from; a request computes again only from the first stage whose signature changed.
 */
export class Flow {
  table: Table
  readonly places: ReadonlyMap<string, number>
  /** Rows of the table that are no longer there. */
  private absent: Bits | null = null
  codes: ColumnCodes
  private readonly tools: FlowTools
  private shownBy: readonly Show[]
  private formats: Formats = {}
  /** How often formats changed; what was searched as shown text before does not hold after. */
  private formatsBound = 0
  private predicates: Predicates
  private found: Kept<Bits | null> | null = null
  private readonly met = new ConditionResults()
  private passing: Kept<Passing> | null = null
  private sorted: (Kept<Uint32Array> & { readonly keys: readonly OrderBy[] }) | null = null
  private locale: string | undefined
  private ordered: Kept<Uint32Array | null> | null = null
  private grouping: Kept<Grouping> | null = null
  private lines: Kept<FlowView> | null = null
  private settled: { readonly source: Uint32Array; readonly rows: Uint32Array } | null = null

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
    this.places = new Map(table.fields.map((field, place) => [field.key, place]))
    this.codes = this.newCodes()
    this.shownBy = table.fields.map(field => shower(field))
    this.predicates = predicates
  }

  get shows(): readonly Show[] {
    return this.shownBy
  }

  /** Rows of the table that are no longer there; null: all are. */
  get gone(): Bits | null {
    return this.absent
  }

  /** Rows that are there. */
  get total(): number {
    return this.table.rows - (this.absent ? countBits(this.absent) : 0)
  }

  /**
   * Goes over to a changed table of the same fields. What was found, met and ordered is brought up to date by looking
   * at the changed rows alone, unless they are many. Must not run while a request is being answered.
   */
  *update(edit: TableEdit): Work<void> {
    const { table, absent, touched, appendedFrom } = edit
    // A column that is written otherwise now, with more decimals, shows other text in every row.
    const rewritten = table.fields.filter((field, place) => field !== this.table.fields[place])
    for (const { key } of rewritten) this.met.forget(key)
    if (rewritten.length > 0) this.found = null
    this.table = table
    this.absent = absent
    this.shownBy = table.fields.map(field => shower(field, this.formats[field.key]))
    this.codes.follow(table, touched, appendedFrom)
    this.passing = this.ordered = this.grouping = this.lines = null
    const changed = (places: Iterable<number>): Uint32Array =>
      changedRows(touched, places, appendedFrom, table.rows)
    if (changed(touched.keys()).length * 4 > table.rows) {
      this.met.clear()
      this.found = this.sorted = null
    }
    yield* this.predicates.follow(edit)
    for (const [key, kept] of this.met.entries()) {
      const rows = changed([this.places.get(key)!])
      const part = yield* this.probe(rows, flow => flow.rowsMeeting(key, kept.condition, kept.clock))
      this.met.set(key, { ...kept, rows: patched(kept.rows, part, rows, table.rows) })
    }
    if (this.found?.value) {
      const [search, columns] = JSON.parse(this.found.signature) as [string, number[]]
      const rows = changed(columns)
      const part = yield* this.probe(rows, flow => flow.rowsFound(search, columns))
      this.found = { ...this.found, value: patched(this.found.value, part, rows, table.rows) }
    }
    if (this.sorted) {
      const { keys, value, signature } = this.sorted
      const compare = rowComparer(table, keys, natural => this.codes.collation(natural), this.shownBy)
      const rows = changed(keys.map(key => key.column))
      const merged = rows.length > 0 ? yield* mergeRows(value, rows, table.rows, compare) : value
      this.sorted = { keys, signature, value: merged }
    }
  }

  /** A flow over the same rows with other columns; what is known of columns that stay is known there too. */
  withColumns(table: Table): Flow {
    const same = (place: number): boolean => this.table.columns[place] === table.columns[place]
    const predicates = this.predicates.withColumns(table, [...table.columns.keys()].filter(same))
    const next = new Flow(table, this.absent, this.tools, predicates)
    next.locale = this.locale
    next.codes = next.newCodes()
    next.formats = this.formats
    next.shownBy = table.fields.map(field => shower(field, this.formats[field.key]))
    next.formatsBound = this.formatsBound
    next.codes.adopt(this.codes)
    for (const [key, kept] of this.met.entries()) if (same(this.places.get(key)!)) next.met.set(key, kept)
    const [, searched = []] = JSON.parse(this.found?.signature ?? '[]') as [string?, number[]?]
    if (searched.every(same)) next.found = this.found
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
  private *rowsFound(search: string, columns: readonly number[]): Work<Bits | null> {
    const words = searchWords(search)
    return words.length === 0 ? null : yield* this.predicates.rowsWith(words, columns)
  }

  /** Sets how columns write their values, and the language in which texts are ordered. */
  bind(formats: Formats, locale?: string): void {
    if (locale !== this.locale) {
      this.locale = locale
      this.codes = this.newCodes()
      this.sorted = this.ordered = this.grouping = this.lines = null
    }
    if (JSON.stringify(formats) === JSON.stringify(this.formats)) return
    this.formats = formats
    this.shownBy = this.table.fields.map(field => shower(field, formats[field.key]))
    this.predicates.bind(formats)
    this.codes.forgetShown()
    if (this.sorted?.keys.some(key => key.shown || key.natural)) this.sorted = this.ordered = null
    this.formatsBound++
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
    request: FlowRequest,
    allocate: Allocate = privateMemory,
  ): Work<{ view: FlowView; report: FlowReport }> {
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
    const foundCount = stages.at(-1)!.rowsOut
    const passing = yield* timed('conditions', foundCount, this.meetConditions(request, found), p => p.count)
    const ordered = yield* timed('order', passing.count, this.order(request, passing), () => passing.count)
    const grouping = yield* timed('groups', passing.count, this.group(request, ordered), g =>
      g ? g.starts.length - 1 : passing.count,
    )
    const view = yield* timed(
      'rows',
      passing.count,
      this.layLines(request, ordered, passing.count, grouping, allocate),
      v => (v.groups ? v.groups.heads[v.groups.heads.length - 1] : v.rowCount),
    )
    return {
      view,
      report: {
        stages,
        passing: passing.count,
        total,
        groups: grouping ? grouping.starts.length - 1 : 0,
        ...(yield* this.countHeldBack(request, passing.count)),
        ...this.conditionsTold(request),
      },
    }
  }

  /** The rows that meet the search and every condition but the column's own; null: all rows. */
  *passingWithout(request: FlowRequest, column: string): Work<Bits | null> {
    const found = (yield* this.findRows(request)).value
    const conditions = this.conditionsOf(request).filter(([key]) => key !== column)
    let bits = found ? found.slice() : null
    for (const [key, condition] of conditions) {
      const met = yield* this.rowsMeeting(key, condition, request.clock)
      if (bits) andInto(bits, met)
      else bits = met.slice()
    }
    return bits
  }

  /** The rows that are there and meet every condition, whatever is searched; null: all rows. */
  *passingWithoutSearch(request: FlowRequest): Work<Bits | null> {
    let bits = this.presentOf(null)
    for (const [key, condition] of this.conditionsOf(request)) {
      const met = yield* this.rowsMeeting(key, condition, request.clock)
      if (!bits) bits = met.slice()
      else andInto(bits, met)
    }
    return bits
  }

  /** The rows in which a word of a search stands, also those that are no longer there. */
  *rowsWithWord(word: string, request: FlowRequest): Work<Bits> {
    const columns = request.searchColumns.flatMap(key => this.places.get(key) ?? [])
    return yield* this.predicates.rowsWith([word], columns)
  }

  /** The rows that meet one condition, whatever else is asked; the last result is kept where it is the same. */
  *meetAlone(column: string, condition: Condition, clock: Clock = presentClock()): Work<ConditionResult> {
    return (yield* this.result(column, condition, clock)).result
  }

  /** The rows that are there; null: all rows. */
  present(): Bits | null {
    return this.presentOf(null)
  }

  /** Builds the search indexes of the named columns ahead of the first search. */
  *prepareSearch(columns: readonly string[]): Work<void> {
    yield* this.predicates.prepare(columns.flatMap(key => this.places.get(key) ?? []))
  }

  /** The request's conditions on columns that the table has, in an order of their own. */
  private conditionsOf(request: FlowRequest): [string, Condition][] {
    const known = Object.entries(request.conditions).filter(([key]) => this.places.has(key))
    return known.sort(([a], [b]) => (a < b ? -1 : 1))
  }

  private *findRows(request: FlowRequest): Work<Stage<Bits | null>> {
    const columns = request.searchColumns.flatMap(key => this.places.get(key) ?? [])
    const search = request.search.trim()
    const signature = JSON.stringify(search ? [search, columns, this.formatsBound] : [])
    const fresh = this.found?.signature !== signature
    if (fresh) this.found = { signature, value: yield* this.rowsFound(search, columns) }
    return { value: this.presentOf(this.found!.value), fresh, signature }
  }

  /** Without the rows that are no longer there; null: all rows. */
  private presentOf(found: Bits | null): Bits | null {
    if (!this.absent) return found
    const present = found ? found.slice() : fullBits(this.table.rows)
    andNotInto(present, this.absent)
    return present
  }

  private *rowsMeeting(key: string, condition: Condition, clock: Clock = presentClock()): Work<Bits> {
    return (yield* this.result(key, condition, clock)).result.rows
  }

  private result(
    key: string,
    condition: Condition,
    clock: Clock,
  ): Work<{ readonly result: ConditionResult; readonly fresh: boolean }> {
    const place = this.places.get(key)!
    return this.met.meet(condition, clock, this.table.fields[place], this.tools.pattern !== null, () =>
      this.predicates.rowsMeeting(place, condition, clock),
    )
  }

  /** Of each condition of the request: what asking took, and what could not be asked. */
  private conditionsTold(request: FlowRequest): Pick<FlowReport, 'conditionMs' | 'conditionProblems'> {
    const conditionMs: Record<string, number> = {}
    const conditionProblems: Record<string, ConditionResult['problems']> = {}
    for (const [key] of this.conditionsOf(request)) {
      const result = this.met.get(key)
      if (!result) continue
      conditionMs[key] = result.ms
      if (result.problems.length > 0) conditionProblems[key] = result.problems
    }
    return { conditionMs, conditionProblems }
  }

  private *meetConditions(request: FlowRequest, found: Bits | null): Work<Stage<Passing>> {
    const results: ConditionResult[] = []
    const conditions = this.conditionsOf(request)
    for (const [key, condition] of conditions)
      results.push((yield* this.result(key, condition, request.clock ?? presentClock())).result)
    const signature = JSON.stringify([
      this.found!.signature,
      conditions.map(([key], i) => [key, results[i].signature]),
    ])
    if (this.passing?.signature === signature) return { value: this.passing.value, fresh: false, signature }
    let bits = found
    for (const { rows: met } of results) {
      if (bits === found) bits = bits ? bits.slice() : fullBits(this.table.rows)
      andInto(bits!, met)
    }
    this.met.keepOnly(request.conditions)
    const value = { bits, count: bits ? countBits(bits) : this.total }
    this.passing = { signature, value }
    return { value, fresh: true, signature }
  }

  private *order(request: FlowRequest, passing: Passing): Work<Stage<Uint32Array | null>> {
    const keys = request.order.flatMap((key): OrderBy[] => {
      const column = this.places.get(key.column)
      if (column === undefined) return []
      const descending = key.direction === 'descending'
      const shown = key.by === 'shown'
      return [{ column, descending, shown, natural: key.natural, missingFirst: key.missing === 'first' }]
    })
    const sortSignature = JSON.stringify(keys)
    const signature = sortSignature + this.passing!.signature
    if (this.ordered?.signature === signature) return { value: this.ordered.value, fresh: false, signature }
    const rows = yield* this.orderPassing(keys, sortSignature, passing)
    this.ordered = { signature, value: rows }
    return { value: rows, fresh: true, signature }
  }

  private *orderPassing(
    keys: readonly OrderBy[],
    signature: string,
    { bits, count }: Passing,
  ): Work<Uint32Array | null> {
    if (keys.length === 0) return bits ? listBits(bits, count) : null
    if (this.sorted?.signature !== signature) {
      if (bits && count < this.table.rows * SORT_WHOLE_FROM) {
        return yield* orderRows(this.table, this.codes, keys, listBits(bits, count))
      }
      const value = yield* orderRows(this.table, this.codes, keys, null)
      this.sorted = { signature, keys, value }
    }
    const whole = this.sorted!.value
    return bits ? yield* keepSet(whole, bits, count) : whole
  }

  private *group(request: FlowRequest, rows: Uint32Array | null): Work<Stage<Grouping | null>> {
    const column = request.group === null ? undefined : this.places.get(request.group)
    if (column === undefined) {
      const fresh = this.grouping !== null
      this.grouping = null
      return { value: null, fresh, signature: '' }
    }
    const signature = column + this.ordered!.signature
    if (this.grouping?.signature === signature) return { value: this.grouping.value, fresh: false, signature }
    const value = yield* groupRows(yield* this.codes.of(column), rows)
    this.grouping = { signature, value }
    return { value, fresh: true, signature }
  }

  private *layLines(
    request: FlowRequest,
    ordered: Uint32Array | null,
    count: number,
    grouping: Grouping | null,
    allocate: Allocate,
  ): Work<Stage<FlowView>> {
    const open = grouping ? JSON.stringify(request.open) : ''
    const signature = `${this.ordered!.signature}|${this.grouping?.signature ?? ''}|${open}`
    if (this.lines?.signature === signature) return { value: this.lines.value, fresh: false, signature }
    const source = grouping ? grouping.rows : ordered
    const rows = source && this.settleRows(source, allocate)
    const column = grouping ? this.places.get(request.group!)! : 0
    const view: FlowView = {
      rows,
      rowCount: count,
      groups: grouping && this.layGroups(column, grouping, request.open, allocate),
    }
    yield
    this.lines = { signature, value: view }
    return { value: view, fresh: true, signature }
  }

  /** Opening a group leaves the rows where they are; they are copied to their memory once. */
  private settleRows(source: Uint32Array, allocate: Allocate): Uint32Array {
    if (this.settled?.source !== source) this.settled = { source, rows: settle(source, allocate) }
    return this.settled.rows
  }

  private layGroups(
    column: number,
    { rows, starts }: Grouping,
    open: OpenGroups,
    allocate: Allocate,
  ): NonNullable<FlowView['groups']> {
    const groups = starts.length - 1
    const bits = open.all ? fullBits(groups) : emptyBits(groups)
    const except = new Set<Value>(open.except)
    if (except.size > 0) {
      for (let g = 0; g < groups; g++) {
        if (!except.has(valueAt(this.table.columns[column], rows[starts[g]]))) continue
        if (open.all) bits[g >>> 5] &= ~(1 << (g & 31))
        else setBit(bits, g)
      }
    }
    return {
      column,
      starts: settle(starts, allocate),
      open: settle(bits, allocate),
      heads: settle(headLines(starts, bits), allocate),
    }
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

interface Stage<T> {
  readonly value: T
  readonly fresh: boolean
  readonly signature: string
}

const NO_ROWS = new Uint32Array(0)
const presentClock = (): Clock => ({ now: Date.now() })

/** Rows that changed in any of the columns, and those that are new, ascending. */
function changedRows(
  touched: ReadonlyMap<number, Uint32Array>,
  places: Iterable<number>,
  appendedFrom: number,
  rows: number,
): Uint32Array {
  const changed = new Set<number>()
  for (const place of places) for (const row of touched.get(place) ?? NO_ROWS) changed.add(row)
  for (let row = appendedFrom; row < rows; row++) changed.add(row)
  return Uint32Array.from(changed).sort()
}

/** A set in which some rows are looked at anew: row `rows[i]` is in it as `i` is in `part`. */
function patched(bits: Bits, part: Bits | null, rows: Uint32Array, length: number): Bits {
  const out = lengthened(bits, length)
  for (let i = 0; part && i < rows.length; i++) {
    if (hasBit(part, i)) setBit(out, rows[i])
    else out[rows[i] >>> 5] &= ~(1 << (rows[i] & 31))
  }
  return out
}

/** Runs a stage, notes its time without the pauses between its slices, and what came out. */
function stageTimer(stages: StageReport[]) {
  return function* <T>(
    stage: StageName,
    rowsIn: number,
    work: Work<Stage<T>>,
    countOut: (value: T) => number,
  ): Work<T> {
    const { value: done, ms } = yield* timedWork(work)
    const { value, fresh } = done
    stages.push({ stage, rowsIn, rowsOut: countOut(value), ms: fresh ? ms : 0, fresh })
    return value
  }
}

/** The rows of `rows` that are in the set, in their order; `count` is how many there are. */
function* keepSet(rows: Uint32Array, bits: Bits, count: number): Work<Uint32Array> {
  const out = new Uint32Array(count)
  let at = 0
  for (let from = 0; from < rows.length; from += SLICE) {
    const to = Math.min(rows.length, from + SLICE)
    for (let i = from; i < to; i++) {
      const row = rows[i]
      if (hasBit(bits, row)) out[at++] = row
    }
    yield
  }
  return out
}
