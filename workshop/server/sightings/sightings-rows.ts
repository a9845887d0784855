import { access, mkdir, rename, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { DuckDBInstance } from '@duckdb/node-api'
import type { RecipeInput } from '@vast-meadow/engine'
import { serveTables, type Handler, type Preparing, type SqlEngine } from '@vast-meadow/server'
import { duckdbEngine } from '@vast-meadow/server/duckdb'
import recipe from '../../../demo/survey-sightings.recipe.json'
import { clusterEngine, serversOf } from './sightings-cluster'
import { rowsStatement, tableStatements } from './sightings-sql'

/**
 * Read from the environment: `SIGHTINGS_ROWS`, `SIGHTINGS_FOLDER` for where the database lies, and `SIGHTINGS_CLUSTER` for
 * the servers of a cluster that keeps the rows in its place.
 */
export interface SightingsSettings {
  readonly rows: number
  readonly folder: string
  readonly cluster: string | null
}

export function settingsOf(env: Readonly<Record<string, string | undefined>>): SightingsSettings {
  const cluster = env.SIGHTINGS_CLUSTER ?? null
  return {
    // Servers that keep rows one by one take longer for as many than one that keeps columns.
    rows: Number(env.SIGHTINGS_ROWS) || (cluster ? 2_000_000 : 20_000_000),
    folder: env.SIGHTINGS_FOLDER ?? join(process.cwd(), '.cache', 'sightings'),
    cluster,
  }
}

const TABLE = 'sightings'
const KEY = 'sighting'
const LOCALE = 'en'
const BATCH_ROWS = 500_000

/** The sightings that the server holds: made by the database itself when they are first asked for, and kept. */
export function sightingsHandler({ rows, folder, cluster }: SightingsSettings, path: string): Handler {
  let handler: Promise<Handler> | null = null
  let making: Preparing | null = null
  let begin = (): void => {}
  /** Resolves when rows have to be made; until then whoever asks waits for the database to be opened. */
  const begun = new Promise<void>(resolve => (begin = resolve))
  const tell = (done: number): void => {
    making = { doing: 'Making sightings', done, of: rows }
    begin()
  }

  async function open(): Promise<Handler> {
    const engine = cluster
      ? await clusterEngine(serversOf(cluster), {
          table: TABLE,
          key: KEY,
          recipe: recipe as RecipeInput,
          rows,
          tell,
        })
      : await ownEngine()
    making = null
    return serveTables({ engine, path, tables: [{ name: TABLE, key: [KEY], change: CHANGES }] })
  }

  async function ownEngine(): Promise<SqlEngine> {
    const file = join(folder, `sightings-${rows}.duckdb`)
    await mkdir(folder, { recursive: true })
    const instance = (await madeBefore(file)) ?? (await makeRows(file))
    return duckdbEngine({ instance, locale: LOCALE })
  }

  async function makeRows(file: string): Promise<DuckDBInstance> {
    // Under another name until it is whole: what is left of an attempt that ended early is no database of ours.
    const draft = `${file}.draft`
    tell(0)
    await rm(draft, { force: true })
    await rm(`${draft}.wal`, { force: true })
    const instance = await DuckDBInstance.create(draft)
    const connection = await instance.connect()
    for (const statement of tableStatements(TABLE, recipe as RecipeInput, LOCALE))
      await connection.run(statement)
    for (let from = 0; from < rows; from += BATCH_ROWS) {
      await connection.run(
        rowsStatement(TABLE, recipe as RecipeInput, from, Math.min(rows, from + BATCH_ROWS)),
      )
      tell(Math.min(rows, from + BATCH_ROWS))
    }
    await connection.run('checkpoint')
    connection.closeSync()
    instance.closeSync()
    await rm(`${file}.wal`, { force: true })
    await rename(draft, file)
    return await DuckDBInstance.create(file)
  }

  return async request => {
    if (!handler) {
      handler = open()
      handler.catch(() => (handler = null))
    }
    await Promise.race([handler.catch(() => {}), begun])
    if (making) return await serveTables({ engine: NONE, path, tables: [], preparing: () => making })(request)
    try {
      const ready = await handler
      return await ready(request)
    } catch (error) {
      if (error instanceof HeldElsewhere) return heldAnswer()
      throw error
    }
  }
}

/** Who tries the grid changes rows, too. */
const CHANGES = { update: true, insert: true, remove: true } as const

/** Another program has the file open, which it shares with nobody. */
class HeldElsewhere extends Error {}

/** The rows as they were made and changed before; null: there are none that can be read. */
async function madeBefore(file: string): Promise<DuckDBInstance | null> {
  const isThere = await access(file).then(
    () => true,
    () => false,
  )
  if (!isThere) return null
  try {
    return await DuckDBInstance.create(file)
  } catch (error) {
    if (error instanceof Error && /\block\b/i.test(error.message)) throw new HeldElsewhere()
    return null
  }
}

const heldAnswer = (): Response =>
  Response.json(
    { error: { code: 'engine-gone', message: 'Another program has the database of the sightings open.' } },
    { status: 503 },
  )

/** Stands for the database as long as there is none. */
const NONE = {} as Parameters<typeof serveTables>[0]['engine']
