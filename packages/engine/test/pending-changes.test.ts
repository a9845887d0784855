import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { EditableTable } from '../src/edit/editable-table.ts'
import { PendingChanges } from '../src/pending/pending-changes.ts'
import { privateMemory } from '../src/table/allocate.ts'
import { valueAt, type Table, type Value } from '../src/table/column.ts'
import { readRows } from '../src/read/rows/read-rows.ts'
import { finish } from '../src/work/work.ts'

const KEYS = ['id']
const ROWS = [
  { id: 1, name: 'oak', count: 3, seen: true },
  { id: 2, name: 'elm', count: 5, seen: false },
  { id: 3, name: 'ash', count: null, seen: true },
]

const tableOf = (rows: readonly Record<string, unknown>[]): Table => finish(readRows(rows)).table
const changesOver = (rows: readonly Record<string, unknown>[] = ROWS) => {
  const saved = new EditableTable(tableOf(rows))
  return { saved, pending: new PendingChanges(saved, privateMemory) }
}
const rowsOf = ({ fields, columns, rows }: Table): Record<string, Value>[] =>
  Array.from({ length: rows }, (_, row) =>
    Object.fromEntries(fields.map(({ key }, place) => [key, valueAt(columns[place], row)])),
  )

describe('pending changes', () => {
  it('are shown, while the saved rows keep what they have', () => {
    const { saved, pending } = changesOver()
    const before = rowsOf(saved.table)
    const { committed } = finish(pending.commit({ pending: [{ id: 2, name: 'beech', count: 2.5 }] }, KEYS))
    expect(committed).toMatchObject({ updated: 1, problems: [] })
    expect(rowsOf(saved.table)).toEqual(before)
    expect(rowsOf(pending.table)[1]).toEqual({ id: 2, name: 'beech', count: 2.5, seen: false })
    expect(pending.list()).toEqual([
      {
        row: 1,
        gone: false,
        cells: [
          { field: 'name', before: 'elm', after: 'beech' },
          { field: 'count', before: 5, after: 2.5 },
        ],
      },
    ])
  })

  it('are given back by row or all together', () => {
    const { saved, pending } = changesOver()
    finish(
      pending.commit(
        {
          pending: [
            { id: 1, count: 9 },
            { id: 3, count: 9 },
          ],
        },
        KEYS,
      ),
    )
    const { edit } = finish(pending.commit({ giveBack: [3] }, KEYS))
    expect(rowsOf(edit.table).map(({ count }) => count)).toEqual([9, 5, null])
    expect([...edit.touched]).toEqual([[2, Uint32Array.of(2)]])
    finish(pending.commit({ giveBack: 'all' }, KEYS))
    expect(pending.list()).toEqual([])
    expect(pending.table).toBe(saved.table)
  })

  it('are saved by row, and only then written', () => {
    const { saved, pending } = changesOver()
    finish(
      pending.commit(
        {
          pending: [
            { id: 1, name: 'yew' },
            { id: 2, name: 'fir' },
          ],
        },
        KEYS,
      ),
    )
    finish(pending.commit({ save: [2] }, KEYS))
    expect(rowsOf(saved.table).map(({ name }) => name)).toEqual(['oak', 'fir', 'ash'])
    expect(rowsOf(pending.table).map(({ name }) => name)).toEqual(['yew', 'fir', 'ash'])
    expect(pending.list().map(({ row }) => row)).toEqual([0])
  })

  it('are taken back by typing what is saved', () => {
    const { pending } = changesOver()
    finish(pending.commit({ pending: [{ id: 1, name: 'yew' }] }, KEYS))
    finish(pending.commit({ pending: [{ id: 1, name: 'oak' }] }, KEYS))
    expect(pending.list()).toEqual([])
  })

  it('stay on top of rows that change underneath, and tell what is saved by now', () => {
    const { pending } = changesOver()
    finish(pending.commit({ pending: [{ id: 1, count: 9 }] }, KEYS))
    finish(pending.commit({ update: [{ id: 1, count: 4, name: 'yew' }] }, KEYS))
    expect(rowsOf(pending.table)[0]).toMatchObject({ count: 9, name: 'yew' })
    expect(pending.list()[0].cells).toEqual([{ field: 'count', before: 4, after: 9 }])
  })

  it('are kept, and told, where the row is gone', () => {
    const { pending } = changesOver()
    finish(pending.commit({ pending: [{ id: 1, count: 9 }] }, KEYS))
    finish(pending.commit({ remove: [1] }, KEYS))
    finish(pending.commit({ save: 'all' }, KEYS))
    expect(pending.list()).toEqual([
      { row: 0, gone: true, cells: [{ field: 'count', before: null, after: 9 }] },
    ])
  })

  it('of what does not fit are told, and the cell stays', () => {
    const { pending } = changesOver()
    const { committed } = finish(
      pending.commit(
        {
          pending: [
            { id: 1, count: 'many' },
            { id: 8, count: 1 },
          ],
        },
        KEYS,
      ),
    )
    expect(committed.problems).toEqual([
      { code: 'not-of-type', field: 'count', type: 'integer', text: 'many' },
      { code: 'no-such-row', key: 8 },
    ])
    expect(pending.list()).toEqual([])
  })

  it('need a key', () => {
    expect(() => finish(changesOver().pending.commit({ pending: [{ count: 1 }] }, []))).toThrow(
      /only be changed by their key/,
    )
  })

  it('do not share the room behind a dictionary with the saved rows', () => {
    const many = Array.from({ length: 40 }, (_, id) => ({ id, name: `tree ${id % 4}` }))
    const { saved, pending } = changesOver(many)
    finish(saved.commit({ update: [{ id: 0, name: 'alder' }] }, KEYS))
    finish(pending.commit({ pending: [{ id: 1, name: 'birch' }] }, KEYS))
    finish(pending.commit({ update: [{ id: 2, name: 'cedar' }] }, KEYS))
    expect(
      rowsOf(pending.table)
        .slice(0, 3)
        .map(({ name }) => name),
    ).toEqual(['alder', 'birch', 'cedar'])
    expect(
      rowsOf(saved.table)
        .slice(0, 3)
        .map(({ name }) => name),
    ).toEqual(['alder', 'tree 1', 'cedar'])
  })

  it('do as a list of saved rows and a map of typed cells do, whatever happens in which order', () => {
    const id = fc.integer({ min: 0, max: 11 })
    const cells = fc.record(
      { id, name: fc.constantFrom('a', 'b', 'c', 'new', null), count: fc.constantFrom(0, 1, -7, 2.25, null) },
      { requiredKeys: ['id'] },
    )
    const some = fc.array(id, { maxLength: 4 })
    const act = fc.oneof(
      fc.record({ pending: fc.array(cells, { maxLength: 4 }) }),
      fc.record({ update: fc.array(cells, { maxLength: 4 }) }),
      fc.record({ remove: fc.uniqueArray(id, { maxLength: 2 }) }),
      fc.record({ put: fc.array(cells, { maxLength: 3 }) }),
      fc.record({ save: fc.oneof(some, fc.constant('all' as const)) }),
      fc.record({ giveBack: fc.oneof(some, fc.constant('all' as const)) }),
    )
    fc.assert(
      fc.property(fc.array(act, { maxLength: 12 }), acts => {
        const first = Array.from({ length: 8 }, (_, id) => ({ id, name: 'abc'[id % 3], count: id }))
        const { saved, pending } = changesOver(first)
        const oracle = new Oracle(first)
        for (const act of acts) {
          finish(pending.commit(act, KEYS))
          oracle.apply(act)
          const there = (table: Table) => rowsOf(table).filter((_, row) => !saved.isGone(row))
          expect(there(saved.table)).toEqual(oracle.saved)
          expect(there(pending.table)).toEqual(oracle.shown)
        }
      }),
    )
  })
})

type Row = Record<string, Value>
type Act = { [Kind in 'pending' | 'update' | 'put']?: readonly Record<string, unknown>[] } & {
  remove?: readonly number[]
  save?: readonly number[] | 'all'
  giveBack?: readonly number[] | 'all'
}

/** Row objects, and what was typed beside them; a removed row's typing waits under a name that no row has again. */
class Oracle {
  saved: Row[]
  private typed = new Map<Row, Row>()

  constructor(rows: readonly Row[]) {
    this.saved = rows.map(row => ({ ...row }))
  }

  get shown(): Row[] {
    return this.saved.map(row => ({ ...row, ...this.typed.get(row) }))
  }

  apply({ pending = [], update = [], put = [], remove = [], save, giveBack }: Act): void {
    this.saved = this.saved.filter(row => !remove.includes(row.id as number))
    for (const row of put) {
      const whole = { name: null, count: null, ...row } as Row
      const there = this.rowOf(row.id)
      if (there) Object.assign(there, whole)
      else this.saved.push({ id: whole.id, name: whole.name, count: whole.count })
    }
    for (const row of update) Object.assign(this.rowOf(row.id) ?? {}, row)
    for (const row of pending) {
      const there = this.rowOf(row.id)
      if (!there) continue
      const typed = Object.entries({ ...this.typed.get(there), ...(row as Row) })
      this.typed.set(there, Object.fromEntries(typed.filter(([field, value]) => there[field] !== value)))
    }
    for (const row of this.saved) {
      if (save === 'all' || save?.includes(row.id as number)) Object.assign(row, this.typed.get(row))
      if (save === 'all' || save?.includes(row.id as number)) this.typed.delete(row)
      if (giveBack === 'all' || giveBack?.includes(row.id as number)) this.typed.delete(row)
    }
  }

  private rowOf(id: unknown): Row | undefined {
    return this.saved.find(row => row.id === id)
  }
}
