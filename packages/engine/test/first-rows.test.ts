import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { gzipSync } from 'node:zlib'
import { PageSource } from '../src/source/page-source.ts'
import { CancelledError } from '../src/work/work.ts'
import type { RowSource, SourceChange } from '../src/source/row-source.ts'
import type { RowsInput } from '../src/source/rows-input.ts'
import { WorkerSource, type EnginePort } from '../src/worker/worker-source.ts'
import { threads } from './support/helper-thread.ts'

const NOTHING = {
  order: [],
  conditions: {},
  search: '',
  searchColumns: [],
  groups: [],
  open: { levels: null, except: [] },
}
const ROWS = 200_000

const csvRows = Array.from(
  { length: ROWS },
  (_, row) => `${row},"name\n${row % 900}",${row % 12 ? '' : row / 4},${row < ROWS - 1 ? row : 'none'}`,
)
const csv = `id,name,cover,code\n${csvRows.join('\n')}\n`
const ndjson = Array.from({ length: ROWS }, (_, row) =>
  JSON.stringify({
    id: row,
    name: `name ${row % 900}`,
    cover: row % 12 ? null : row / 4,
    code: row < ROWS - 1 ? row : 'none',
  }),
)
const FILES: Record<string, BlobPart> = {
  'delimited text': csv,
  'packed delimited text': new Uint8Array(gzipSync(csv, { level: 1 })),
  'delimited text in UTF-16': new Uint8Array(Buffer.from(`\ufeff${csv}`, 'utf16le')),
  NDJSON: ndjson.join('\n'),
  JSON: `[${ndjson.join(',')}]`,
  'JSON in an envelope': `{"total": ${ROWS}, "rows": [${ndjson.join(',')}]}`,
}

/** What a source tells after an early answer. */
function changesOf(source: RowSource): Promise<SourceChange> {
  return new Promise(resolve => source.onChange(resolve))
}

let pool: Awaited<ReturnType<typeof threads>>
beforeAll(async () => {
  pool = await threads()
})
afterAll(() => pool.end())

const PLACES: Record<string, (input: RowsInput) => RowSource> = {
  'the page': input => new PageSource(input),
  'a worker': input => new WorkerSource(pool.start() as unknown as EnginePort, input, false),
  'a worker over shared memory': input =>
    new WorkerSource(pool.start() as unknown as EnginePort, input, true),
}

describe.each(Object.entries(PLACES))('a large file opened early in %s', (_, open) => {
  it.each(Object.entries(FILES))('shows the first rows of %s, then all', async (_, bytes) => {
    const source = open({ kind: 'file', blob: new Blob([bytes]) })
    let told = 0
    const changed = changesOf(source)
    const first = await source.open({ early: true, onProgress: () => told++ })
    expect(first.total.kind).toBe('at-least')
    expect(first.total.rows).toBeGreaterThan(100)
    expect(first.total.rows).toBeLessThan(ROWS)
    const early = await source.view(NOTHING)
    expect(early.counts.passing).toEqual(first.total)
    const shown = await source.ask('cells', { view: early.id, from: 0, to: 2, columns: ['id', 'code'] })
    const before = told
    expect(await changed).toEqual({ problem: null })
    expect(told).toBeGreaterThan(before)

    const all = await source.ask('description', {})
    expect(all.total).toEqual({ kind: 'exact', rows: ROWS })
    expect(all.notes.join(' ')).toMatch(
      /“code” read as whole numbers in the first \d+ rows, and is text by all/,
    )
    const view = await source.view(NOTHING)
    expect(view.id).not.toBe(early.id)
    expect(view.counts.lines).toEqual({ kind: 'exact', rows: ROWS })
    const again = await source.ask('cells', { view: view.id, from: 0, to: 2, columns: ['id', 'code'] })
    expect(again.texts).toEqual(shown.texts)
    source.close()
  })

  it('changes rows when all are there', async () => {
    const source = open({ kind: 'file', blob: new Blob([csv]) })
    await source.open({ early: true })
    await source.commit({ put: [{ id: 7, cover: 99 }] }, ['id'])
    const description = await source.ask('description', {})
    expect(description.total).toEqual({ kind: 'exact', rows: ROWS })
    const view = await source.view({
      ...NOTHING,
      conditions: { cover: { match: 'all', parts: [{ kind: 'equals', value: 99 }] } },
    })
    expect(view.counts.passing.rows).toBe(2)
    source.close()
  })

  it('tells of a file that cannot be read to its end', async () => {
    const source = open({ kind: 'file', blob: new Blob([csv, '1,"never closed']) })
    const changed = changesOf(source)
    expect((await source.open({ early: true })).total.kind).toBe('at-least')
    const { lost } = await changed
    expect(lost).toMatchObject({ code: 'unclosed-quote' })
    source.close()
  })

  it('is given up', async () => {
    const source = open({ kind: 'file', blob: new Blob([csv, csv, csv]) })
    const changed = changesOf(source)
    const given = new AbortController()
    await source.open({ early: true, signal: given.signal })
    const committed = expect(source.commit({ put: [{ id: 7 }] }, ['id'])).rejects.toThrow(CancelledError)
    given.abort()
    expect((await changed).lost).toBeNull()
    await committed
    source.close()
  })

  it('is whole at once where nobody asks for less, and where it is small', async () => {
    const whole = open({ kind: 'file', blob: new Blob([csv]) })
    expect((await whole.open()).total).toEqual({ kind: 'exact', rows: ROWS })
    whole.close()
    const small = open({ kind: 'file', blob: new Blob(['a,b\n1,2\n']) })
    expect((await small.open({ early: true })).total).toEqual({ kind: 'exact', rows: 1 })
    small.close()
  })

  it('shows the first of made-up rows', async () => {
    const columns = [
      { key: 'n', kind: 'count' as const },
      { key: 'cover', kind: 'number' as const, from: 0, to: 9, decimals: 1, missing: 0.1 },
    ]
    const source = open({ kind: 'recipe', recipe: { name: 'many', rows: 1_200_000, seed: 3, columns } })
    const changed = changesOf(source)
    const { total } = await source.open({ early: true })
    expect(total).toEqual({ kind: 'at-least', rows: 1000 })
    const cells = async (): Promise<string> => {
      const { id } = await source.view(NOTHING)
      return JSON.stringify(
        await source.ask('cells', { view: id, from: 0, to: 900, columns: ['n', 'cover'] }),
      )
    }
    const first = await cells()
    await changed
    expect(await cells()).toBe(first)
    expect((await source.ask('description', {})).total).toEqual({ kind: 'exact', rows: 1_200_000 })
    source.close()
  })
})
