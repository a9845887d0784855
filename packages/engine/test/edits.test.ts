import { toldLine } from './support/told-line.ts'
import { levelOf } from '../src/group/level.ts'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ChangeSet } from '../src/edit/change-set.ts'
import { EditableTable } from '../src/edit/editable-table.ts'
import { diffRows } from '../src/edit/diff-rows.ts'
import { gatherRows } from '../src/edit/gather-rows.ts'
import type { Flow } from '../src/flow/flow.ts'
import { lineCountOf, ViewReader } from '../src/flow/view.ts'
import { KeyIndex } from '../src/key/key-index.ts'
import { checkKey, proposeKeys } from '../src/key/propose-keys.ts'
import { JOINED_ROWS } from '../src/search/joined-text.ts'
import { hasBit } from '../src/table/bits.ts'
import { asRows, readRows, type RowObject } from '../src/read/rows/read-rows.ts'
import { PageSource } from '../src/source/page-source.ts'
import { idOfRow, idsOfKept, rowOfId, type RowId } from '../src/table/row-id.ts'
import { valueAt, type Table, type Value } from '../src/table/column.ts'
import { finish } from '../src/work/work.ts'
import { oracle, type OracleLine } from './support/oracle.ts'
import { COLUMNS, PLAIN, randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { rowsOf } from './support/read-rows-back.ts'
import { tagsOf } from '../src/table/shown-text.ts'
import { flowOver } from './support/flow-over.ts'
import { runs } from './support/runs.ts'

/** The first row has every field, so that types do not hang on what happens to be drawn. */
const TYPICAL = {
  site: 'Wold',
  note: 'x',
  count: 1,
  cover: 0.25,
  mass: 1.5,
  seen: true,
  day: '2021-01-01',
  tags: ['wet'],
}
const withKeys = (rows: readonly RowObject[], from = 0): RowObject[] =>
  rows.map((row, i) => ({ id: `k${from + i}`, ...row }))

const randomChange: fc.Arbitrary<ChangeSet> = fc.record({
  put: fc
    .tuple(randomRows, fc.integer({ min: 0, max: 90 }))
    .map(([rows, from]) => withKeys(rows.slice(0, 6), from)),
  update: fc.array(
    fc.record(
      {
        id: fc.nat(90).map(n => `k${n}`),
        count: fc.oneof(fc.integer({ min: 0, max: 50 }), fc.constant(2.5)),
        site: fc.constantFrom('Élan', 'new', null),
      },
      { requiredKeys: ['id'] },
    ),
    { maxLength: 4 },
  ),
  remove: fc.array(
    fc.nat(90).map(n => `k${n}`),
    { maxLength: 6 },
  ),
  restore: fc.array(
    fc.nat(90).map(n => `k${n}`),
    { maxLength: 9 },
  ),
})

/** An empty text and an empty list of tags are no values. */
const isEmpty = (value: unknown): boolean =>
  value === '' || value === null || value === undefined || (Array.isArray(value) && value.length === 0)

/** The same changes to a plain list of rows. */
function changeModel(
  model: Map<string, RowObject>,
  { put = [], update = [], remove = [], restore = [] }: ChangeSet,
  gone = new Map<string, RowObject>(),
): void {
  for (const key of restore as string[]) {
    const row = gone.get(key)
    if (row && !model.has(key)) model.set(key, row)
  }
  for (const key of remove as string[]) {
    const row = model.get(key)
    if (row) gone.set(key, row)
    model.delete(key)
  }
  for (const row of asRows(put))
    model.set(
      row.id as string,
      Object.fromEntries(['id', ...COLUMNS].map(k => [k, isEmpty(row[k]) ? null : row[k]])),
    )
  for (const row of asRows(update)) {
    const old = model.get(row.id as string)
    if (old) model.set(row.id as string, { ...old, ...row })
  }
}

const presentRows = (edits: EditableTable): Uint32Array =>
  Uint32Array.from(
    Array.from({ length: edits.table.rows }, (_, row) => row).filter(
      row => !(edits.absent && hasBit(edits.absent, row)),
    ),
  )

function linesOf(flow: Flow, table: Table, request: Parameters<Flow['arrange']>[0]): OracleLine[] {
  const { view } = finish(flow.arrange(request))
  const reader = new ViewReader(table, flow.shows, flow.columnIndexes, view)
  return Array.from({ length: lineCountOf(view) }, (_, i) => toldLine(reader.line(i)))
}

const isoDay = (day: Value): Value =>
  day === null ? null : new Date((day as number) * 864e5).toISOString().slice(0, 10)

describe('changes by key', () => {
  it('leave the table, and every stage of the flow, as if the rows had been so from the start', () => {
    fc.assert(
      fc.property(
        randomRows,
        fc.array(fc.tuple(randomRequest, randomChange), { minLength: 1, maxLength: 4 }),
        randomRequest,
        (rows, steps, last) => {
          const start = withKeys([TYPICAL, ...rows])
          const edits = new EditableTable(tableOf(start))
          const flow = flowOver(edits.table)
          const model = new Map<string, RowObject>()
          const gone = new Map<string, RowObject>()
          changeModel(model, { put: start })
          const check = (request: typeof last): void => {
            const present = presentRows(edits)
            const plain = { ...gatherRows(edits.table, present), ids: idsOfKept(edits.table, present) }
            const wanted = oracle(plain, request).lines.map(line =>
              'row' in line ? { row: present[line.row] } : line,
            )
            expect(linesOf(flow, edits.table, request)).toEqual(wanted)
          }
          for (const [request, change] of steps) {
            check(request)
            const { edit } = finish(edits.commit(change, ['id']))
            finish(flow.update(edit))
            changeModel(model, change, gone)
            check(request)
          }
          check(last)
          const held = rowsOf(gatherRows(edits.table, presentRows(edits))).map(row => ({
            ...row,
            day: isoDay(row.day),
            tags: row.tags === null ? null : tagsOf(row.tags as string),
          }))
          const byId = (a: RowObject, b: RowObject): number => String(a.id).localeCompare(String(b.id))
          expect(held.sort(byId)).toEqual([...model.values()].map(row => ({ ...row })).sort(byId))
          const ids = [...model.keys()]
          const found = finish(edits.find(['id'], ids))
          expect(Array.from(found, row => valueAt(edits.table.columns[0], row))).toEqual(ids)
          const idsOf = (): unknown[][] =>
            Array.from(presentRows(edits), row => [
              idOfRow(edits.table, row),
              valueAt(edits.table.columns[0], row),
            ])
          const before = idsOf()
          if (finish(edits.compact(0))) expect(rowsOf(edits.table)).toHaveLength(model.size)
          // Rows keep their ids, and are found by them.
          expect(idsOf()).toEqual(before)
          for (const [id, key] of before)
            expect(valueAt(edits.table.columns[0], rowOfId(edits.table, id as RowId))).toBe(key)
        },
      ),
      runs(250),
    )
  })

  it('say what they could not do, and leave those cells alone', () => {
    const edits = new EditableTable(
      tableOf([
        { id: 1, n: 5, day: '2024-01-02' },
        { id: 2, n: 6, day: '2024-01-03' },
      ]),
    )
    const { committed } = finish(
      edits.commit(
        {
          put: [{ id: 3, n: 'many', day: null }, { n: 7 }],
          update: [
            { id: 1, n: 2.5, day: 'soon' },
            { id: 9, n: 1 },
            { id: 2, colour: 'red' },
          ],
          remove: [8],
        },
        ['id'],
      ),
    )
    expect(committed).toEqual({
      updated: 2,
      inserted: 1,
      removed: 0,
      restored: 0,
      total: 3,
      problems: [
        { code: 'no-such-row', key: 8 },
        { code: 'not-of-type', field: 'n', type: 'integer', text: 'many' },
        { code: 'no-key', nth: 1 },
        { code: 'no-such-field', field: 'colour' },
        { code: 'not-of-type', field: 'day', type: 'date', text: 'soon' },
        { code: 'no-such-row', key: 9 },
      ],
    })
    expect(rowsOf(edits.table).map(({ n, day }) => [n, isoDay(day)])).toEqual([
      [2.5, '2024-01-02'],
      [6, '2024-01-03'],
      [null, null],
    ])
    expect(edits.table.fields[1]).toEqual({ key: 'n', type: 'number', decimals: 1 })
  })

  it('bring removed rows back to their places as they were, unless others have their keys or their room', () => {
    const edits = new EditableTable(tableOf(['a', 'b', 'c', 'd'].map((id, n) => ({ id, n }))))
    const commit = (changes: ChangeSet): unknown => finish(edits.commit(changes, ['id'])).committed
    const there = (): unknown[] =>
      rowsOf(gatherRows(edits.table, presentRows(edits))).map(({ id, n }) => [id, n])
    commit({ remove: ['b', 'c'] })
    commit({ put: [{ id: 'e', n: 9 }] })
    expect(commit({ restore: ['c', 'b', 'a', 'x'], update: [{ id: 'c', n: 7 }] })).toMatchObject({
      restored: 2,
      updated: 1,
      total: 5,
      problems: [
        { code: 'no-such-row', key: 'a' },
        { code: 'no-such-row', key: 'x' },
      ],
    })
    expect(there()).toEqual([
      ['a', 0],
      ['b', 1],
      ['c', 7],
      ['d', 3],
      ['e', 9],
    ])
    // A key that came back in a new row is that row's.
    commit({ remove: ['a'] })
    commit({ put: [{ id: 'a', n: 5 }] })
    expect(commit({ restore: ['a'] })).toMatchObject({ restored: 0, problems: [{ key: 'a' }] })
    commit({ remove: ['a', 'd'] })
    finish(edits.compact(0))
    expect(commit({ restore: ['a', 'd'] })).toMatchObject({ restored: 0, total: 3 })
    expect(() => finish(edits.commit({ restore: ['b'] }, []))).toThrow(/key/)
  })

  it('are not rounded: a number of more digits than its column tells is told, and the cell stays', () => {
    const edits = new EditableTable(tableOf([{ id: 1, n: 1.5, count: 2 }]))
    const put = [
      { id: 1, n: '12345678901234567890.12', count: 7 },
      { id: 2, n: 4, count: '12345678901234567890' },
    ]
    expect(finish(edits.commit({ put }, ['id'])).committed).toMatchObject({
      updated: 1,
      inserted: 1,
      problems: [
        { code: 'not-of-type', field: 'n', type: 'number', text: '12345678901234567890.12' },
        { code: 'not-of-type', field: 'count', type: 'integer', text: '12345678901234567890' },
      ],
    })
    expect(rowsOf(edits.table)).toEqual([
      { id: 1, n: 1.5, count: 7 },
      { id: 2, n: 4, count: null },
    ])
  })

  it('are searched as all rows show them once one value brings another decimal', () => {
    // So many different values that they are searched as joined texts, several of them.
    const rows = Array.from({ length: 5 * JOINED_ROWS }, (_, id) => ({ id, n: id / 2 }))
    const edits = new EditableTable(tableOf(rows))
    const flow = flowOver(edits.table)
    const plain = { order: [], conditions: {}, groups: [], open: { levels: null, except: [] } }
    const passing = (search: string): number =>
      finish(flow.arrange({ ...plain, search, searchColumns: ['n'] })).report.passing
    const half = rows.length / 2
    expect([passing('.5'), passing('.50')]).toEqual([half, 0])
    finish(flow.update(finish(edits.commit({ update: [{ id: 4, n: 2.25 }] }, ['id'])).edit))
    expect([passing('.50'), passing('.25')]).toEqual([half, 1])
  })

  it('are ordered and grouped anew by values in, beyond and between those that were counted before', () => {
    const directions = ['ascending', 'descending'] as const
    const requests = directions.flatMap(direction =>
      ([undefined, 'first', 'last'] as const).flatMap(missing =>
        [[], [levelOf('n')]].map(groups => ({
          ...PLAIN,
          order: [{ column: 'n', direction, ...(missing ? { missing } : {}) }],
          groups,
        })),
      ),
    )
    const changes: ChangeSet[] = [
      { update: [{ id: 3, n: 7 }] },
      { update: [{ id: 4, n: null }] },
      { update: [{ id: 5, n: 1000 }] },
      { update: [{ id: 6, n: -3 }] },
      { update: [{ id: 7, n: 2.5 }] },
      { put: [{ id: 100, n: 4 }] },
      { put: [{ id: 100, n: null }] },
      { put: [{ id: 100, n: 10 }] },
      { put: [{ id: 100, n: -1 }] },
      { put: [{ id: 100, n: 4.5 }] },
    ]
    // Orders that were asked for before are mended; others are made from codes that were.
    for (const [change, asked] of changes.flatMap(one => [
      [one, requests.slice(0, 2)] as const,
      [one, requests] as const,
    ])) {
      const edits = new EditableTable(tableOf(Array.from({ length: 60 }, (_, id) => ({ id, n: id % 10 }))))
      const flow = flowOver(edits.table)
      for (const request of asked) finish(flow.arrange(request))
      finish(flow.update(finish(edits.commit(change, ['id'])).edit))
      for (const request of requests)
        expect(linesOf(flow, edits.table, request)).toEqual(oracle(edits.table, request).lines)
    }
  })

  it('cost what they change: columns that did not change are the same, and memory is taken once', () => {
    const rows = Array.from({ length: 5000 }, (_, id) => ({ id, a: id % 7, b: `text ${id}`, c: id / 4 }))
    const edits = new EditableTable(tableOf(rows))
    const before = edits.table.columns
    finish(edits.commit({ update: [{ id: 17, a: 99 }] }, ['id']))
    const once = edits.table.columns
    expect(once.map((column, i) => column === before[i])).toEqual([true, false, true, true])
    finish(edits.commit({ update: [{ id: 18, a: 98 }], put: [{ id: 5000, a: 1, b: 'new', c: 2 }] }, ['id']))
    const [, a] = edits.table.columns
    expect(
      a.kind === 'number' && once[1].kind === 'number' && a.values.buffer === once[1].values.buffer,
    ).toBe(true)
    expect([17, 18, 5000].map(row => valueAt(a, row))).toEqual([99, 98, 1])
  })
})

describe('keys', () => {
  const parts = fc.array(
    fc.record({
      n: fc.option(fc.integer({ min: -4, max: 4 }), { nil: null }),
      t: fc.option(fc.constantFrom('a', 'b', 'é'), { nil: null }),
      x: fc.constantFrom(0, -0.5, 1e300),
    }),
    { minLength: 1, maxLength: 40 },
  )

  it('are found, and doubled ones counted, as a plain map would', () => {
    fc.assert(
      fc.property(parts, fc.subarray(['n', 't', 'x'] as const, { minLength: 1 }), (rows, fields) => {
        const table = tableOf([...rows, { n: 1, t: 'a', x: 1 }])
        const places = fields.map(key => table.fields.findIndex(field => field.key === key))
        const index = finish(KeyIndex.build(table, places))
        const first = new Map<string, number>()
        let [missing, doubled] = [0, 0]
        for (let row = 0; row < table.rows; row++) {
          const key = places.map(place => valueAt(table.columns[place], row))
          if (key.includes(null)) missing++
          else if (first.has(JSON.stringify(key))) doubled++
          else first.set(JSON.stringify(key), row)
        }
        expect([index.missing, index.doubled]).toEqual([missing, doubled])
        for (const [key, row] of first) expect(index.find(JSON.parse(key) as Value[])).toBe(row)
        expect(index.find(fields.map(() => 'nowhere'))).toBe(-1)
      }),
      runs(300),
    )
  })

  it('are proposed where they name every row, those called so first', () => {
    const rows = Array.from({ length: 50 }, (_, i) => ({
      place: `p${i}`,
      plot_id: 900 - i,
      kind: i % 3,
      half: i < 49 ? i : null,
    }))
    const table = tableOf(rows)
    expect(finish(proposeKeys(table)).map(({ fields }) => fields)).toEqual([['plot_id'], ['place']])
    expect(finish(checkKey(table, ['kind', 'half']))).toMatchObject({ unique: false, missing: 1, doubled: 0 })
    expect(finish(checkKey(table, ['kind']))).toMatchObject({
      unique: false,
      doubled: 47,
      examples: [{ first: 0, row: 3 }, {}, {}, {}, {}],
    })
    expect(finish(checkKey(table, ['gone']))).toMatchObject({ unique: false, missing: 50 })
  })

  it('may be given as texts that say them', () => {
    const edits = new EditableTable(tableOf([{ id: 7, big: 12345678901234567890n, day: '2024-02-03' }]))
    expect([...finish(edits.find(['id'], ['7', 8]))]).toEqual([0, -1])
    expect([...finish(edits.find(['day'], ['2024-02-03']))]).toEqual([0])
    expect([...finish(edits.find(['id', 'day'], [[7, '2024-02-03']]))]).toEqual([0])
    expect([...finish(edits.find([], [0, 1]))]).toEqual([0, -1])
  })
})

describe('two lists of rows', () => {
  const row = fc.record({ id: fc.nat(15), n: fc.constantFrom(1, 2, null) })
  const list = fc.uniqueArray(row, { maxLength: 12, selector: ({ id }) => id })
  const keep = fc.func(fc.constantFrom('same', 'copy', 'change', 'drop'))

  it('differ by changes that lead from one to the other, in its order', () => {
    let told = 0
    fc.assert(
      fc.property(list, keep, list, fc.boolean(), (before, fate, added, fresh) => {
        const kept = before.flatMap(old => {
          const now = fate(old.id)
          if (now === 'drop') return []
          return now === 'same' ? [old] : [{ ...old, n: now === 'copy' ? old.n : 7 }]
        })
        const rest = added.map(row => (fresh ? { ...row, id: row.id + 100 } : row))
        const after = fresh ? [...kept, ...rest] : rest
        const changes = finish(diffRows(before, after, ['id']))
        if (!changes) return
        told++
        const model = new Map<unknown, unknown>(before.map(old => [old.id, old]))
        for (const key of changes.remove!) model.delete(key)
        for (const put of asRows(changes.put!)) model.set(put.id, put)
        expect([...model.values()]).toEqual(after)
      }),
      runs(1000),
    )
    expect(told).toBeGreaterThan(200)
  })

  it('are compared by what they hold, and told apart from another order', () => {
    const rows = Array.from({ length: 100 }, (_, id) => ({ id, n: id % 3 }))
    const copies = rows.map(one => ({ ...one }))
    expect(finish(diffRows(rows, copies, ['id']))).toEqual({ put: [], remove: [] })
    copies[5].n = 9
    expect(finish(diffRows(rows, copies, ['id']))).toEqual({ put: [{ id: 5, n: 9 }], remove: [] })
    expect(finish(diffRows(rows, rows.toReversed(), ['id']))).toBeNull()
    expect(finish(diffRows(rows, [rows[1], rows[0], ...rows.slice(2)], ['id']))).toBeNull()
    expect(finish(diffRows(rows, [{ id: 900, n: 1 }, ...rows], ['id']))).toBeNull()
  })

  it('keep digits beyond what a double tells apart, also when room is given back', () => {
    const rows = Array.from({ length: 8 }, (_, id) => ({
      id: `r${id}`,
      big: `900719925474099${id}1`,
      seen: id % 2 === 0,
    }))
    const edits = new EditableTable(finish(readRows(rows, { big: { type: 'integer' } })).table)
    finish(edits.commit({ remove: ['r0', 'r3'], update: [{ id: 'r5', big: null }] }, ['id']))
    expect(finish(edits.compact(0))).toBe(true)
    const { columns, fields } = edits.table
    expect(columns[fields.findIndex(({ key }) => key === 'big')].kind).toBe('wide')
    const read = (key: string) =>
      [0, 1, 2, 3, 4, 5].map(row => valueAt(columns[fields.findIndex(field => field.key === key)], row))
    const left = rows.filter(({ id }) => id !== 'r0' && id !== 'r3')
    expect(read('big')).toEqual(left.map(({ id, big }) => (id === 'r5' ? null : big)))
    expect(read('seen')).toEqual(left.map(({ seen }) => seen))
  })

  it('show what they were asked again when a column is written otherwise, in search and order', async () => {
    const rows = Array.from({ length: 400 }, (_, id) => ({
      id,
      count: id === 7 ? 1.5 : id + 10,
      name: `n${id % 3}`,
    }))
    const source = new PageSource({ kind: 'table', table: finish(readRows(rows)).table })
    await source.open()
    const ask = async (search: string): Promise<number> =>
      (await source.view({ ...PLAIN, search, order: [{ column: 'name', direction: 'ascending' }] })).report
        .passing
    expect(await ask('1.50')).toBe(0)
    expect(await ask('1.5')).toBe(1)
    await source.commit({ update: [{ id: 3, count: 2.25 }] }, ['id'])
    expect(await ask('1.50')).toBe(1)
    expect(await ask('2.25')).toBe(1)
    source.close()
  })
})
