// Exports read back by other programs, and compared cell by cell: DuckDB reads CSV, JSON, lines of JSON and Parquet; a
// spreadsheet program (`soffice`, where there is one) reads workbooks. `node exports/read-back.mjs [ROWS]`; the packages
// are built before.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { DuckDBInstance } from '@duckdb/node-api'
import { openRows, exportBytes } from './export-in-node.mjs'

const ROWS = Number(process.argv[2] ?? 20_000)
const folder = mkdtempSync(join(tmpdir(), 'exports-'))
const TEXTS = [
  'plain',
  '=1+1',
  '+x',
  '-2',
  '@a',
  'a "quoted", one',
  'two\nlines',
  'é 漢 😀',
  'tab\tin',
  "'apostrophe",
  ' edges ',
  'true',
  '0012',
]
const some = (nth, every, value) => (nth % every === every - 1 ? null : value)
const day = n => new Date(Date.UTC(1950, 0, 1) + (n % 40_000) * 864e5).toISOString().slice(0, 10)
const given = Array.from({ length: ROWS }, (_, n) => ({
  id: n,
  text: some(n, 7, TEXTS[n % TEXTS.length]),
  note: some(n, 5, `note ${n} of many`),
  whole: some(n, 11, (n * 7919) % 2001) - 1000,
  large: some(n, 13, 2 ** 40 + n * 12_345),
  price: some(n, 9, Math.round(((n * 37.17) % 900) * 100) / 100),
  mass: some(n, 8, Math.sin(n) * 1e5),
  seen: some(n, 6, n % 3 === 0),
  day: some(n, 10, day(n * 31)),
  at: some(n, 12, new Date(1.6e12 + n * 987_654).toISOString()),
}))
const keys = Object.keys(given[0])
const source = await openRows(given, keys)
let failures = 0

function compare(name, got, wanted) {
  let wrong = 0
  if (got.length !== wanted.length) wrong = 1
  got.forEach((row, nth) =>
    keys.forEach(key => {
      const [a, b] = [row[key], wanted[nth]?.[key]]
      const same =
        a === b || (typeof a === 'number' && typeof b === 'number' && Math.abs(a - b) <= Math.abs(b) * 1e-14)
      if (same) return
      if (wrong++ < 3)
        console.error(`  ${name}: row ${nth} ${key}: ${JSON.stringify(a)}, not ${JSON.stringify(b)}`)
    }),
  )
  console.log(
    `${wrong === 0 ? 'equal' : 'DIFFERENT'}  ${name}  ${got.length} rows × ${keys.length} columns${wrong ? `, ${wrong} cells` : ''}`,
  )
  if (wrong) failures++
}

/** As the comparison has them: days and moments as text, the rest as it is. */
const plain = value => {
  if (value === null || value === undefined) return null
  if (typeof value === 'bigint') return Number(value)
  if (typeof value === 'object' && 'days' in value)
    return new Date(value.days * 864e5).toISOString().slice(0, 10)
  if (typeof value === 'object' && 'micros' in value)
    return new Date(Number(value.micros / 1000n)).toISOString()
  if (typeof value === 'object' && 'millis' in value) return new Date(Number(value.millis)).toISOString()
  return value
}

const save = async (format, more = {}) => {
  const file = join(folder, `rows.${format}`)
  writeFileSync(file, await exportBytes(source, { format, columns: keys, ...more }))
  return file
}

const connection = await (await DuckDBInstance.create(':memory:')).connect()
const query = async (from, columns = '*') => {
  const reader = await connection.runAndReadAll(`select ${columns} from ${from}`)
  return reader
    .getRowObjects()
    .map(row => Object.fromEntries(Object.entries(row).map(([key, value]) => [key, plain(value)])))
}
const typed = `columns={id:'INTEGER',text:'VARCHAR',note:'VARCHAR',whole:'INTEGER',large:'BIGINT',price:'DOUBLE',mass:'DOUBLE',seen:'BOOLEAN',day:'DATE',"at":'TIMESTAMP'}`

compare(
  'CSV, by DuckDB',
  await query(
    `read_csv('${await save('csv', { neutral: false })}', header=true, nullstr='', allow_quoted_nulls=false, ${typed})`,
  ),
  given,
)
const neutral = given.map(row => ({
  ...row,
  text: row.text && /^[=+\-@\t\r]/.test(row.text) ? `'${row.text}` : row.text,
}))
compare(
  'CSV with formulas neutralised, by DuckDB',
  await query(
    `read_csv('${await save('csv')}', header=true, nullstr='', allow_quoted_nulls=false, ${typed})`,
  ),
  neutral,
)
compare('JSON, by DuckDB', await query(`read_json('${await save('json')}', ${typed})`), given)
compare('JSON, a line a row, by DuckDB', await query(`read_json('${await save('ndjson')}', ${typed})`), given)
compare('Parquet, by DuckDB', await query(`read_parquet('${await save('parquet')}')`), given)

const workbook = await save('xlsx')
try {
  // 76: UTF-8; "false, true": cells as they are kept, and not as they are shown.
  execFileSync(
    'soffice',
    [
      '--headless',
      '--convert-to',
      'csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,false,false,false,false,-1',
      '--outdir',
      folder,
      workbook,
    ],
    { stdio: 'ignore', timeout: 300_000 },
  )
  const name = readdirSync(folder).find(file => /^rows.*\.csv$/.test(file) && file !== 'rows.csv')
  const csv = join(folder, name)
  const strings = `columns={${keys.map(key => `"${key}":'VARCHAR'`).join(',')}}`
  const read = await query(`read_csv('${csv}', header=true, ${strings})`)
  const near = (text, wanted) =>
    text && wanted && Math.abs(Date.parse(`${text.replace(' ', 'T')}Z`) - Date.parse(wanted)) < 1001
      ? wanted
      : text
  const number = text => (text === null ? null : Number(text))
  compare(
    'Workbook, by LibreOffice',
    read.map((row, nth) => ({
      id: number(row.id),
      text: row.text,
      note: row.note,
      whole: number(row.whole),
      large: number(row.large),
      price: number(row.price),
      mass: number(row.mass),
      seen: row.seen === null ? null : row.seen === 'TRUE',
      day: row.day,
      // It writes moments to the second.
      at: near(row.at, given[nth].at),
    })),
    given,
  )
} catch (error) {
  console.log(
    `not read: a workbook, for there is no spreadsheet program here (${error.message.split('\n')[0]})`,
  )
}
rmSync(folder, { recursive: true, force: true })
source.close()
if (failures > 0) process.exitCode = 1
