// A table that is kept on several PostgreSQL servers: a coordinator whose partitions are foreign tables, and the servers
// behind them.
import { join } from 'node:path'
import pg from 'pg'
import { copyServer, freePort, makeServer, startServer } from './servers.mjs'

const LOCAL = 'postgres'

/** @param {string} name */
const quoted = name => `"${name.replaceAll('"', '""')}"`

/** @param {number} nth */
const partName = nth => `part_${nth}`

/**
 * Makes and starts a coordinator and its shards in a folder.
 * @param {string} folder
 * @param {number} count
 * @param {{ readonly fresh?: boolean, readonly settings?: Readonly<Record<string, string>> }} [options]
 */
export async function startCluster(folder, count, { fresh = true, settings = {} } = {}) {
  const folders = Array.from({ length: count }, (_, nth) => join(folder, `shard-${nth}`))
  const first = join(folder, 'coordinator')
  if (fresh) {
    await makeServer(first)
    for (const one of folders) await copyServer(first, one)
  }
  const shards = []
  for (const one of folders) {
    const port = await freePort()
    shards.push({ folder: one, port, server: await startServer(one, port, settings) })
  }
  const coordinator = await startServer(first, await freePort(), settings)
  // Ports are other ones at each start.
  if (!fresh)
    await eachOf(
      coordinator.url,
      shards.map(({ port }, nth) => `alter server shard_${nth} options (set port '${port}')`),
    )
  return {
    url: coordinator.url,
    shardUrls: shards.map(({ server }) => server.url),
    /** @param {number} nth */
    stopShard: nth => shards[nth].server.stop(),
    /** @param {number} nth */
    async startShard(nth) {
      const shard = shards[nth]
      shard.server = await startServer(shard.folder, shard.port, settings)
    },
    async stop() {
      await Promise.all([coordinator.stop(), ...shards.map(({ server }) => server.stop())])
    },
    /**
     * Makes a table whose rows are kept by the shards, by a hash of its key. `columns`: their definitions, by name.
     * @param {string} name
     * @param {Readonly<Record<string, string>>} columns
     * @param {readonly string[]} key
     */
    async makeTable(name, columns, key) {
      const list = Object.entries(columns)
        .map(([column, type]) => `${quoted(column)} ${type}`)
        .join(', ')
      const keys = key.map(quoted).join(', ')
      for (const { server } of shards)
        await eachOf(server.url, [`create table ${quoted(name)} (${list}, primary key (${keys}))`])
      await eachOf(coordinator.url, [
        'create extension if not exists postgres_fdw',
        ...shards.flatMap(({ port }, nth) => [
          `create server if not exists shard_${nth} foreign data wrapper postgres_fdw options (
            host '127.0.0.1', port '${port}', dbname '${LOCAL}', async_capable 'true', fetch_size '10000',
            batch_size '5000', use_remote_estimate 'true', connect_timeout '3')`,
          `create user mapping if not exists for current_user server shard_${nth} options (user 'meadow')`,
        ]),
        `create table ${quoted(name)} (${list}) partition by hash (${keys})`,
        ...shards.map(
          (_, nth) => `create foreign table ${quoted(`${name}_${partName(nth)}`)} partition of ${quoted(name)}
            for values with (modulus ${count}, remainder ${nth}) server shard_${nth} options (table_name '${name}')`,
        ),
      ])
    },
  }
}

/**
 * @param {string} url
 * @param {readonly string[]} statements
 */
async function eachOf(url, statements) {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    for (const statement of statements) await client.query(statement)
  } finally {
    await client.end()
  }
}
