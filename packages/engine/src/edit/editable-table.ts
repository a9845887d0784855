import { privateMemory, settle, type Allocate } from '../table/allocate.ts'
import { settleColumn, settleTable } from '../table/settle-table.ts'
import {
  countBits,
  emptyBits,
  fullBits,
  clearBit,
  hasBit,
  setBit,
  wordsFor,
  type Bits,
} from '../table/bits.ts'
import { valueAt, type Column, type Field, type Table, type Value, isDigitColumn } from '../table/column.ts'
import { idsOfKept, rowOfId, asRowId } from '../table/row-id.ts'
import type { TextBlock } from '../table/text-block.ts'
import { KeyIndex } from '../key/key-index.ts'
import { keyPart, keyParts, type KeyValue } from '../key/key-value.ts'
import { asRows, readRows, type RowObject } from '../read/rows/read-rows.ts'
import { writtenOut } from '../read/columns/settle-values.ts'
import type { ColumnsReadOptions } from '../read/types/column-reading.ts'
import type { Work } from '../work/work.ts'
import type { ChangeProblem, ChangeSet, Committed } from './change-set.ts'
import { gatherRows } from './gather-rows.ts'
import { unionOf, type TableEdit } from './table-edit.ts'
import { TextLookup } from './text-lookup.ts'
import { writeColumn } from './write-column.ts'
import { sure, isRecord } from '../work/checked.ts'
import { digitsOfDouble, isToldByDouble } from '../table/digits.ts'

/** Problems told one by one; beyond them only their effect is. */
const MOST_PROBLEMS = 100

/**
 * A table that rows can be put into, changed in and taken out of by their key. Row numbers hold: removed rows leave
 * their number empty until `compact`. Every change makes a new table of the columns it touched and the old ones beside
 * them. Memory of touched columns is copied at the first change; later ones are written into that copy, so that they
 * cost what they change. Who still reads an older table may then see the new values of cells, never torn ones.
 */
export class EditableTable {
  private current: Table
  private gone: Bits | null = null
  private readonly allocate: Allocate
  private readonly own = new WeakSet<Column>()
  private readonly lookups = new Map<TextBlock, TextLookup>()
  private index: { readonly fields: string; readonly index: KeyIndex } | null = null

  constructor(table: Table, allocate: Allocate = privateMemory) {
    this.current = table
    this.allocate = allocate
  }

  get table(): Table {
    return this.current
  }

  get absent(): Bits | null {
    return this.gone
  }

  get total(): number {
    return this.current.rows - (this.gone ? countBits(this.gone) : 0)
  }

  /** The index of the rows by the key fields; made when first asked for, and kept in step from then on. */
  *keys(fields: readonly string[]): Work<KeyIndex> {
    const name = JSON.stringify(fields)
    if (this.index?.fields !== name) {
      const places = fields.map(key => this.columnIndex(key))
      if (places.includes(-1))
        throw new RangeError(`There is no field "${fields[places.indexOf(-1)]}" for a key.`)
      this.index = { fields: name, index: yield* KeyIndex.build(this.current, places, this.gone) }
    }
    return this.index.index
  }

  /** Row numbers of keys, −1 where there is none. No fields: keys are row ids. */
  *find(fields: readonly string[], keys: readonly KeyValue[]): Work<Int32Array> {
    const rows = new Int32Array(keys.length).fill(-1)
    if (fields.length === 0) {
      keys.forEach((key, i) => {
        const row = typeof key === 'number' ? rowOfId(this.current, asRowId(key)) : -1
        if (row >= 0 && !this.isGone(row)) rows[i] = row
      })
      return rows
    }
    const index = yield* this.keys(fields)
    const kept = fields.map(key => this.current.fields[this.columnIndex(key)])
    for (let i = 0; i < keys.length; i++) {
      const row = index.find(keyParts(keys[i]).map((part, nth) => keyPart(kept[nth], part)))
      rows[i] = row >= 0 && this.isGone(row) ? -1 : row
      if (i % 4096 === 4095) yield
    }
    return rows
  }

  /** Applies changes of rows named by the key fields. */
  *commit(changes: ChangeSet, keyFields: readonly string[]): Work<{ edit: TableEdit; committed: Committed }> {
    const problems: ChangeProblem[] = []
    const tell = (problem: ChangeProblem): void => {
      if (problems.length < MOST_PROBLEMS) problems.push(problem)
    }
    const reshaped = yield* this.reshapeFor(asRows(changes.append ?? []))
    const index = keyFields.length > 0 ? yield* this.keys(keyFields) : null
    if (changes.put ?? changes.update ?? changes.remove ?? changes.restore) needsKey(keyFields)
    const restored = yield* this.restore(changes.restore ?? [], keyFields, index, tell)
    const removed = yield* this.remove(changes.remove ?? [], keyFields, tell)
    const put = yield* this.plan(asRows(changes.put ?? []), keyFields, false, index, tell)
    const append = yield* this.plan(asRows(changes.append ?? []), [], false, null, tell)
    const first = yield* this.write(put, index)
    yield* this.write(append, index)
    const update = yield* this.plan(asRows(changes.update ?? []), keyFields, true, index, tell)
    const second = yield* this.write(update, index)
    const touched = new Map(first)
    for (const [place, rows] of second) touched.set(place, unionOf(touched.get(place), rows))
    const committed = {
      updated: put.updates.length + update.updates.length,
      inserted: put.inserts.length + append.inserts.length,
      removed,
      restored,
      problems,
      total: this.total,
    }
    const appendedFrom = this.current.rows - committed.inserted
    return { edit: { table: this.current, absent: this.gone, touched, appendedFrom, reshaped }, committed }
  }

  /**
   * Gives back the room of the rows that are gone: the others get other numbers and keep their ids. Does nothing where
   * so few are gone that it is not worth it; tells whether it did.
   */
  *compact(least = 1000): Work<boolean> {
    const { rows } = this.current
    const gone = this.gone ? countBits(this.gone) : 0
    if (!this.gone || gone < least || gone * 4 < rows) return false
    const kept = new Uint32Array(rows - gone)
    for (let row = 0, at = 0; row < rows; row++) if (!hasBit(this.gone, row)) kept[at++] = row
    yield
    const { first, next } = idsOfKept(this.current, kept)
    const ids = { first: settle(first, this.allocate), next }
    this.current = { ...settleTable(gatherRows(this.current, kept), this.allocate), ids }
    this.gone = null
    this.index = null
    this.lookups.clear()
    yield
    return true
  }

  private columnIndex(key: string): number {
    return this.current.fields.findIndex(field => field.key === key)
  }

  /** Whether a row was removed. */
  isGone(row: number): boolean {
    return this.gone !== null && row >>> 5 < this.gone.length && hasBit(this.gone, row)
  }

  private *remove(
    keys: readonly KeyValue[],
    keyFields: readonly string[],
    tell: (problem: ChangeProblem) => void,
  ): Work<number> {
    if (keys.length === 0) return 0
    const rows = yield* this.find(keyFields, keys)
    const gone = this.gone?.slice() ?? emptyBits(this.current.rows)
    let removed = 0
    rows.forEach((row, i) => {
      if (row < 0 || hasBit(gone, row)) tell({ code: 'no-such-row', key: keys[i] })
      else {
        setBit(gone, row)
        removed++
      }
    })
    if (removed > 0) this.gone = gone
    return removed
  }

  /** Rows keep their number and what they held while they are gone; a key goes to the last row that had it. */
  private *restore(
    keys: readonly KeyValue[],
    keyFields: readonly string[],
    index: KeyIndex | null,
    tell: (problem: ChangeProblem) => void,
  ): Work<number> {
    if (keys.length === 0 || !index) return 0
    const fields = keyFields.map(key => this.current.fields[this.columnIndex(key)])
    const gone = this.gone?.slice() ?? null
    let restored = 0
    for (const [i, key] of keys.entries()) {
      const row = index.find(keyParts(key).map((part, nth) => keyPart(fields[nth], part)))
      if (!gone || row < 0 || !hasBit(gone, row)) tell({ code: 'no-such-row', key })
      else {
        clearBit(gone, row)
        restored++
      }
      if (i % 4096 === 4095) yield
    }
    if (restored > 0) this.gone = gone
    return restored
  }

  /** Reads the rows into the types of the table, and finds out which are there already. */
  private *plan(
    rows: readonly RowObject[],
    keyFields: readonly string[],
    partial: boolean,
    index: KeyIndex | null,
    tell: (problem: ChangeProblem) => void,
  ): Work<Plan> {
    const plan: Plan = { delta: null, places: [], updates: [], inserts: [], named: [] }
    if (rows.length === 0) return plan
    const { table: read, readings } = yield* readRows(rows, this.askedTypes())
    const { fields } = this.current
    const delta = this.withinDoubles(read, tell)
    plan.delta = delta
    plan.places = fields.map(field => delta.fields.findIndex(other => other.key === field.key))
    for (const { key } of delta.fields)
      if (this.columnIndex(key) < 0) tell({ code: 'no-such-field', field: key })
    for (const { key, misfits } of readings) {
      const type = fields[this.columnIndex(key)]?.type ?? ''
      for (const { text } of misfits.examples) {
        if (this.columnIndex(key) < 0 || type === 'text') continue
        tell({ code: 'not-of-type', field: key, type, text })
      }
    }
    const keyPlaces = keyFields.map(key => plan.places[this.columnIndex(key)])
    const fresh = new Map<string, number>()
    if (!index) plan.inserts = rows.map((_, i) => i)
    for (let i = 0; index && i < rows.length; i++) {
      const parts = keyPlaces.map(place => (place < 0 ? null : valueAt(delta.columns[place], i)))
      const kept = parts.map((part, nth) => keyPart(fields[this.columnIndex(keyFields[nth])], part))
      if (kept.includes(null)) {
        tell({ code: 'no-key', nth: i })
        continue
      }
      const found = index.find(kept)
      const name = JSON.stringify(kept)
      if (found >= 0 && !this.isGone(found)) plan.updates.push({ row: found, from: i })
      else if (partial) tell({ code: 'no-such-row', key: kept.length === 1 ? kept[0] : kept })
      else if (fresh.has(name)) plan.inserts[sure(fresh.get(name))] = i
      else {
        fresh.set(name, plan.inserts.length)
        plan.inserts.push(i)
      }
      if (i % 1024 === 1023) yield
    }
    // What a partial row does not name stays, and so does what any row says in a way that does not fit.
    plan.named = fields.map(({ key }, place) => (from: number) => {
      const raw = rawAt(rows[from], key)
      if (raw === undefined) return !partial
      const read = plan.places[place] < 0 ? null : valueAt(delta.columns[plan.places[place]], from)
      return read !== null || isNothing(raw)
    })
    return plan
  }

  /** Numbers of more digits than a double tells do not fit a column of doubles: they are told, and not rounded. */
  private withinDoubles(read: Table, tell: (problem: ChangeProblem) => void): Table {
    const columns = read.columns.map((column, i) => {
      const { key } = read.fields[i]
      const place = this.columnIndex(key)
      if (!read.fields[i].wide || place < 0 || this.current.columns[place].kind !== 'number') return column
      const values = new Float64Array(read.rows)
      const missing = emptyBits(read.rows)
      for (let row = 0; row < read.rows; row++) {
        const digits = valueAt(column, row)
        if (digits === null || !isToldByDouble(String(digits))) setBit(missing, row)
        else values[row] = Number(digits)
        if (digits !== null && hasBit(missing, row))
          tell({
            code: 'not-of-type',
            field: key,
            type: this.current.fields[place].type,
            text: String(digits),
          })
      }
      return { kind: 'number' as const, values, missing }
    })
    return { ...read, columns }
  }

  /** The types of the table, so that rows are read into them; whole numbers may become decimal. */
  private askedTypes(): ColumnsReadOptions {
    return Object.fromEntries(
      this.current.fields.map(({ key, type, zoned, wide }) => [
        key,
        { type: type === 'integer' && !wide ? ('number' as const) : type, zoned },
      ]),
    )
  }

  /**
   * Values of cells by row and by place of a column, as rows of parts of fields say them: read into the types of the
   * table, and nothing written. Rows that are not there, and values that do not fit, are told.
   */
  *readCells(
    rows: readonly RowObject[],
    keyFields: readonly string[],
    tell: (problem: ChangeProblem) => void,
  ): Work<{ readonly rows: number; readonly cells: CellValues }> {
    const plan = yield* this.plan(rows, keyFields, true, yield* this.keys(keyFields), tell)
    const cells = new Map<number, Map<number, Value>>()
    for (const place of this.current.columns.keys()) {
      const values = this.valuesIn(plan, place)
      if (values.size > 0) cells.set(place, values)
    }
    return { rows: plan.updates.length, cells }
  }

  /** Writes values into cells of rows that are there. Returns the rows whose value is another now, by place. */
  *setCells(cells: CellValues): Work<Map<number, Uint32Array>> {
    const touched = new Map<number, Uint32Array>()
    const fields = this.current.fields.slice()
    const columns = this.current.columns.slice()
    for (const [place, values] of cells) {
      const changed = new Map([...values].filter(([row, value]) => valueAt(columns[place], row) !== value))
      if (changed.size === 0) continue
      touched.set(place, Uint32Array.from(changed.keys()).sort())
      fields[place] = widened(fields[place], decimalsOf(changed), changed)
      columns[place] = this.writeCells(columns[place], changed, this.current.rows, this.current.rows)
      yield
    }
    this.current = { ...this.current, fields, columns }
    return touched
  }

  /** Takes the columns of another table of the same rows, but for those of `keep`. */
  takeColumns(table: Table, keep: ReadonlySet<number>): void {
    const mine = <T>(theirs: readonly T[], own: readonly T[]): T[] =>
      theirs.map((one, place) => (keep.has(place) ? own[place] : one))
    const { fields, columns } = this.current
    this.current = { ...table, fields: mine(table.fields, fields), columns: mine(table.columns, columns) }
  }

  /** What the rows of a plan say of a column, in its kind, by the number of the row they are for. */
  private valuesIn({ delta, places, updates, named }: Plan, place: number): Map<number, Value> {
    const source = !delta || places[place] < 0 ? null : delta.columns[places[place]]
    const values = new Map<number, Value>()
    for (const { row, from } of updates) {
      if (!named[place]?.(from)) continue
      values.set(row, source ? inKindOf(this.current.columns[place], valueAt(source, from)) : null)
    }
    return values
  }

  private writeCells(old: Column, cells: ReadonlyMap<number, Value>, from: number, to: number): Column {
    const rows = Uint32Array.from(cells.keys()).sort()
    const valueOf = (nth: number): Value => cells.get(rows[nth]) ?? null
    const ready = fitting(old, cells)
    const own = this.own.has(old) && ready === old
    const column = writeColumn(
      ready,
      { rows, valueOf },
      { from, to, allocate: this.allocate, own, lookup: this.lookupOf },
    )
    this.own.add(column)
    return column
  }

  private *write(plan: Plan, index: KeyIndex | null): Work<Map<number, Uint32Array>> {
    const touched = new Map<number, Uint32Array>()
    const { delta, updates, inserts } = plan
    if (!delta || updates.length + inserts.length === 0) return touched
    updates.sort((a, b) => a.row - b.row || a.from - b.from)
    const from = this.current.rows
    const to = from + inserts.length
    const fields = this.current.fields.slice()
    const columns: Column[] = []
    for (const [place, old] of this.current.columns.entries()) {
      const source = plan.places[place] < 0 ? null : delta.columns[plan.places[place]]
      const cells = this.valuesIn(plan, place)
      for (const [row, value] of cells) if (valueAt(old, row) === value) cells.delete(row)
      if (cells.size > 0) touched.set(place, Uint32Array.from(cells.keys()).sort())
      if (cells.size === 0 && inserts.length === 0) {
        columns.push(old)
        continue
      }
      inserts.forEach((at, nth) => cells.set(from + nth, source ? inKindOf(old, valueAt(source, at)) : null))
      fields[place] = widened(fields[place], source && delta.fields[plan.places[place]], cells)
      columns.push(this.writeCells(old, cells, from, to))
      yield
    }
    this.current = { ...this.current, rows: to, fields, columns }
    if (this.gone && wordsFor(to) > this.gone.length) {
      const larger = emptyBits(to)
      larger.set(this.gone)
      this.gone = larger
    }
    if (index) {
      index.follow(this.current)
      for (let row = from; row < to; row++) index.replace(row)
    } else this.index = null
    return touched
  }

  /** Columns for fields that are new, and text for those whose type does not hold. Tells whether there were any. */
  private *reshapeFor(rows: readonly RowObject[]): Work<boolean> {
    if (rows.length === 0) return false
    const { table: delta, readings } = yield* readRows(rows, this.askedTypes())
    let reshaped = false
    for (const [i, field] of delta.fields.entries()) {
      const place = this.columnIndex(field.key)
      const { rows: count, fields, columns } = this.current
      if (place < 0) {
        const none = emptyOf(delta.columns[i], count)
        this.current = {
          ...this.current,
          fields: [...fields, field],
          columns: [...columns, none],
        }
        reshaped = true
      } else if (readings[i].misfits.count > 0 && fields[place].type !== 'text') {
        const column = settleColumn(yield* writtenOut(fields[place], columns[place], count), this.allocate)
        this.current = {
          ...this.current,
          fields: fields.with(place, { key: field.key, type: 'text' }),
          columns: columns.with(place, column),
        }
        reshaped = true
      }
    }
    return reshaped
  }

  private readonly lookupOf = (texts: TextBlock): TextLookup => {
    for (const [, lookup] of this.lookups) if (lookup.texts === texts) return lookup
    const lookup = new TextLookup(texts, this.allocate)
    this.lookups.set(texts, lookup)
    return lookup
  }
}

/** Throws where rows are to be changed that nothing names. */
export function needsKey(keyFields: readonly string[]): void {
  if (keyFields.length > 0) return
  throw new RangeError(
    'Rows can only be changed by their key, and no key fields were given: name them in the definition’s `key`.',
  )
}

/** Values by place of a column and row number. */
export type CellValues = ReadonlyMap<number, ReadonlyMap<number, Value>>

interface Plan {
  delta: Table | null
  /** By place in the table: the place among the rows that were read, −1: they do not have it. */
  places: number[]
  updates: { readonly row: number; readonly from: number }[]
  inserts: number[]
  /** By place: whether a row that was read says anything of the field. */
  named: ((from: number) => boolean)[]
}

/** A column of the same kind in which no row has a value. */
function emptyOf(like: Column, rows: number): Column {
  const missing = fullBits(rows)
  const texts = { bytes: new Uint8Array(0), offsets: new Uint32Array(like.kind === 'plain' ? rows + 1 : 1) }
  switch (like.kind) {
    case 'number':
      return { kind: 'number', values: new Float64Array(rows), missing }
    case 'wide':
      return { kind: 'wide', values: new BigInt64Array(rows), missing }
    case 'boolean':
      return { kind: 'boolean', values: emptyBits(rows), missing }
    case 'coded':
      return { ...like, codes: new Uint32Array(rows), texts, missing }
    case 'plain':
      return { ...like, texts, missing }
  }
}

/** What a row object holds for a field, under its key or by a path; undefined where it does not name it. */
function rawAt(row: RowObject, path: string): unknown {
  if (Object.hasOwn(row, path)) return row[path] ?? null
  for (let point = path.indexOf('.'); point > 0; point = path.indexOf('.', point + 1)) {
    const inner = row[path.slice(0, point)]
    if (!isRecord(inner)) continue
    const found = rawAt(inner, path.slice(point + 1))
    if (found !== undefined) return found
  }
  return undefined
}

const isNothing = (raw: unknown): boolean =>
  raw === null || raw === '' || Number.isNaN(raw) || (Array.isArray(raw) && raw.length === 0)

/** A value that was read as a number where the column holds digits. */
function inKindOf(column: Column, value: Value): Value {
  if (typeof value !== 'number') return value
  if (isDigitColumn(column)) return digitsOfDouble(value)
  return column.kind === 'wide' ? String(value) : value
}

/** Whole numbers that no longer are all whole, or small enough, need columns of doubles. */
export function fitting(column: Column, cells: ReadonlyMap<number, Value>): Column {
  if (column.kind !== 'number' || !(column.values instanceof Int32Array)) return column
  for (const value of cells.values()) {
    if (value !== null && value !== (Number(value) | 0))
      return { ...column, values: Float64Array.from(column.values) }
  }
  return column
}

/** The most decimals that any of the numbers is written with. */
function decimalsOf(cells: ReadonlyMap<number, Value>): { decimals: number } {
  let decimals = 0
  for (const value of cells.values()) {
    if (typeof value !== 'number' || Number.isInteger(value)) continue
    decimals = Math.max(decimals, String(value).split('.')[1]?.length ?? 0)
  }
  return { decimals }
}

function widened(
  field: Field,
  read: Pick<Field, 'decimals'> | null,
  cells: ReadonlyMap<number, Value>,
): Field {
  if (field.wide || (field.type !== 'integer' && field.type !== 'number') || !read) return field
  const decimals = Math.max(field.decimals ?? 0, read.decimals ?? 0)
  const whole = [...cells.values()].every(value => value === null || Number.isInteger(value))
  if (field.type === 'integer') return whole ? field : { ...field, type: 'number', decimals }
  return decimals === (field.decimals ?? 0) ? field : { ...field, decimals }
}
