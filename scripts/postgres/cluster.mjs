// PostgreSQL servers that keep a table together: a coordinator, and those behind it.
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { copyServer, freePort, makeServer, startServer } from './servers.mjs'
import { makeSplitTable, runOn } from './split-table.mjs'

/**
 * Starts a coordinator and its shards, each in a folder of its own within `folder`; makes them where there are none.
 * @param {string} folder
 * @param {number} count
 * @param {Readonly<Record<string, string>>} [settings] of each server
 */
export async function startCluster(folder, count, settings = {}) {
  const folders = Array.from({ length: count }, (_, nth) => join(folder, `shard-${nth}`))
  const first = join(folder, 'coordinator')
  const isMade = [first, ...folders].every(one => existsSync(join(one, 'PG_VERSION')))
  if (!isMade) {
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
  for (const [nth, { port }] of shards.entries())
    await runOn(coordinator.url, [
      `do $$ begin
        if exists (select 1 from pg_foreign_server where srvname = 'shard_${nth}') then
          alter server shard_${nth} options (set port '${port}');
        end if;
      end $$`,
    ])
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
     * @param {string} name
     * @param {Readonly<Record<string, string>>} columns
     * @param {readonly string[]} key
     */
    makeTable: (name, columns, key) =>
      makeSplitTable(
        { coordinator: coordinator.url, shards: shards.map(({ server }) => server.url) },
        name,
        columns,
        key,
      ),
  }
}
