import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ChangeList } from '../../engine/src/pending/change-list.ts'
import type { RowObject } from '../../engine/src/read/rows/read-rows.ts'
import type { CheckRowsArgs } from '../../engine/src/question/check-rows.ts'
import { serviceSource } from '../../engine/src/service/service-source.ts'
import { PageSource } from '../../engine/src/source/page-source.ts'
import type { RowRecord } from '../../engine/src/question/records.ts'
import type { RowSource } from '../../engine/src/source/row-source.ts'
import { randomRows, tableOf, PLAIN } from '../../engine/test/support/random-table.ts'
import { runs } from '../../engine/test/support/runs.ts'
import { serveTables, type Handler } from '../src/handler/serve-tables.ts'
import { databaseNames, DATABASES } from './support/databases.ts'
import { servedRows, type Served } from './support/random-rows-served.ts'

type Plain = string | number | boolean | null | string[]

const cell = {
  note: fc.constantFrom<Plain>('moved', "it's", 'a "b"', null),
  count: fc.oneof(fc.integer({ min: -9, max: 9 }), fc.constant(null)),
  cover: fc.constantFrom(0.05, 12.5, 99999.99, null),
  mass: fc.constantFrom(0.1, -1e-9, 3e100, null),
  seen: fc.constantFrom(true, false, null),
  day: fc.constantFrom('1969-12-31', '2024-02-29', null),
  tags: fc.constantFrom<Plain>(['x'], ['x', 'y z'], ['a,b', '"q"'], null),
}
const cells = fc.record(cell, { requiredKeys: [] })

describe.each(databaseNames)('changes saved in %s through the service', name => {
  let served: Served
  let writable: Handler
  let address = 0

  beforeAll(async () => {
    const database = await DATABASES[name]()
    served = await servedRows(database, false)
    writable = serveTables({
      engine: database.engine,
      path: '/rows',
      tables: [{ name: 'sightings', key: ['row'], change: { update: true, insert: true, remove: true } }],
    })
  })
  afterAll(() => served.close())

  async function opened(rows: readonly RowObject[]): Promise<RowSource> {
    await served.put(rows)
    const source = serviceSource({
      address: `http://service${address++}/rows`,
      rows: 'sightings',
      near: false,
      fetch: request => writable(request),
    })
    await source.open()
    return source
  }

  async function rowsOf(source: RowSource): Promise<Map<unknown, RowRecord>> {
    const found = new Map<unknown, RowRecord>()
    for await (const chunk of source.stream({ request: PLAIN }))
      for (const row of chunk) found.set(row.row, row)
    return found
  }

  const listOf = (more: Partial<ChangeList>): ChangeList => ({
    format: 'vast-meadow-changes',
    version: 1,
    changed: [],
    added: [],
    removed: [],
    notValid: [],
    ...more,
  })

  /** What a page's own rows say of the same changes, by their key. */
  async function asPageHasIt(rows: readonly RowObject[], list: ChangeList): Promise<Map<unknown, RowRecord>> {
    const table = tableOf(rows.map((row, at) => ({ row: at, ...row })))
    const page = new PageSource({ kind: 'table', table })
    await page.open()
    await page.commit(
      {
        update: list.changed.map(({ key, after }) => ({ row: key, ...after })),
        put: list.added.map(({ values }) => values),
        remove: list.removed.map(({ key }) => key),
      },
      ['row'],
    )
    const found = await rowsOf(page)
    page.close()
    return found
  }

  it('random lists come to what they come to in the page, counts included', async () => {
    await fc.assert(
      fc.asyncProperty(
        randomRows.filter(rows => rows.length > 2),
        fc.array(fc.tuple(fc.nat(), cells, fc.boolean()), { maxLength: 6 }),
        fc.array(cells, { maxLength: 3 }),
        async (rows, acts, added) => {
          const source = await opened(rows)
          const before = await rowsOf(source)
          const list = listOf({
            added: added.map((values, nth) => ({ name: `n${nth}`, values: { row: 1000 + nth, ...values } })),
          })
          const taken = new Set<number>()
          for (const [at, after, removed] of acts) {
            const key = at % rows.length
            if (taken.has(key)) continue
            taken.add(key)
            const was = before.get(key)
            if (removed) list.removed.push({ key })
            else if (Object.keys(after).length > 0)
              list.changed.push({
                key,
                before: Object.fromEntries(Object.keys(after).map(field => [field, plainOf(was, field)])),
                after,
              })
          }
          const answer = await source.save!(list, ['row'])
          expect(answer.rows?.filter(row => !row.saved)).toEqual([])
          const now = await rowsOf(source)
          expect(now).toEqual(await asPageHasIt(rows, list))
          const view = await source.view(PLAIN)
          expect(view.counts.total).toEqual({ kind: 'exact', rows: now.size })
          source.close()
        },
      ),
      runs(12),
    )
  })

  it('tells what others have changed meanwhile, and changes nothing of it', async () => {
    const source = await opened([
      { note: 'a', count: 1 },
      { note: 'b', count: 2 },
      { note: 'c', count: 3 },
    ])
    const mine = listOf({
      changed: [
        { key: 0, before: { note: 'stale' }, after: { note: 'mine' } },
        { key: 1, before: { note: 'b' }, after: { note: 'mine' } },
        { key: 9, before: { note: null }, after: { note: 'mine' } },
        // Somebody else came to the same.
        { key: 2, before: { count: 7 }, after: { count: 3 } },
      ],
    })
    const { rows } = await source.save!(mine, ['row'])
    expect(rows).toEqual([
      { key: 0, there: expect.objectContaining({ note: 'a', count: 1 }) as object },
      { key: 1, saved: expect.objectContaining({ row: 1, note: 'mine', count: 2 }) as object },
      { key: 9, there: null },
      { key: 2, saved: expect.objectContaining({ count: 3 }) as object },
    ])
    expect([...(await rowsOf(source)).values()].map(({ note }) => note)).toEqual(['a', 'mine', 'c'])
    source.close()
  })

  it('says of each row that is refused why, at its cell, and saves the others', async () => {
    const source = await opened([
      { note: 'a', count: 1 },
      { note: 'b', cover: 2 },
    ])
    const { rows } = await source.save!(
      listOf({
        changed: [
          { key: 0, before: { count: 1 }, after: { count: 3e9 } },
          { key: 1, before: { note: 'b' }, after: { note: 'new' } },
        ],
        added: [
          { name: 'n1', values: { row: 0, note: 'twice' } },
          { name: 'n2', values: { row: 5, note: 'c' } },
        ],
        removed: [{ key: 77 }],
      }),
      ['row'],
    )
    expect(rows).toEqual([
      { key: 77, saved: true },
      {
        key: 0,
        refused: '“count” takes a whole number within its range.',
        fields: { count: '“count” takes a whole number within its range.' },
      },
      { key: 1, saved: expect.objectContaining({ note: 'new' }) as object },
      { name: 'n1', refused: 'There is a row with this key already.' },
      { name: 'n2', key: 5, saved: expect.objectContaining({ row: 5, note: 'c' }) as object },
    ])
    source.close()
  })

  it('checks rows as the page does', async () => {
    const row = fc.record({
      id: fc.option(fc.nat({ max: 5 }), { nil: null }),
      values: fc.oneof(cells, fc.record({ note: fc.constantFrom('full', 'nowhere') })),
    })
    const args = fc.array(row, { minLength: 1, maxLength: 4 })
    // Rows of few different values, so that what is typed is often there already.
    await fc.assert(
      fc.asyncProperty(
        fc.array(cells, { minLength: 6, maxLength: 9 }),
        args,
        fc.boolean(),
        async (others, given, like) => {
          const rows = [FULL_ROW, ...others]
          const source = await opened(rows)
          const table = tableOf(rows.map((one, at) => ({ row: at, ...one })))
          const page = new PageSource({ kind: 'table', table })
          await page.open()
          const seen = new Set<number>()
          const asked = given.flatMap(({ id, values }) => {
            if (id !== null && seen.has(id)) return []
            if (id !== null) seen.add(id)
            return [{ id: id as never, values: columnValues(values) }]
          })
          const question: CheckRowsArgs = {
            rows: asked,
            computed: [{ key: 'twice', expression: 'count * 2' }],
            without: [],
            rules: {
              rules: [
                {
                  key: 'check:0',
                  expression: 'twice < 10 || note == "moved"',
                  fields: ['count'],
                  problem: { code: 'said', text: 'much' },
                  onlyPresent: true,
                },
                {
                  key: 'check:1',
                  expression: 'count < 5',
                  fields: [],
                  problem: { code: 'said', text: 'row' },
                  onlyPresent: false,
                },
              ],
              unique: ['count', 'note'],
              amongValuesOf: [
                {
                  field: 'note',
                  of: 'note',
                  like: like ? ['seen'] : [],
                  problem: { code: 'said', text: 'strange' },
                },
                { field: 'tags', of: 'tags', like: [], problem: { code: 'said', text: 'tag' } },
              ],
            },
          }
          const told = await source.ask('checkRows', question)
          expect(sorted(told)).toEqual(sorted(await page.ask('checkRows', question)))
          page.close()
          source.close()
        },
      ),
      runs(60),
    )
  })

  it('says what is saved of rows, also by fields that are not its key', async () => {
    const source = await opened([
      { note: 'a', count: 1 },
      { note: 'b', count: 2 },
    ])
    const by = (keyFields: readonly string[], keys: readonly (string | number)[]) =>
      source.ask('savedCells', { keyFields, keys, columns: ['count', 'nowhere'] })
    expect(await by(['row'], [1, 7, 0])).toEqual([
      { id: 1, values: [2, null] },
      null,
      { id: 0, values: [1, null] },
    ])
    expect(await by(['note'], ['b', 'c'])).toEqual([{ id: 1, values: [2, null] }, null])
    expect(await by(['nowhere'], ['b'])).toEqual([null])
    const saved = await source.save!(
      listOf({ changed: [{ key: 'b', before: { count: 2 }, after: { count: 20 } }] }),
      ['note'],
    )
    expect(saved.rows).toEqual([{ key: 'b', saved: expect.objectContaining({ count: 20 }) as object }])
    source.close()
  })
})

/** One that tells the page which type each column has. */
const FULL_ROW = {
  note: 'full',
  count: 100,
  cover: 1.25,
  mass: 2.5,
  seen: true,
  day: '2021-01-01',
  tags: ['full'],
}

/** Cells as columns keep them. */
function columnValues(
  values: Readonly<Record<string, Plain>>,
): Record<string, string | number | boolean | null> {
  return Object.fromEntries(
    Object.entries(values).map(([key, value]) => {
      if (Array.isArray(value)) return [key, JSON.stringify(value)]
      return [key, key === 'day' && value !== null ? Date.parse(String(value)) / 86_400_000 : value]
    }),
  )
}

const sorted = (problems: readonly { readonly nth: number; readonly field: string | null }[]): string[] =>
  problems.map(problem => JSON.stringify(problem)).sort()

function plainOf(row: RowRecord | undefined, field: string): Plain {
  const value = (row?.[field] ?? null) as Plain
  return field === 'day' && typeof value === 'number'
    ? new Date(value * 86_400_000).toISOString().slice(0, 10)
    : value
}
