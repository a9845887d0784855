import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { fileURLToPath } from 'node:url'
import { describe, expect, it } from 'vitest'
import { readProblemText } from '../src/words/read-report-text.ts'
import { FILE_FORMATS, type FileFormat } from '../src/read/read-report.ts'
import { valueAt } from '../src/table/column.ts'
import { Coverage } from './support/coverage.ts'
import { mutated, randomNumbers } from './support/mutate.ts'
import { readBytes } from './support/read-rows-back.ts'

/** Seconds that each format is tried for; the long run takes an hour for all. */
const SECONDS = process.env.SOAK ? 720 : 8
/** A reading that takes longer is one that hangs; counting what is gone through takes five times as long. */
const MOST_MS = 10_000
const MOST_BYTES = 40_000

const samples = fileURLToPath(new URL('./samples/', import.meta.url))
const finds = fileURLToPath(new URL('./finds/', import.meta.url))
const sample = (name: string): Uint8Array => new Uint8Array(readFileSync(`${samples}${name}`))
const text = (content: string): Uint8Array => new TextEncoder().encode(content)

const SEEDS: Readonly<Record<FileFormat, () => Uint8Array[]>> = {
  csv: () => [
    text(
      'id,name,price,seen,at\n1,"a ""b""",2.50,2024-06-14,2024-06-14T10:00:00Z\n2,,12345678901234567890,no,\n',
    ),
    text('a;b\r\n1,5;1.234\r\n"x\ny";é\r\n'),
    text('sep=|\na|b\n1|[2]\n'),
  ],
  json: () => [
    text('{"total":2,"rows":[{"a":1,"b":{"c":"x\\u00e9"},"t":["p","q"]},{"a":1.5e3,"b":null}]}'),
    text('[["a","b"],[1,true],[12345678901234567890,"z"]]'),
  ],
  ndjson: () => [text('{"a":1,"b":"x"}\n{"a":2}\n{"c":[1,{"d":2}]}\n')],
  arrow: () => [sample('rust.arrows')],
  parquet: () => ['snappy', 'zstd', 'uncompressed'].map(name => sample(`duckdb-${name}.parquet`)),
}

/** What may be wrong beside a list that holds nothing. */
const BESIDE: readonly string[] = ['behind', 'nul', 'cut-character']

/** Reads a file whatever it holds; every value of it must be there to be asked for. */
async function read(format: FileFormat, bytes: Uint8Array): Promise<void> {
  const result = await readBytes(bytes.slice(), { format }, { memoryBytes: 2 ** 28 })
  if (!result.ok) {
    expect(readProblemText(result.problem)).not.toMatch(/undefined|\[object/)
    return
  }
  const { table, report } = result
  // A list without rows has no fields either.
  const isEmpty = table.rows === 0 && report.faults.every(({ code }) => BESIDE.includes(code))
  expect(table.fields.length > 0 || isEmpty).toBe(true)
  expect(new Set(table.fields.map(({ key }) => key)).size).toBe(table.fields.length)
  expect(report.columns).toHaveLength(table.fields.length)
  table.columns.forEach((column, place) => {
    for (let row = 0; row < Math.min(table.rows, 100); row++) {
      const value = valueAt(column, row)
      if (value === null) continue
      const { type, wide } = table.fields[place]
      const isText = wide === true || type === 'text' || type === 'tags'
      expect(typeof value).toBe(type === 'boolean' ? 'boolean' : isText ? 'string' : 'number')
      expect(value).not.toBeNaN()
    }
  })
}

describe('files that were found to be misread', () => {
  mkdirSync(finds, { recursive: true })
  const kept = readdirSync(finds).filter(name => FILE_FORMATS.some(format => name.startsWith(`${format}-`)))
  it.each(kept.length > 0 ? kept : ['none'])('are read or refused: %s', async name => {
    if (name === 'none') return
    const format = FILE_FORMATS.find(one => name.startsWith(`${one}-`)) ?? 'csv'
    const started = performance.now()
    await read(format, new Uint8Array(readFileSync(`${finds}${name}`)))
    expect(performance.now() - started).toBeLessThan(MOST_MS)
  })
})

describe('files that are changed at random, wherever that leads to new parts of the reader', () => {
  it.each(FILE_FORMATS)('are read or refused in their time: %s', { timeout: 0 }, async format => {
    const random = randomNumbers(Number(process.env.FUZZ_SEED ?? 20261127))
    const coverage = new Coverage('/src/read/')
    await coverage.start()
    const corpus = SEEDS[format]()
    let runs = 0
    const end = performance.now() + SECONDS * 1000
    while (performance.now() < end) {
      const file = mutated(corpus[random(corpus.length)], corpus[random(corpus.length)], random).subarray(
        0,
        MOST_BYTES,
      )
      const started = performance.now()
      try {
        await read(format, file)
        const ms = performance.now() - started
        if (ms > MOST_MS) throw new Error(`took ${ms} ms`)
      } catch (error) {
        const name = `${format}-${createHash('sha1').update(file).digest('hex').slice(0, 10)}`
        writeFileSync(`${finds}${name}`, file)
        throw new Error(`It is kept as test/finds/${name}.`, { cause: error })
      }
      runs++
      if ((await coverage.news()) > 0) corpus.push(file.slice())
    }
    coverage.stop()
    expect(runs).toBeGreaterThan(10)
    if (process.env.SOAK) console.log(`${format}: ${runs} files, ${corpus.length} of them led further`)
  })
})
