import type { RowId, Rows } from '../table/row-id.ts'
import { RowSet } from './row-set.ts'

/** With more rows taken out of all, they are told one by one. */
const MOST_EXCEPT = 10_000

/** All rows that a request lets pass, but some. */
interface AllBut<Request> {
  readonly request: Request
  readonly except: RowSet
}

/** What is ticked, told as briefly as it was done: rows, or all that a request lets pass but some. */
export type Ticked<Request> =
  | { readonly kind: 'rows'; readonly rows: RowSet }
  | { readonly kind: 'all-but'; readonly request: Request; readonly except: RowSet }

/**
 * Which rows are ticked. All that pass are ticked at once, and told as that for as long as nothing else is and few are
 * taken out; where the source cannot say which rows these are, it is all that is known.
 */
export class TickedRows<Request> {
  private rows = new RowSet()
  private all: AllBut<Request> | null = null
  /** Rows are known one by one; else only what is taken out of all. */
  private listed = true

  /** How many are ticked; `passing`: how many pass, for where they are not known one by one. */
  size(passing: number): number {
    return this.listed ? this.rows.size : Math.max(0, passing - (this.all?.except.size ?? 0))
  }

  get isEmpty(): boolean {
    return this.listed && this.rows.size === 0
  }

  /** The ticked rows one by one; null where nobody knows them all. */
  get known(): RowSet | null {
    return this.listed ? this.rows : null
  }

  has(row: RowId): boolean {
    return this.listed ? this.rows.has(row) : !this.all?.except.has(row)
  }

  get told(): Ticked<Request> {
    return this.all ? { kind: 'all-but', ...this.all } : { kind: 'rows', rows: this.rows }
  }

  /** All that pass: `rows`, or null where the source cannot list them. `request`: by what they do; null: it is not to be told. */
  tickAll(request: Request | null, rows: Rows | null): void {
    if (rows === null) {
      this.clear()
      if (request === null) return
      this.listed = false
      this.all = { request, except: new RowSet() }
      return
    }
    const others = this.rows.copy()
    others.deleteAll(rows)
    this.rows.addAll(rows)
    this.all = request !== null && others.size === 0 ? { request, except: new RowSet() } : null
  }

  add(rows: Rows): void {
    if (!this.listed) {
      this.all?.except.deleteAll(rows)
      return
    }
    const before = this.all && this.rows.copy()
    this.rows.addAll(rows)
    if (!this.all || !before) return
    const beyond = this.rows.minus(before).minus(this.all.except)
    if (beyond.size > 0) this.all = null
    else this.all.except.deleteAll(rows)
  }

  delete(rows: Rows): void {
    if (!this.listed) {
      this.all?.except.addAll(rows)
      return
    }
    const before = this.all && this.rows.copy()
    this.rows.deleteAll(rows)
    if (!this.all || !before) return
    this.all.except.addAll({ kind: 'set', ...before.minus(this.rows).packed() })
    if (this.all.except.size > MOST_EXCEPT) this.all = null
  }

  /** Rows that are no longer there: nobody took them out. */
  drop(rows: Rows): void {
    this.rows.deleteAll(rows)
    this.all?.except.deleteAll(rows)
  }

  clear(): void {
    this.rows.clear()
    this.all = null
    this.listed = true
  }

  /** What is ticked as it is now; either is changed alone from then on. */
  copy(): TickedRows<Request> {
    const made = new TickedRows<Request>()
    made.rows = this.rows.copy()
    made.all = this.all && { request: this.all.request, except: this.all.except.copy() }
    made.listed = this.listed
    return made
  }

  /** The rows that this has and another has not, as far as they are known. */
  beyond(other: TickedRows<Request>): RowSet {
    if (this.listed && other.listed) return this.rows.minus(other.rows)
    if (!this.listed && !other.listed)
      return (other.all?.except ?? new RowSet()).minus(this.all?.except ?? new RowSet())
    return new RowSet()
  }
}
