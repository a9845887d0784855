import { DuckDBInstance } from '@duckdb/node-api'
import type { Page } from '@playwright/test'
import { serveTables } from '@vast-meadow/server'
import { duckdbEngine } from '@vast-meadow/server/duckdb'

const ROWS = 5000

/** A table of trees in a database of the test's own, answered at `/odata/` of any page. */
export interface ServedTrees {
  /** Has a page's questions answered; `line` may hold each back, or lose it by throwing. */
  route(page: Page, line?: (request: Request) => Promise<void> | void): Promise<void>
  /** What the database has of a tree. */
  tree(id: number): Promise<Record<string, unknown> | null>
  run(statement: string): Promise<void>
  close(): Promise<void>
}

export async function servedTrees(): Promise<ServedTrees> {
  const instance = await DuckDBInstance.create(':memory:')
  const connection = await instance.connect()
  const engine = duckdbEngine({ instance })
  await connection.run(
    'create table trees (id integer not null, name varchar not null, kind varchar, height integer, planted date)',
  )
  await connection.run(
    `insert into trees select i, printf('tree %04d', i), ['ash', 'elm', 'oak', 'yew'][1 + (i * 7) % 4], (i * 37) % 200,
      date '2010-01-01' + cast(i % 4000 as integer) from range(${ROWS}) t(i)`,
  )
  const handler = serveTables({
    engine,
    path: '/odata',
    tables: [
      {
        name: 'trees',
        key: ['id'],
        change: { update: ['name', 'height', 'kind'], insert: true, remove: true },
      },
    ],
  })
  return {
    async route(page, line) {
      await page.route('**/odata/**', async route => {
        const asked = route.request()
        const request = new Request(asked.url(), {
          method: asked.method(),
          headers: asked.headers(),
          body: asked.postData(),
        })
        try {
          await line?.(request)
        } catch {
          await route.abort()
          return
        }
        const answer = await handler(request)
        // The page may have left meanwhile.
        await route
          .fulfill({
            status: answer.status,
            headers: Object.fromEntries(answer.headers),
            body: Buffer.from(await answer.arrayBuffer()),
          })
          .catch(() => {})
      })
    },
    async tree(id) {
      const reader = await connection.runAndReadAll(`select * from trees where id = ${id}`)
      return reader.getRowObjectsJson().at(0) ?? null
    },
    async run(statement) {
      await connection.run(statement)
    },
    async close() {
      await engine.close()
      connection.closeSync()
      instance.closeSync()
    },
  }
}
