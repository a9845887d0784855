// Writes the column files that the engine's tests read: every type of one writer, re-written by a second. Beside them stands
// what the first writer says of each value, and, where our rules make something else of it, what that is.
// Run by hand after a change of the list: `node reading/make-samples.mjs`.
import { DuckDBInstance } from '@duckdb/node-api'
import { createRequire } from 'node:module'
import { readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const wasm = createRequire(import.meta.url)('parquet-wasm')
const folder = fileURLToPath(new URL('../../packages/engine/test/samples/', import.meta.url))
const place = name => `${folder}${name}`

/** By column: its type, SQL of its values (more rows are NULL), and what becomes of those that are not as told. */
const COLUMNS = {
  truth: ['BOOLEAN', ['true', 'false', 'NULL']],
  i8: ['TINYINT', ['-128', '127', 'NULL']],
  u8: ['UTINYINT', ['0', '255', 'NULL']],
  i16: ['SMALLINT', ['-32768', '32767', 'NULL']],
  u16: ['USMALLINT', ['0', '65535', 'NULL']],
  i32: ['INTEGER', ['-2147483648', '2147483647', 'NULL']],
  u32: ['UINTEGER', ['0', '4294967295', 'NULL']],
  i64: ['BIGINT', ['-9223372036854775808', '9223372036854775807', 'NULL', '5']],
  u64: ['UBIGINT', ['0', '18446744073709551615', 'NULL']],
  f32: ['FLOAT', ['0.1', '3.4028235e38', 'NULL', "'nan'", "'inf'", "'-inf'", '16777216']],
  f64: ['DOUBLE', ['0.1', '1e308', '5e-324', 'NULL', "'nan'", "'inf'", "'-inf'", '-0.0'], { '-0.0': '0' }],
  d4: ['DECIMAL(4,2)', ['0.35', '-99.99', 'NULL', '0']],
  d9: ['DECIMAL(9,2)', ['0.35', '-9999999.99', 'NULL', '1.15', '2.67']],
  d18: ['DECIMAL(18,2)', ['0.35', '-9999999999999999.99', '1234567890123456.78', 'NULL']],
  d18s: ['DECIMAL(18,2)', ['0.35', '1.15', '2.67', 'NULL']],
  d38: [
    'DECIMAL(38,2)',
    ['0.35', '-999999999999999999999999999999999999.99', 'NULL', '123456789012345678901234567890.12'],
  ],
  d38s: ['DECIMAL(38,10)', ['0.3500000000', '-1.1', 'NULL', '123456789012345678.0123456789']],
  date: ['DATE', ["'1969-12-31'", "'0001-01-01'", "'2024-02-29'", 'NULL', "'9999-12-31'"]],
  farDate: ['DATE', ["'1969-12-31'", "'infinity'", "'-infinity'", 'NULL']],
  time: [
    'TIME',
    ["'00:00:00'", "'23:59:59.999999'", "'12:34:56.789'", 'NULL'],
    { '23:59:59.999999': '23:59:59.999' },
  ],
  micro: [
    'TIMESTAMP',
    ["'1969-12-31 23:59:59.999999'", "'2024-06-14 12:34:56.789'", "'0001-01-01 00:00:00'", 'NULL'],
    { '1969-12-31 23:59:59.999999': '1969-12-31 23:59:59.999' },
  ],
  farMicro: [
    'TIMESTAMP',
    ["'1969-12-31 23:59:59'", "'infinity'", "'-infinity'", "'294246-01-01 00:00:00'"],
    { '294246-01-01 00:00:00': '+294246-01-01T00:00:00' },
  ],
  second: ['TIMESTAMP_S', ["'1969-12-31 23:59:59'", "'2024-06-14 12:34:56'", 'NULL']],
  milli: ['TIMESTAMP_MS', ["'1969-12-31 23:59:59.999'", "'2024-06-14 12:34:56.789'", 'NULL']],
  nano: [
    'TIMESTAMP_NS',
    [
      "'1969-12-31 23:59:59.999999999'",
      "'2024-06-14 12:34:56.789123456'",
      "'1970-01-01 00:00:00.000000001'",
      'NULL',
    ],
    {
      '1969-12-31 23:59:59.999999999': '1969-12-31 23:59:59.999',
      '2024-06-14 12:34:56.789123456': '2024-06-14 12:34:56.789',
      '1970-01-01 00:00:00.000000001': '1970-01-01 00:00:00',
    },
  ],
  zoned: [
    'TIMESTAMPTZ',
    ["'1969-12-31 23:59:59.999999+00'", "'2024-06-14 12:34:56.789+02'", 'NULL'],
    {
      '1969-12-31 23:59:59.999999+00': '1969-12-31 23:59:59.999Z',
      '2024-06-14 10:34:56.789+00': '2024-06-14 10:34:56.789Z',
    },
  ],
  interval: [
    'INTERVAL',
    ["INTERVAL '3 days 4 hours 5 minutes 6.5 seconds'", 'NULL', "INTERVAL '0 days'"],
    { '3 days 04:05:06.5': 'P3DT4H5M6.5S', '00:00:00': 'PT0S' },
  ],
  bytes: [
    'BLOB',
    ["'\\xDE\\xAD\\xBE\\xEF'::BLOB", "'\\x00'::BLOB", 'NULL'],
    { '\\xDE\\xAD\\xBE\\xEF': 'deadbeef', '\\x00': '00' },
  ],
  text: ['VARCHAR', ["'a'", "''", 'NULL', "'łódź'", "'\ufeffmark'"]],
  choice: ["ENUM('x','y')", ["'x'", "'y'", 'NULL', "'x'"]],
  list: ['INTEGER[]', ['[1,2,NULL]', '[]', 'NULL'], { '[1, 2, NULL]': '[1,2,null]', '[]': null }],
  texts: [
    'VARCHAR[]',
    ["['a','b']", 'NULL', '[]', "['c']"],
    { '[a, b]': '["a","b"]', '[c]': '["c"]', '[]': null },
  ],
  textsWithNull: ['VARCHAR[]', ["['a',NULL]", 'NULL'], { '[a, NULL]': '["a",null]' }],
  moments: [
    'TIMESTAMP[]',
    ["[TIMESTAMP '1969-12-31 23:59:59.999']", 'NULL'],
    { "['1969-12-31 23:59:59.999']": '["1969-12-31T23:59:59.999"]' },
  ],
  decimals: [
    'DECIMAL(18,2)[]',
    ['[0.35, 1234567890123456.78]', 'NULL'],
    { '[0.35, 1234567890123456.78]': '[0.35,1234567890123456.78]' },
  ],
  bigs: [
    'BIGINT[]',
    ['[9223372036854775807, 1]', 'NULL'],
    { '[9223372036854775807, 1]': '[9223372036854775807,1]' },
  ],
  lists: [
    'INTEGER[][]',
    ['[[1],[],NULL,[2,3]]', 'NULL', '[]'],
    { '[[1], [], NULL, [2, 3]]': '[[1],[],null,[2,3]]', '[]': null },
  ],
  structs: [
    'STRUCT(a INTEGER, b DATE)[]',
    ["[{'a':1,'b':DATE '2024-01-02'},NULL,{'a':NULL,'b':NULL}]", '[]', 'NULL'],
    {
      "[{'a': 1, 'b': 2024-01-02}, NULL, {'a': NULL, 'b': NULL}]":
        '[{"a":1,"b":"2024-01-02"},null,{"a":null,"b":null}]',
      '[]': null,
    },
  ],
  map: [
    'MAP(VARCHAR, INTEGER)',
    ["MAP{'a':1,'b':NULL}", 'MAP{}', 'NULL'],
    { '{a=1, b=NULL}': '{"a":1,"b":null}' },
  ],
  mapByNumber: ['MAP(INTEGER, VARCHAR)', ["MAP{1:'x'}", 'NULL'], { '{1=x}': '{"1":"x"}' }],
  json: ['JSON', [`'{"a":[1,2]}'`, 'NULL']],
}
/** Structures become a column for each member. */
const STRUCTS = {
  place: ['STRUCT(a INTEGER, b VARCHAR)', ["{'a':1,'b':'x'}", "{'a':NULL,'b':'y'}", 'NULL']],
  deep: [
    'STRUCT(a STRUCT(b DATE, c DECIMAL(4,2)), d INTEGER[])',
    ["{'a':{'b':DATE '2024-01-02','c':0.35},'d':[1,2]}", "{'a':NULL,'d':NULL}", 'NULL'],
  ],
}
const STRUCTS_TOLD = {
  'place.a': ['1'],
  'place.b': ['x', 'y'],
  'deep.a.b': ['2024-01-02'],
  'deep.a.c': ['0.35'],
  'deep.d': ['[1,2]'],
}

const all = { ...COLUMNS, ...STRUCTS }
const rows = Math.max(...Object.values(all).map(([, values]) => values.length))
const selects = Array.from(
  { length: rows },
  (_, row) =>
    `SELECT ${Object.entries(all)
      .map(([key, [type, values]]) => `(${values[row] ?? 'NULL'})::${type} AS ${key}`)
      .join(', ')}`,
)
const db = await (await DuckDBInstance.create(':memory:')).connect()
await db.run("SET TimeZone='UTC'")
await db.run(`CREATE TABLE every_type AS ${selects.join(' UNION ALL ')}`)
const files = {
  snappy: '',
  gzip: '',
  brotli: '',
  lz4_raw: '',
  zstd: ', PARQUET_VERSION V2',
  uncompressed: '',
}
for (const [codec, more] of Object.entries(files))
  await db.run(
    `COPY every_type TO '${place(`duckdb-${codec}.parquet`)}' (FORMAT parquet, CODEC ${codec}${more})`,
  )

const casts = Object.keys(COLUMNS).map(key => `${key}::VARCHAR AS ${key}`)
const said = await (await db.run(`SELECT ${casts.join(', ')} FROM every_type`)).getRowObjectsJson()
const told = Object.fromEntries(
  Object.entries(COLUMNS).map(([key, [, , ours = {}]]) => [
    key,
    said.map(row => (row[key] !== null && row[key] in ours ? ours[row[key]] : row[key])),
  ]),
)
for (const [key, values] of Object.entries(STRUCTS_TOLD))
  told[key] = Array.from({ length: rows }, (_, row) => values[row] ?? null)
writeFileSync(place('every-type.json'), `${JSON.stringify(told, null, 1)}\n`)

const ipc = wasm.readParquet(readFileSync(place('duckdb-snappy.parquet'))).intoIPCStream()
writeFileSync(place('rust.arrows'), ipc)
const packed = new wasm.WriterPropertiesBuilder().setCompression(wasm.Compression.ZSTD).build()
writeFileSync(place('rust-zstd.parquet'), wasm.writeParquet(wasm.Table.fromIPCStream(ipc), packed))
