import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { levelOf, type Keep } from '../../engine/src/group/level.ts'
import type { ViewRequest } from '../../engine/src/flow/view-request.ts'
import { serviceSource } from '../../engine/src/service/service-source.ts'
import { PLAIN } from '../../engine/test/support/random-table.ts'
import { serveTables, type Handler } from '../src/handler/serve-tables.ts'
import { DATABASES, databaseNames, type Database } from './support/databases.ts'

const ROWS = 60_000
const GROUPS = 12_000

describe.each(databaseNames)('groups that come in several pages, by %s', name => {
  let database: Database
  let handler: Handler
  beforeAll(async () => {
    database = await DATABASES[name]()
    await database.makeTable('plots', { id: 'bigint not null', site: 'text', cover: 'integer' }, ['id'])
    // Scattered over the table, so that threads meet them in an order of their own.
    const number = `(i * 7919 % ${GROUPS})`
    await database.run(
      `insert into plots select i, case when ${number} = 0 then null else 'site ' || ${number} end, i % 7 from generate_series(0, ${ROWS - 1}) as s(i)`,
    )
    handler = serveTables({
      engine: database.engine,
      tables: [{ name: 'plots', key: ['id'] }],
      path: '/rows',
      limits: { rows: 1000 },
    })
  }, 120_000)
  afterAll(() => database.close())

  async function all(query: string): Promise<readonly Record<string, unknown>[]> {
    const found: Record<string, unknown>[] = []
    for (let address: string | undefined = `http://here/rows/plots?${query}`; address !== undefined;) {
      const body = (await (await handler(new Request(new URL(address, 'http://here/rows/')))).json()) as {
        value: Record<string, unknown>[]
        '@nextLink'?: string
      }
      found.push(...body.value)
      address = body['@nextLink']
    }
    return found
  }

  it('are each told once, whatever order the engine makes them in', async () => {
    const groups = await all('$apply=groupby((site),aggregate($count as rows))')
    expect(new Set(groups.map(({ site }) => site)).size).toBe(GROUPS)
    expect(groups).toHaveLength(GROUPS)
    expect(groups.reduce((sum, { rows }) => sum + Number(rows), 0)).toBe(ROWS)
  })

  it('are kept by what they come to, as long as these or the others can be named', async () => {
    const source = serviceSource({ address: 'http://here/rows', rows: 'plots', near: false, fetch: handler })
    await source.open()
    const kept = (keep: Partial<Keep>): ViewRequest => ({
      ...PLAIN,
      open: { levels: 0, except: [] },
      groups: [levelOf('site', { keep: { where: [], ...keep } })],
    })
    const sum = { column: 'cover', summary: 'sum' } as const
    const few = await source.view(
      kept({ most: { count: 700, of: sum, direction: 'descending', rest: 'out' } }),
    )
    expect(few.report).toMatchObject({
      passing: 700 * 5,
      groups: [700],
      groupsHeldBack: [{ level: 0, groups: GROUPS - 700, rows: ROWS - 700 * 5 }],
    })
    const atLeast = (value: number): Keep['where'] => [
      { of: sum, condition: { match: 'all', parts: [{ kind: 'at-least', value }] } },
    ]
    // Those that are kept are too many to be named, and so are the others.
    const sums = (await source.ask('summarize', { request: kept({}), of: [sum] }))[0]!.levels[0]!
    const sorted = Array.from(sums, Number).sort((a, b) => a - b)
    await expect(source.view(kept({ where: atLeast(sorted[3000]!) }))).rejects.toMatchObject({
      problem: { code: 'service-too-many-kept', most: 1000 },
    })
    const all = await source.view(kept({ where: atLeast(0) }))
    expect(all.report).toMatchObject({ passing: ROWS, groups: [GROUPS] })
    const none = await source.view(kept({ where: atLeast(1e6) }))
    expect(none.report).toMatchObject({ passing: 0, groups: [0] })
    source.close()
  })

  it('stay in the order that is asked for, and that the steps end with', async () => {
    const bySize = await all('$apply=groupby((site),aggregate(cover with sum as sum))&$orderby=sum desc')
    const sums = bySize.map(({ sum }) => Number(sum))
    expect(sums).toEqual([...sums].sort((a, b) => b - a))
    expect(new Set(bySize.map(({ site }) => site)).size).toBe(GROUPS)
    const first = await all('$apply=groupby((cover),aggregate($count as rows))/orderby(cover desc)/top(3)')
    expect(first.map(({ cover }) => cover)).toEqual([6, 5, 4])
    const computed = await all('$apply=filter(id lt 2500)/compute(cover add 1 as more)')
    expect(new Set(computed.map(({ id }) => id)).size).toBe(2500)
  })
})
