// A table whose rows are kept by several PostgreSQL servers, by a hash of their key, and asked through one.
import pg from 'pg'

/** @param {string} name */
const quoted = name => `"${name.replaceAll('"', '""')}"`

/**
 * @param {string} url
 * @param {readonly string[]} statements
 */
export async function runOn(url, statements) {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    for (const statement of statements) await client.query(statement)
  } finally {
    await client.end()
  }
}

/**
 * Makes a table on each server that keeps rows, and one on the coordinator of which those are the partitions. What was
 * there by its name is gone.
 * @param {{ readonly coordinator: string, readonly shards: readonly string[] }} servers their addresses
 * @param {string} name
 * @param {Readonly<Record<string, string>>} columns what each column is, by its name
 * @param {readonly string[]} key
 */
export async function makeSplitTable({ coordinator, shards }, name, columns, key) {
  const list = Object.entries(columns)
    .map(([column, type]) => `${quoted(column)} ${type}`)
    .join(', ')
  const keys = key.map(quoted).join(', ')
  const create = `create table ${quoted(name)} (${list}`
  for (const shard of shards)
    await runOn(shard, [`drop table if exists ${quoted(name)}`, `${create}, primary key (${keys}))`])
  await runOn(coordinator, [
    'create extension if not exists postgres_fdw',
    `drop table if exists ${quoted(name)}`,
    ...shards.flatMap((shard, nth) => [
      `create server if not exists shard_${nth} foreign data wrapper postgres_fdw options (
        host '127.0.0.1', port '${new URL(shard).port}', dbname 'postgres', async_capable 'true',
        fetch_size '10000', batch_size '5000', connect_timeout '3')`,
      `create user mapping if not exists for current_user server shard_${nth}
        options (user '${new URL(shard).username}')`,
    ]),
    `${create}) partition by hash (${keys})`,
    ...shards.map(
      (_, nth) => `create foreign table ${quoted(`${name}_part_${nth}`)} partition of ${quoted(name)}
        for values with (modulus ${shards.length}, remainder ${nth}) server shard_${nth}
        options (table_name '${name}')`,
    ),
  ])
}
