import { DuckDBInstance } from '@duckdb/node-api'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { duckdbEngine } from '../src/engine/duckdb-engine.ts'
import type { SqlEngine } from '../src/engine/engine.ts'
import { serveTables } from '../src/handler/serve-tables.ts'

let instance: DuckDBInstance
let engine: SqlEngine
let sorts = 0

beforeAll(async () => {
  instance = await DuckDBInstance.create(':memory:')
  const connection = await instance.connect()
  // Values recur and are missing, so that places fall among equals.
  await connection.run(`create table rows as select
    i::integer as id,
    case when i % 5 = 0 then null else (hash(i) % 4)::integer end as a,
    case when i % 7 = 0 then null else ['b', 'B', 'é', 'a', 'ab'][1 + (hash(i * 3) % 5)::integer] end as b,
    (hash(i * 7) % 3) / 2.0 as c,
    case when i % 4 = 0 then null else date '2024-01-01' + (hash(i) % 3)::integer end as d
    from range(60) r(i)`)
  engine = duckdbEngine({ instance })
})
afterAll(() => instance.closeSync())

const listening = (): SqlEngine => ({
  ...engine,
  rows: (statement, signal) => {
    if (statement.text.includes('row_number')) sorts++
    return engine.rows(statement, signal)
  },
})

const ORDERS = [
  '',
  'id desc',
  'a',
  'a desc',
  'a eq null,a',
  'a eq null,a desc',
  'a eq null desc,a',
  'a eq null desc,a desc',
  'b,a desc',
  'b eq null,b desc,c',
  'c desc,b,a',
  'd eq null,d,b desc',
  'id mod 7 desc,a',
  'length(b) desc',
]

it.each(ORDERS)('a jump into the order “%s” shows what stands there', async order => {
  const serve = (from: number) =>
    serveTables({
      engine: listening(),
      tables: [{ name: 'rows', key: ['id'] }],
      limits: { places: { from, step: 7, keptMs: 60_000 } },
    })
  const [far, near] = [serve(1), serve(1e9)]
  const ask = async (handler: typeof far, filter: string, skip: number, top: number): Promise<unknown[]> => {
    const query = new URLSearchParams({
      $select: 'id',
      $skip: String(skip),
      $top: String(top),
      $filter: filter,
    })
    if (order !== '') query.set('$orderby', order)
    const answer = await handler(new Request(`http://here/rows?${query.toString()}`))
    return ((await answer.json()) as { value: unknown[] }).value
  }
  for (const filter of ['id ge 0', 'a ne 2']) {
    sorts = 0
    const all = await ask(near, filter, 0, 100)
    expect(sorts).toBe(0)
    for (let skip = 1; skip <= all.length + 1; skip += 3)
      expect(await ask(far, filter, skip, 4)).toEqual(all.slice(skip, skip + 4))
    // Looked up once for all of them, but where they are ordered by what is computed.
    expect(sorts).toBe(/mod|length/.test(order) ? 0 : 1)
  }
})
