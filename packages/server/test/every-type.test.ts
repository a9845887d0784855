import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ConditionPart } from '../../engine/src/condition/condition.ts'
import type { Summary } from '../../engine/src/summary/summary.ts'
import { SUMMARY_METHODS } from '../../engine/src/service/service-abilities.ts'
import { serviceSource } from '../../engine/src/service/service-source.ts'
import type { RowSource } from '../../engine/src/source/row-source.ts'
import { keysIn } from '../../engine/src/work/checked.ts'
import { PLAIN } from '../../engine/test/support/random-table.ts'
import { serveTables, type Handler } from '../src/handler/serve-tables.ts'
import { databaseNames, DATABASES, type Database } from './support/databases.ts'

/** By column: a value as a statement, and the text that a cell shows. */
type Columns = Readonly<Record<string, readonly [literal: string, shown: string]>>

const OF_ALL: Columns = {
  id: ['cast(1 as bigint)', '1'],
  big: ['cast(9007199254740993 as bigint)', '9007199254740993'],
  float: ['cast(0.5 as real)', '0.5'],
  infinite: ["cast('Infinity' as double precision)", 'Infinity'],
  none: ["cast('NaN' as double precision)", ''],
  late: ["timestamp '1969-12-31 23:59:59.999'", '1969-12-31 23:59:59.999'],
  zoned: ["timetz '10:00:00+02'", '10:00:00+02'],
  uuid: ["cast('17824c26-0bcb-45a4-aaf4-23929e797a93' as uuid)", '17824c26-0bcb-45a4-aaf4-23929e797a93'],
}

const OF: Readonly<Record<string, Columns>> = {
  DuckDB: {
    ...OF_ALL,
    huge: ['cast(200000000000000000001 as hugeint)', '200000000000000000001'],
    unsigned: ['cast(18446744073709551615 as ubigint)', '18446744073709551615'],
    nanos: ["timestamp_ns '2024-01-01 00:00:00.123456789'", '2024-01-01 00:00:00.123'],
    interval: ['interval 3 day', '3 days'],
    structure: ["{'a': 1, 'b': 'x'}", "{'a': 1, 'b': x}"],
    list: ['[1, 2]', '[1, 2]'],
    map: ["map {'a': 1}", '{a=1}'],
    json: [`cast('{"a":1}' as json)`, '{"a":1}'],
    bits: ["cast('101' as bit)", '101'],
  },
  PostgreSQL: {
    ...OF_ALL,
    digits: ['cast(200000000000000000001 as numeric)', '200000000000000000001'],
    interval: ["interval '3 days 2 hours'", 'P3DT2H'],
    list: ['array[1, 2]', '{1,2}'],
    json: [`cast('{"a":1}' as jsonb)`, '{"a": 1}'],
    bits: ["b'101'", '101'],
    address: ["inet '10.0.0.1'", '10.0.0.1/32'],
    range: ['int4range(1, 5)', '[1,5)'],
    padded: ["cast('x' as char(5))", 'x'],
    name: ["cast('nm' as name)", 'nm'],
    point: ['point(1, 2)', '(1,2)'],
    several: ["cast(array['a', 'b'] as varchar[])", 'a, b'],
    object: ['cast(7 as oid)', '7'],
  },
}

const PARTS: readonly ConditionPart[] = [
  { kind: 'contains', text: '1' },
  { kind: 'starts', text: 'x' },
  { kind: 'equals', value: '12' },
  { kind: 'equals', value: 'no such' },
  { kind: 'one-of', values: ['1', 'x', 2] },
  { kind: 'none-of', values: [1, 'x'] },
  { kind: 'at-least', value: 3 },
  { kind: 'range', from: '2024-01-01', to: '2024-02' },
  { kind: 'missing' },
  { kind: 'present' },
]

describe.each(databaseNames.filter(name => name in OF))('columns of every type of %s', name => {
  let database: Database
  let handler: Handler
  let source: RowSource
  const columns = OF[name]
  const names = Object.keys(columns)

  beforeAll(async () => {
    database = await DATABASES[name]()
    const list = Object.entries(columns).map(([column, [literal]]) => `${literal} as "${column}"`)
    const bytes = name === 'DuckDB' ? "cast('ab' as blob)" : "cast('ab' as bytea)"
    await database.run(`create table every as select ${list.join(', ')}, ${bytes} as bytes`)
    handler = serveTables({
      engine: database.engine,
      tables: [{ name: 'every', key: ['id'], change: { update: true, insert: true } }],
      path: '/rows',
    })
    source = serviceSource({ address: 'http://s/rows', rows: 'every', near: false, fetch: handler })
  })
  afterAll(() => database.close())

  it('are shown, and what cannot be is told', async () => {
    const { fields, samples, notes } = await source.open()
    expect(fields.map(({ key }) => key)).toEqual(names)
    expect(samples.map(([text]) => text)).toEqual(names.map(column => columns[column][1]))
    expect(notes).toEqual(['Left out, because no cell can show them: bytes.'])
  })

  it('are asked, ordered, grouped and summed up without an error', async () => {
    for (const column of names) {
      for (const part of PARTS)
        await source.view({ ...PLAIN, conditions: { [column]: { match: 'all', parts: [part] } } })
      for (const direction of ['ascending', 'descending'] as const) {
        const { id } = await source.view({ ...PLAIN, order: [{ column, direction }] })
        await source.ask('cells', { view: id, from: 0, to: 1, columns: names })
      }
      await source.view({
        ...PLAIN,
        groups: [
          {
            column,
            bucket: { by: 'value' },
            order: { by: 'key', direction: 'ascending', missing: 'last' },
            feet: false,
          },
        ],
      })
      await source.ask('facets', { request: PLAIN, column, limit: 9 })
      for (const summary of keysIn(SUMMARY_METHODS) as Summary[])
        await source.ask('summarize', { request: PLAIN, of: [{ column, summary }] })
    }
    for (const search of ['1', 'abc', '2024', 'nan'])
      await source.view({ ...PLAIN, search, searchColumns: names })
  })

  it('of which only texts are told are not written', async () => {
    for (const [method, place] of [
      ['PATCH', 'every(1)'],
      ['POST', 'every'],
    ]) {
      const answer = await handler(
        new Request(`http://s/rows/${place}`, {
          method,
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ ...(method === 'POST' && { id: 2 }), list: '[3]' }),
        }),
      )
      expect(answer.status).toBe(403)
      expect(await answer.json()).toMatchObject({ error: { code: 'fixed', target: 'list' } })
    }
  })

  it('whose values have no bounds have a scale of those that do', async () => {
    const table = `create table bounds as select * from (values (1, 1.5), (2, 2.5), (3, cast('Infinity' as double precision)),
      (4, cast('-Infinity' as double precision)), (5, cast('NaN' as double precision)), (6, null)) as t(id, size)`
    await database.run(table)
    const serving = serveTables({ engine: database.engine, tables: [{ name: 'bounds', key: ['id'] }] })
    const bounds = serviceSource({ address: 'http://s', rows: 'bounds', near: false, fetch: serving })
    await bounds.open()
    const facets = await bounds.ask('facets', { request: PLAIN, column: 'size', limit: 9 })
    expect(facets).toMatchObject({ low: 1.5, high: 2.5, least: 1.5, most: 2.5 })
    expect([facets.histogram[0], facets.histogram.at(-1)]).toEqual([2, 2])
    expect(facets.values).toContainEqual({ value: 'Infinity', shown: 'Infinity', count: 1 })
    bounds.close()
  })
})
