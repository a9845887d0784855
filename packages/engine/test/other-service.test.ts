import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { createFilter } from 'odata-v4-inmemory'
import { Edm, odata, ODataController, ODataServer } from 'odata-v4-server'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { FlowRequest } from '../src/flow/request.ts'
import { isAble } from '../src/question/abilities.ts'
import { serviceSource } from '../src/service/service-source.ts'
import type { RowSource } from '../src/source/row-source.ts'
import { asRowId } from '../src/table/row-id.ts'
import { oracle } from './support/oracle.ts'
import { PLAIN, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

// A service that others have written, of the protocol's version 4.0: metadata as XML, no lists, nothing put together.

class Sighting {}
Edm.Key(Sighting.prototype, 'id')
Edm.Int32(Sighting.prototype, 'id')
Edm.String(Sighting.prototype, 'site')
Edm.Int32(Sighting.prototype, 'count')

/** None is missing: what reads filters here fails at small letters of nothing. */
const SITES = ['Lower Ings', 'Upper Ings', 'Far Carr', 'Nether Holt', 'Long Mead']
const ROWS = Array.from({ length: 60 }, (_, id) => ({
  id,
  site: SITES[(id * 7) % SITES.length],
  count: id % 6 === 0 ? null : (id * 31) % 17,
}))
type Row = (typeof ROWS)[number]
type Conditions = FlowRequest['conditions']

interface Option {
  readonly type: string
  readonly raw: string
  readonly value: unknown
}

class Sightings extends ODataController {
  find(query: { value: { options: Option[] } } | undefined): Row[] {
    const options = query?.value.options ?? []
    const of = (type: string): Option | undefined => options.find(option => option.type === type)
    const filter = of('Filter')
    const passes = filter ? createFilter(filter.value as string) : () => true
    const rows = ROWS.filter(row => passes(row))
    const keys = (of('OrderBy')?.raw ?? '').replace(/^.*?=/, '').split(',').filter(Boolean)
    for (const key of keys.reverse()) {
      const [name, direction] = decodeURIComponent(key).trim().split(/\s+/) as [keyof Row, string?]
      const sign = direction === 'desc' ? -1 : 1
      // No value is less than any.
      rows.sort((a, b) => sign * compare(a[name], b[name]))
    }
    const number = (type: string, otherwise: number): number =>
      Number(/\d+$/.exec(of(type)?.raw ?? '')?.[0] ?? otherwise)
    const skip = number('Skip', 0)
    return rows.slice(skip, skip + number('Top', rows.length))
  }
}
const compare = (a: string | number | null, b: string | number | null): number =>
  a === b ? 0 : a === null ? -1 : b === null ? 1 : a < b ? -1 : 1

/** Rows that are changed, apart from those that are only read. */
class Notes extends ODataController {
  static rows: { id: number; text: string | null }[] = []

  find(): object[] {
    return Notes.rows
  }
  findOne(key: number): object | undefined {
    return Notes.rows.find(({ id }) => id === key)
  }
  insert(row: { id: number; text: string }): object {
    Notes.rows.push(row)
    return row
  }
  update(key: number, delta: object): void {
    Object.assign(Notes.rows.find(({ id }) => id === key) ?? {}, delta)
  }
  remove(key: number): void {
    Notes.rows = Notes.rows.filter(({ id }) => id !== key)
  }
}
class Note {}
Edm.Key(Note.prototype, 'id')
Edm.Int32(Note.prototype, 'id')
Edm.String(Note.prototype, 'text')
odata.type(Note)(Notes)
const taking = Notes.prototype
odata.GET()(taking, 'find')
odata.GET()(taking, 'findOne')
odata.key(taking, 'findOne', 0)
odata.POST()(taking, 'insert')
odata.body(taking, 'insert', 0)
odata.PATCH()(taking, 'update')
odata.key(taking, 'update', 0)
odata.body(taking, 'update', 1)
odata.DELETE()(taking, 'remove')
odata.key(taking, 'remove', 0)

odata.type(Sighting)(Sightings)
odata.query(Sightings.prototype, 'find', 0)
odata.GET()(Sightings.prototype, 'find')
class Service extends ODataServer {}
odata.controller(Sightings, 'sightings', Sighting)(Service)
odata.controller(Notes, 'notes', Note)(Service)

let server: Server
beforeAll(() => {
  // It tells of what it does not know by itself.
  vi.spyOn(console, 'log').mockImplementation(() => {})
  server = Service.create(0) as unknown as Server
})
afterAll(() => void server.close())

async function opened(rows = 'sightings'): Promise<RowSource> {
  const { port } = server.address() as AddressInfo
  const source = serviceSource({ address: `http://localhost:${port}`, rows })
  await source.open()
  return source
}

const part = {
  site: fc.oneof(
    fc.record({
      kind: fc.constantFrom('contains' as const, 'starts' as const, 'ends' as const, 'excludes' as const),
      text: fc.constantFrom('ings', 'LOWER', 'HOLT', 'r'),
    }),
    fc.record({
      kind: fc.constantFrom('equals' as const, 'differs' as const),
      value: fc.constantFrom('far carr', 'Nether Holt'),
    }),
    fc.record({
      kind: fc.constantFrom('one-of' as const, 'none-of' as const),
      values: fc.constantFrom(['Far Carr', 'lower ings'], ['Nether Holt']),
    }),
    fc.record({ kind: fc.constantFrom('missing' as const, 'present' as const) }),
  ),
  count: fc.oneof(
    fc.record({
      kind: fc.constant('range' as const),
      from: fc.integer({ min: 0, max: 9 }),
      to: fc.integer({ min: 5, max: 17 }),
    }),
    fc.record({
      kind: fc.constantFrom('above' as const, 'below' as const, 'equals' as const, 'differs' as const),
      value: fc.integer({ min: 0, max: 17 }),
    }),
    fc.record({
      kind: fc.constantFrom('one-of' as const, 'none-of' as const),
      values: fc.constantFrom([3, 9], [14]),
    }),
    fc.record({ kind: fc.constantFrom('missing' as const, 'present' as const) }),
  ),
}
const condition = <T>(parts: fc.Arbitrary<T>) =>
  fc.record({
    match: fc.constantFrom('all' as const, 'any' as const),
    parts: fc.array(parts, { minLength: 1, maxLength: 2 }),
  })

describe('a service that others have written', () => {
  it('takes changes, and tells of those that came in between', async () => {
    Notes.rows = [
      { id: 1, text: 'a' },
      { id: 2, text: 'b' },
      { id: 3, text: 'c' },
    ]
    const source = await opened('notes')
    const { rows } = await source.save!(
      {
        format: 'vast-meadow-changes',
        version: 1,
        changed: [
          { key: 1, before: { text: 'a' }, after: { text: "it's" } },
          { key: 2, before: { text: 'z' }, after: { text: 'y' } },
          { key: 9, before: { text: 'z' }, after: { text: 'y' } },
        ],
        added: [{ name: 'n1', values: { id: 4, text: 'd' } }],
        removed: [{ key: 3 }],
        notValid: [],
      },
      ['id'],
    )
    expect(rows).toEqual([
      { key: 3, saved: true },
      { key: 1, saved: { id: 1, text: "it's" } },
      { key: 2, there: { id: 2, text: 'b' } },
      { key: 9, there: null },
      { name: 'n1', key: 4, saved: { id: 4, text: 'd' } },
    ])
    expect(Notes.rows).toEqual([
      { id: 1, text: "it's" },
      { id: 2, text: 'b' },
      { id: 4, text: 'd' },
    ])
    source.close()
  })

  it('says of itself what it can', async () => {
    const source = await opened()
    const { fields, can, total } = await source.ask('description', {})
    expect(fields.map(({ key, type }) => `${key} ${type}`)).toEqual([
      'id integer',
      'site text',
      'count integer',
    ])
    expect(total).toEqual({ kind: 'exact', rows: 60 })
    expect([isAble(can.groups), isAble(can.summaries), isAble(can.conditions, 'pattern')]).toEqual([
      false,
      false,
      false,
    ])
    expect([isAble(can.order), isAble(can.conditions, 'contains')]).toEqual([true, true])
  })

  it('answers the same rows as the engine in the page', async () => {
    const source = await opened()
    const table = tableOf(ROWS)
    await fc.assert(
      fc.asyncProperty(
        fc.record({ site: condition(part.site), count: condition(part.count) }, { requiredKeys: [] }),
        fc.constantFrom('ascending' as const, 'descending' as const),
        async (conditions, direction) => {
          const missing = direction === 'ascending' ? ('first' as const) : ('last' as const)
          const request: FlowRequest = {
            ...PLAIN,
            searchColumns: [],
            conditions: conditions as Conditions,
            // Texts come in the order of their letters' numbers there.
            order: [{ column: 'count', direction, missing }],
          }
          const view = await source.view(request)
          const { rows } = oracle(table, request)
          expect(view.counts.passing.rows).toBe(rows.length)
          const { lines } = await source.ask('cells', {
            view: view.id,
            from: 0,
            to: rows.length,
            columns: ['site'],
          })
          expect(lines.map(line => (line.kind === 'row' ? Number(line.row) : -1))).toEqual([...rows])
          view.close()
        },
      ),
      runs(60),
    )
  })

  it('finds rows by their keys, and where they stand', async () => {
    const source = await opened()
    const found = await source.ask('findRows', { keyFields: ['id'], keys: [3, 99, 41] })
    expect(found).toEqual([asRowId(3), null, asRowId(41)])
    const view = await source.view({
      ...PLAIN,
      searchColumns: [],
      order: [{ column: 'count', direction: 'descending' }],
    })
    const rows = ROWS.map(({ id }) => id).sort((a, b) => -compare(ROWS[a].count, ROWS[b].count) || a - b)
    const lines = await source.ask('linesOf', { view: view.id, rows: [3, 0, 59].map(asRowId) })
    expect(lines).toEqual([3, 0, 59].map(id => rows.indexOf(id)))
  })
})
