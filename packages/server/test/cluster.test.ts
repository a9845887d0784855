import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { SqlEngine } from '../src/engine/engine.ts'
import { serveTables, type Handler } from '../src/handler/serve-tables.ts'
import type { Statement } from '../src/statement/statement.ts'
import { hasPostgres, postgresCluster, type ClusterDatabase } from './support/databases.ts'

let cluster: ClusterDatabase
let handler: Handler
/** The statements of the last question. */
let statements: Statement[] = []

const COLUMNS = {
  id: 'integer not null',
  site: 'text',
  cover: 'decimal(10, 2)',
  day: 'date',
  at: 'timestamptz',
}

describe.runIf(hasPostgres)('a table that several servers keep', () => {
  beforeAll(async () => {
    cluster = await postgresCluster()
    await cluster.makeTable('rows', COLUMNS, ['id'], ['site'])
    await cluster.run(`insert into rows select i, (array['Élan', 'Zoë', 'Lower Ings'])[1 + i % 3], i / 4.0,
    date '2024-01-01' + i, timestamptz '2024-01-01 10:00:00+00' + i * interval '1 hour' from generate_series(1, 300) i`)
    const { engine } = cluster
    const heard: SqlEngine = {
      ...engine,
      count: (statement, signal) => {
        statements.push(statement)
        return engine.count(statement, signal)
      },
      rows: (statement, signal) => {
        statements.push(statement)
        return engine.rows(statement, signal)
      },
    }
    handler = serveTables({
      engine: heard,
      tables: [{ name: 'rows', key: ['id'] }],
      limits: { places: { from: 50, step: 20, keptMs: 60_000 } },
    })
  })
  afterAll(() => cluster.close())

  async function ask(path: string, params: Readonly<Record<string, string>> = {}) {
    statements = []
    const answer = await handler(new Request(`http://here/${path}?${new URLSearchParams(params).toString()}`))
    const text = await answer.text()
    return {
      status: answer.status,
      text,
      value: text.startsWith('{') ? (JSON.parse(text) as Body).value : [],
      error: text.startsWith('{') ? (JSON.parse(text) as Body).error : undefined,
    }
  }
  interface Body {
    readonly value: Record<string, unknown>[]
    readonly error?: { readonly code: string; readonly message: string }
  }

  /** What the servers behind are asked, for the last statement of a question. */
  async function remotely(path: string, params: Readonly<Record<string, string>> = {}): Promise<string[]> {
    const { status, text } = await ask(path, params)
    expect(status, text).toBe(200)
    const { text: statement, values } = statements[statements.length - 1]
    const plan = await cluster.plan(statement, values)
    expect(plan).toContain('Async Foreign Scan')
    return Array.from(plan.matchAll(/Remote SQL: (.*)/g), ([, remote]) => remote)
  }

  it.each([
    ['a condition on a text', { $filter: "site eq 'Zoë'" }],
    ['a condition on a number', { $filter: 'cover gt 10.5 and not (cover gt 70)' }],
    ['a condition on folded letters', { $filter: "contains(VastMeadow.fold(site),'elan')" }],
    [
      'a condition on a time',
      { $filter: 'day ge 2024-02-01 and day lt 2024-03-01 and at lt 2024-01-03T00:00:00Z' },
    ],
    ['a search', { $search: 'elan' }],
  ])('counts %s where the rows are', async (_, params) => {
    const asked = await remotely('rows/$count', params)
    expect(asked.length).toBe(3)
    for (const remote of asked) expect(remote).toMatch(/^SELECT count\(\*\) FROM .* WHERE/)
  })

  it('has the first rows of an order found where they are', async () => {
    const asked = await remotely('rows', { $orderby: 'site desc,cover', $top: '5', $filter: 'cover lt 50' })
    expect(asked.length).toBe(3)
    for (const remote of asked) expect(remote).toMatch(/WHERE .* ORDER BY .* LIMIT 5/)
  })

  it('goes on from a place where the rows are', async () => {
    const asked = await remotely('rows', { $orderby: 'site,cover desc', $top: '5', $skip: '103' })
    expect(asked.filter(remote => /WHERE .*\$\d.* ORDER BY .* LIMIT/.test(remote)).length).toBe(3)
  })

  it('groups and sums up where the rows are', async () => {
    const methods = ['sum', 'average', 'min', 'max', 'countdistinct', 'VastMeadow.deviation']
    const aggregates = methods.map((method, i) => `cover with ${method} as a${i}`).join(',')
    const asked = await remotely('rows', { $apply: `groupby((site),aggregate($count as n,${aggregates}))` })
    expect(asked.length).toBe(3)
    for (const remote of asked) expect(remote).toMatch(/SELECT site, cover, count\(\*\).* GROUP BY 1, 2/)
    const { value } = await ask('rows', {
      $apply: `filter(cover gt 5)/groupby((site),aggregate($count as n,${aggregates}))`,
      $orderby: 'site',
    })
    expect(value.map(({ site, n }) => [site, n])).toEqual([
      ['Élan', 94],
      ['Lower Ings', 93],
      ['Zoë', 93],
    ])
  })

  it('brings rows together for what cannot be put together from parts', async () => {
    const { value } = await ask('rows', { $apply: 'aggregate(cover with VastMeadow.median as m)' })
    expect(value).toEqual([{ m: 37.625 }])
  })

  it('finds the deviation of values that are large and near to one another', async () => {
    await cluster.makeTable('far', { id: 'integer not null', v: 'double precision' }, ['id'])
    await cluster.run('insert into far select i, 1e9 + i % 2 from generate_series(1, 1000) i')
    const far = serveTables({ engine: cluster.engine, tables: [{ name: 'far', key: ['id'] }] })
    const apply = encodeURIComponent('aggregate(v with VastMeadow.deviation as d)')
    const answer = (await (await far(new Request(`http://here/far?$apply=${apply}`))).json()) as Body
    expect(answer.value[0].d).toBeCloseTo(Math.sqrt(250 / 999), 7)
  })

  it('says that a server behind the table is gone, and goes on when it is back', async () => {
    const before = await ask('rows', { $orderby: 'cover', $top: '3' })
    await cluster.stopShard(1)
    for (const path of ['rows', 'rows/$count']) {
      const { status, error } = await ask(path)
      expect(status).toBe(503)
      expect(error).toMatchObject({ code: 'engine-gone' })
      expect(error?.message).not.toMatch(/shard|127|port/)
    }
    await cluster.startShard(1)
    const after = await ask('rows', { $orderby: 'cover', $top: '3' })
    expect(after).toEqual(before)
  })
})
