import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import * as duckdb from '@duckdb/node-api'
import pg from 'pg'
import ts from 'typescript'
import { describe, expect, it } from 'vitest'
import * as duckdbEngine from '../src/engine/duckdb-engine.ts'
import * as postgresEngine from '../src/engine/postgres-engine.ts'
import * as server from '../src/index.ts'
import { DATABASES, hasPostgres } from './support/databases.ts'

const MODULES: Readonly<Record<string, object>> = {
  '@duckdb/node-api': duckdb,
  '@vast-meadow/server': server,
  '@vast-meadow/server/duckdb': duckdbEngine,
  '@vast-meadow/server/postgres': postgresEngine,
  pg,
}

/** The examples of a guide that run in Node. */
function examples(path: string): string[] {
  const guide = readFileSync(new URL(path, import.meta.url), 'utf8')
  return Array.from(guide.matchAll(/^```ts server(?: postgres)?\n([^]*?)^```$/gm), ([, text]) => text)
}

/** Runs an example over a folder of its own; what it declares under a name. */
async function run<T>(text: string, name: string, given: Readonly<Record<string, unknown>> = {}): Promise<T> {
  const { outputText } = ts.transpileModule(text, {
    compilerOptions: { module: ts.ModuleKind.ESNext, target: ts.ScriptTarget.ESNext },
  })
  const body = outputText.replace(/^import (\{[^}]*\}|\w+) from '([^']*)';?$/gm, "const $1 = modules['$2']")
  const made = new Function(
    'modules',
    ...Object.keys(given),
    `return (async () => { ${body}\nreturn ${name} })()`,
  )
  return (await made(MODULES, ...Object.values(given))) as T
}

describe('the guide to the server', () => {
  it.each(['../../../docs/server.md', '../README.md'])('serves a table as %s has it', async path => {
    const folder = mkdtempSync(join(tmpdir(), 'sightings-'))
    const file = join(folder, 'sightings.duckdb')
    const instance = await duckdb.DuckDBInstance.create(file)
    const connection = await instance.connect()
    await connection.run("create table sightings as select 1 as sighting, 'me' as owner")
    connection.closeSync()
    instance.closeSync()
    const [example] = examples(path)
    const handler = await run<server.Handler>(example.replace('sightings.duckdb', file), 'handler')
    const root = path.includes('docs') ? 'http://here/odata' : 'http://here'
    const answer = await handler(new Request(`${root}/sightings?$filter=owner eq 'me'`))
    expect(await answer.json()).toMatchObject({ value: [{ sighting: 1 }] })
    rmSync(folder, { recursive: true })
  })

  it.runIf(hasPostgres)('serves a table of PostgreSQL', async () => {
    const [, , , example] = examples('../../../docs/server.md')
    const database = await DATABASES.PostgreSQL()
    await database.run("create table sightings as select 1 as sighting, 'me' as owner")
    const handler = await run<server.Handler>(
      example.replace('postgres://reader@localhost/survey', database.address),
      'handler',
    )
    const answer = await handler(new Request("http://here/odata/sightings?$filter=owner eq 'me'"))
    expect(await answer.json()).toMatchObject({ value: [{ sighting: 1 }] })
    await database.close()
  })

  it('says who may change what', async () => {
    const [, , example] = examples('../../../docs/server.md')
    const tables = await run<server.TableGiven[]>(example, 'tables')
    const database = await DATABASES.DuckDB()
    await database.run(
      "create table sightings as select 1 as sighting, 'seen' as state, '' as remark, 'me' as owner",
    )
    const handler = server.serveTables({ engine: database.engine, tables })
    const change = async (body: object) =>
      await handler(
        new Request('http://here/sightings(1)', {
          method: 'PATCH',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(body),
        }),
      )
    expect((await change({ state: 'confirmed' })).status).toBe(204)
    expect((await change({ owner: 'you' })).status).toBe(403)
    await database.close()
  })

  it('says who may see what', async () => {
    const [, example] = examples('../../../docs/server.md')
    const userOf = (request: Request): { id: string } | null =>
      request.url.includes('me') ? { id: "O'Neill" } : null
    const access = await run<(request: Request) => Promise<server.Access>>(example, 'access', { userOf })
    expect(await access(new Request('http://me'))).toEqual({ sightings: { rows: "owner eq 'O''Neill'" } })
    expect(await access(new Request('http://you'))).toEqual({})
  })
})
