// Serves the workshop with the sightings of the server kept by a cluster of PostgreSQL on this machine: a coordinator and
// three shards. CLUSTER_FOLDER chooses where they lie, SIGHTINGS_ROWS how many rows there are.
import { spawn } from 'node:child_process'
import { chmodSync, mkdirSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { startCluster } from './postgres/cluster.mjs'
import { installPostgres } from './postgres/servers.mjs'

const SHARDS = 3

installPostgres()
// A folder that the servers may enter, also where they run as another user than this one.
const folder = process.env.CLUSTER_FOLDER ?? '/var/tmp/vast-meadow-cluster'
mkdirSync(folder, { recursive: true })
chmodSync(folder, 0o755)
const cluster = await startCluster(folder, SHARDS, {
  shared_buffers: '512MB',
  work_mem: '64MB',
  max_wal_size: '4GB',
})
console.log(`A coordinator and ${SHARDS} shards of PostgreSQL are running in ${folder}`)
const workshop = spawn(
  process.execPath,
  [fileURLToPath(new URL('../workshop/.output/server/index.mjs', import.meta.url))],
  {
    stdio: 'inherit',
    env: { ...process.env, SIGHTINGS_CLUSTER: [cluster.url, ...cluster.shardUrls].join(' ') },
  },
)
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => workshop.kill(signal))
workshop.on('exit', code => {
  void cluster.stop().then(() => process.exit(code ?? 0))
})
