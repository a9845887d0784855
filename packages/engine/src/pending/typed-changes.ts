import type { CheckProblem } from '../check/check-problem.ts'
import { isKeyList, type KeyValue } from '../key/key-value.ts'
import type { Field, Value } from '../table/column.ts'
import { plainValue, valueFromPlain, type PlainValue } from '../check/plain-value.ts'
import type { ChangeList, RowAnswer } from './change-list.ts'

/** What a cell shows: a value, or a text as it was typed that says none of its column. */
export interface CellContent {
  readonly value: Value
  readonly text: string | null
}

/** A cell that was changed and is not saved. */
export interface TypedCell {
  /** What is saved. */
  readonly before: Value
  readonly now: CellContent
  readonly problem: CheckProblem | null
  /** What another has saved there meanwhile, while that is not settled; undefined: nobody has. */
  readonly theirs?: Value
}

export type RowState = 'typed' | 'saving' | 'refused'

/** A row that was changed, is new or is to go. */
export interface TypedRow {
  /** Names it among these; a new row has no key. */
  readonly name: string
  readonly key: KeyValue | null
  /** What it has by now; of a new row all that it has. */
  readonly cells: ReadonlyMap<string, TypedCell>
  readonly isNew: boolean
  /** It is to be deleted. */
  readonly removed: boolean
  readonly state: RowState
  /** Why it was not saved. */
  readonly reason: string | null
  /** What is wrong with the row as a whole. */
  readonly problem: CheckProblem | null
  /** Another has deleted it meanwhile. */
  readonly gone: boolean
}

/** Names a row: by its key, or as a new one. */
export interface RowRef {
  readonly name: string
  readonly key: KeyValue | null
}

/** One step of an act; turned round, it takes the step back. */
export type Step =
  | {
      readonly kind: 'cell'
      readonly row: RowRef
      readonly field: string
      readonly was: CellContent
      readonly is: CellContent
    }
  | { readonly kind: 'removed'; readonly row: RowRef; readonly on: boolean }
  | { readonly kind: 'new'; readonly row: TypedRow; readonly at: number; readonly on: boolean }

export interface PendingCounts {
  /** Rows of which cells are changed, rows that are new, and rows that are to go. */
  readonly changed: number
  readonly added: number
  readonly removed: number
  readonly cells: number
  /** Cells and rows that cannot be saved as they are. */
  readonly notValid: number
  readonly conflicts: number
  readonly refused: number
}

export const keyName = (key: KeyValue): string => `k${JSON.stringify(key)}`
export const refOf = (key: KeyValue): RowRef => ({ name: keyName(key), key })

const sameValue = (a: Value, b: Value): boolean =>
  a === b || ((a === '' || a === null) && (b === '' || b === null))
const sameContent = (a: CellContent, b: CellContent): boolean =>
  a.text === b.text && sameValue(a.value, b.value)
const contentOf = (cell: TypedCell | undefined, saved: Value): CellContent =>
  cell?.now ?? { value: saved, text: null }

const UNTOUCHED = {
  cells: new Map<string, TypedCell>(),
  isNew: false,
  removed: false,
  state: 'typed' as const,
  reason: null,
  problem: null,
  gone: false,
}

/**
 * What a reader has changed and not saved, by row: the page's own record, from which documents to save are made. Every
 * change is a list of steps that can be taken back.
 */
export class TypedChanges {
  private readonly rows = new Map<string, TypedRow>()
  private nextNew = 1

  get isEmpty(): boolean {
    return this.rows.size === 0
  }

  /** All of them, new rows in the order in which they stand. */
  list(): TypedRow[] {
    return [...this.rows.values()]
  }

  newRows(): TypedRow[] {
    return this.list().filter(({ isNew }) => isNew)
  }

  row(name: string): TypedRow | undefined {
    return this.rows.get(name)
  }

  cell(name: string, field: string): TypedCell | undefined {
    return this.rows.get(name)?.cells.get(field)
  }

  counts(): PendingCounts {
    const told = { changed: 0, added: 0, removed: 0, cells: 0, notValid: 0, conflicts: 0, refused: 0 }
    for (const row of this.rows.values()) {
      if (row.isNew) told.added++
      else {
        told.cells += row.cells.size
        if (!row.removed && row.cells.size > 0) told.changed++
      }
      if (row.removed) told.removed++
      else {
        if (row.problem) told.notValid++
        for (const { problem } of row.cells.values()) if (problem !== null) told.notValid++
      }
      if (isInConflict(row)) told.conflicts++
      if (row.state === 'refused') told.refused++
    }
    return told
  }

  /** Writes into a cell. `saved`: what is saved there. Null: it shows that already. */
  write(row: RowRef, field: string, saved: Value, is: CellContent): Step | null {
    const cell = this.cell(row.name, field)
    const was = contentOf(cell, saved)
    if (sameContent(was, is)) return null
    this.put(row, field, cell?.before ?? saved, is)
    return { kind: 'cell', row, field, was, is }
  }

  /** A new row with some values, behind the other new ones. `called`: the name that it had before, where that is free. */
  add(values: ReadonlyMap<string, Value>, called?: string): Step & { readonly kind: 'new' } {
    const name = this.nameFor(called)
    const cells = new Map(
      Array.from(values, ([field, value]) => [
        field,
        { before: null, now: { value, text: null }, problem: null },
      ]),
    )
    const row: TypedRow = { ...UNTOUCHED, name, key: null, cells, isNew: true }
    this.insert(row, Infinity)
    return { kind: 'new', row, at: Infinity, on: true }
  }

  /** A row keeps its name over a reload, so that a host knows it again that was handed it before. */
  private nameFor(called: string | undefined): string {
    const number = called === undefined ? NaN : Number(/^n(\d{1,15})$/.exec(called)?.[1])
    if (called === undefined || Number.isNaN(number) || this.rows.has(called)) return `n${this.nextNew++}`
    this.nextNew = Math.max(this.nextNew, number + 1)
    return called
  }

  /** Marks a row to be deleted, or takes the mark back; a new row goes at once. Null: nothing changes. */
  remove(ref: RowRef, on = true): Step | null {
    const row = this.rows.get(ref.name)
    if (row?.isNew) {
      if (!on) return null
      const at = this.newRows().indexOf(row)
      this.rows.delete(ref.name)
      return { kind: 'new', row, at, on: false }
    }
    if ((row?.removed ?? false) === on) return null
    this.set({ ...UNTOUCHED, ...ref, ...row, removed: on, state: 'typed', reason: null })
    return { kind: 'removed', row: ref, on }
  }

  /**
   * Takes steps back, the last first, or makes them again. `savedOf`: what is saved in a cell that is not pending. What
   * can no longer be done, because its row was saved as new or is gone, is left out; answers the steps that were made.
   */
  retrace(
    steps: readonly Step[],
    way: 'back' | 'again',
    savedOf: (row: RowRef, field: string) => Value,
  ): Step[] {
    const inOrder = way === 'back' ? steps.toReversed() : steps
    return inOrder.filter(step => {
      const forward = way === 'again'
      switch (step.kind) {
        case 'cell': {
          if (step.row.key === null && !this.rows.has(step.row.name)) return false
          const saved = this.cell(step.row.name, step.field)?.before ?? savedOf(step.row, step.field)
          return this.write(step.row, step.field, saved, forward ? step.is : step.was) !== null
        }
        case 'removed':
          return this.remove(step.row, step.on === forward) !== null
        case 'new':
          if (step.on !== forward) return this.remove(step.row) !== null
          if (this.rows.has(step.row.name)) return false
          this.insert(step.row, step.at)
          return true
      }
    })
  }

  /** Says what is wrong with a cell, or with a row; null: nothing. */
  judge(name: string, field: string | null, problem: CheckProblem | null): void {
    const row = this.rows.get(name)
    if (!row) return
    if (field === null) {
      this.rows.set(name, { ...row, problem })
      return
    }
    const cell = row.cells.get(field)
    if (cell) this.rows.set(name, { ...row, cells: new Map(row.cells).set(field, { ...cell, problem }) })
    // Of a new row a cell may be wrong because nothing was typed into it.
    else if (row.isNew && problem) {
      const empty: TypedCell = { before: null, now: { value: null, text: null }, problem }
      this.rows.set(name, { ...row, cells: new Map(row.cells).set(field, empty) })
    }
  }

  /** A saved cell is another now. What was typed stays; where it is not the same, that is to be settled. */
  underneath(name: string, field: string, saved: Value): void {
    const row = this.rows.get(name)
    const cell = row?.cells.get(field)
    if (!row || !cell || row.isNew) return
    if (cell.now.text === null && sameValue(cell.now.value, saved)) this.drop(row, field)
    else if (sameValue(cell.before, saved)) {
      if (cell.theirs === undefined) return
      const { theirs: _, ...settled } = cell
      this.set({ ...row, cells: new Map(row.cells).set(field, settled) })
    } else this.set({ ...row, cells: new Map(row.cells).set(field, { ...cell, theirs: saved }) })
  }

  /** The saved row is there no more, or is again. What was typed stays. */
  goneUnderneath(name: string, gone: boolean): void {
    const row = this.rows.get(name)
    if (!row || row.isNew || row.gone === gone) return
    if (gone && row.removed) this.rows.delete(name)
    else this.set({ ...row, gone })
  }

  /** Settles a cell that another has changed: what was typed stays to be saved over theirs, or theirs stands. */
  settle(name: string, field: string, keep: 'mine' | 'theirs'): void {
    const row = this.rows.get(name)
    const cell = row?.cells.get(field)
    if (!row || cell?.theirs === undefined) return
    if (keep === 'theirs') {
      this.drop(row, field)
      return
    }
    const { theirs, ...rest } = cell
    this.set({
      ...row,
      state: 'typed',
      reason: null,
      cells: new Map(row.cells).set(field, { ...rest, before: theirs }),
    })
  }

  /** Gives up a row, or one cell of it. */
  forget(name: string, field: string | null = null): void {
    const row = this.rows.get(name)
    if (!row) return
    if (field === null) this.rows.delete(name)
    else this.drop(row, field)
  }

  /** Rows that can be saved: right in all cells, not in conflict, and not being saved already. */
  savable(): TypedRow[] {
    return this.list().filter(
      row => row.state !== 'saving' && !isInConflict(row) && (row.removed || !hasProblem(row)),
    )
  }

  /** They are on their way. */
  saving(names: readonly string[]): void {
    for (const name of names) {
      const row = this.rows.get(name)
      if (row) this.rows.set(name, { ...row, state: 'saving', reason: null })
    }
  }

  /** The way failed: they are as before, and why is kept with them. */
  notSaved(names: readonly string[], reason: string | null): void {
    for (const name of names) {
      const row = this.rows.get(name)
      if (row?.state === 'saving')
        this.rows.set(name, { ...row, state: reason === null ? 'typed' : 'refused', reason })
    }
  }

  /** A row is saved. What was typed into it since `sent` stays pending, over what is saved now. */
  saved(sent: TypedRow): void {
    const row = this.rows.get(sent.name)
    if (!row) return
    if (row.isNew || row.removed) {
      this.rows.delete(sent.name)
      return
    }
    const cells = new Map<string, TypedCell>()
    for (const [field, cell] of row.cells) {
      const was = sent.cells.get(field)
      if (was && sameContent(was.now, cell.now)) continue
      cells.set(field, was ? { ...cell, before: was.now.value } : cell)
    }
    if (cells.size === 0) this.rows.delete(sent.name)
    else this.rows.set(sent.name, { ...row, cells, state: 'typed', reason: null })
  }

  /** What became of a row that was not saved. */
  refused(
    name: string,
    { refused, fields = {}, there }: RowAnswer,
    fieldOf: (key: string) => Field | undefined,
  ): void {
    const row = this.rows.get(name)
    if (!row) return
    const said = Object.values(fields)[0] ?? null
    this.rows.set(name, { ...row, state: there === undefined ? 'refused' : 'typed', reason: refused ?? said })
    for (const [field, text] of Object.entries(fields)) this.judge(name, field, { code: 'said', text })
    if (there === null) this.goneUnderneath(name, true)
    else if (there !== undefined)
      for (const field of row.cells.keys()) {
        const known = fieldOf(field)
        const theirs = known && Object.hasOwn(there, field) ? valueFromPlain(there[field], known) : undefined
        if (theirs !== undefined) this.underneath(name, field, theirs)
      }
  }

  /** The document of all that is changed, whole: taken in again, it comes to the same. */
  toList(fieldOf: (key: string) => Field | undefined): ChangeList {
    return this.listOf(this.list(), fieldOf, true)
  }

  /** The document of rows that are to be saved; of those that are to go nothing else is told. */
  toSave(rows: readonly TypedRow[], fieldOf: (key: string) => Field | undefined): ChangeList {
    return this.listOf(rows, fieldOf, false)
  }

  private listOf(
    rows: readonly TypedRow[],
    fieldOf: (key: string) => Field | undefined,
    isWhole: boolean,
  ): ChangeList {
    const list: ChangeList = {
      format: 'vast-meadow-changes',
      version: 1,
      changed: [],
      added: [],
      removed: [],
      notValid: [],
    }
    for (const { name, key, cells, isNew, removed } of rows) {
      const after: Record<string, PlainValue> = {}
      const before: Record<string, PlainValue> = {}
      for (const [fieldKey, cell] of cells) {
        const field = fieldOf(fieldKey)
        if (!field) continue
        if (cell.now.text !== null) {
          list.notValid.push({
            ...(isNew ? { name } : { key: plainKey(key) }),
            field: fieldKey,
            text: cell.now.text,
          })
          continue
        }
        after[fieldKey] = plainValue(cell.now.value, field)
        before[fieldKey] = plainValue(cell.before, field)
      }
      if (removed) list.removed.push({ key: plainKey(key) })
      if (isNew) list.added.push({ name, values: after })
      else if ((isWhole || !removed) && Object.keys(after).length > 0)
        list.changed.push({ key: plainKey(key), before, after })
    }
    return list
  }

  /** Takes in a document, over what is there; fields that are not there, and values that are none, are answered. */
  takeList(
    list: ChangeList,
    fieldOf: (key: string) => Field | undefined,
  ): { readonly leftOut: readonly string[] } {
    const leftOut = new Set<string>()
    const take = (ref: RowRef, fieldKey: string, after: PlainValue, before: PlainValue): void => {
      const field = fieldOf(fieldKey)
      const [now, saved] = field ? [valueFromPlain(after, field), valueFromPlain(before, field)] : []
      if (now === undefined) leftOut.add(fieldKey)
      else
        this.put(ref, fieldKey, this.cell(ref.name, fieldKey)?.before ?? saved ?? null, {
          value: now,
          text: null,
        })
    }
    const names = new Map<string, string>()
    for (const { key, before, after } of list.changed)
      for (const [field, value] of Object.entries(after))
        take(refOf(key), field, value, before[field] ?? null)
    for (const { name, values } of list.added) {
      const step = this.add(new Map(), name)
      names.set(name, step.row.name)
      for (const [field, value] of Object.entries(values)) take(step.row, field, value, null)
    }
    for (const { key } of list.removed) this.remove(refOf(key))
    for (const { key, name, field, text } of list.notValid) {
      const newName = name === undefined ? undefined : (names.get(name) ?? this.addEmpty(name, names))
      const ref = newName === undefined ? refOf(key ?? null) : { name: newName, key: null }
      this.put(ref, field, this.cell(ref.name, field)?.before ?? null, { value: null, text })
    }
    return { leftOut: [...leftOut] }
  }

  private addEmpty(name: string, names: Map<string, string>): string {
    const step = this.add(new Map(), name)
    const made = step.row.name
    names.set(name, made)
    return made
  }

  private put(ref: RowRef, field: string, before: Value, now: CellContent): void {
    const row = this.rows.get(ref.name) ?? { ...UNTOUCHED, ...ref, name: ref.name, key: ref.key }
    const old = row.cells.get(field)
    if (!row.isNew && now.text === null && sameValue(before, now.value) && old?.theirs === undefined) {
      this.drop({ ...row, state: 'typed', reason: null }, field)
      return
    }
    const cell: TypedCell = { ...old, before, now, problem: null }
    this.set({ ...row, cells: new Map(row.cells).set(field, cell), state: 'typed', reason: null })
  }

  private drop(row: TypedRow, field: string): void {
    const cells = new Map(row.cells)
    cells.delete(field)
    this.set({ ...row, cells })
  }

  private set(row: TypedRow): void {
    if (row.cells.size === 0 && !row.isNew && !row.removed) this.rows.delete(row.name)
    else this.rows.set(row.name, row)
  }

  private insert(row: TypedRow, at: number): void {
    const before = at === Infinity ? undefined : this.newRows().at(at)
    if (!before) {
      this.rows.set(row.name, row)
      return
    }
    const rows = this.list()
    this.rows.clear()
    for (const each of rows) {
      if (each === before) this.rows.set(row.name, row)
      this.rows.set(each.name, each)
    }
  }
}

/** Whether another has changed what was typed over, or deleted the row. */
export const isInConflict = (row: TypedRow): boolean =>
  row.gone || [...row.cells.values()].some(({ theirs }) => theirs !== undefined)

export const hasProblem = (row: TypedRow): boolean =>
  row.problem !== null ||
  [...row.cells.values()].some(({ problem, now }) => problem !== null || now.text !== null)

/** A key as a document holds it. */
const plainKey = (key: KeyValue): ChangeList['removed'][number]['key'] => (isKeyList(key) ? [...key] : key)
