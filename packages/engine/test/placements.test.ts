import fc from 'fast-check'
import { afterEach, describe, expect, it } from 'vitest'
import { PageSource } from '../src/source/page-source.ts'
import type { Arranged, LineReader, RowSource } from '../src/source/row-source.ts'
import { openSource } from '../src/worker/open-source.ts'
import { serveEngine, type ServedPort } from '../src/worker/serve.ts'
import { WorkerSource, type EnginePort } from '../src/worker/worker-source.ts'
import { CancelledError } from '../src/work/work.ts'
import type { FlowRequest } from '../src/flow/request.ts'
import { oracle, type OracleLine } from './support/oracle.ts'
import { COLUMNS, randomRequest, randomRows, tableOf } from './support/random-table.ts'

const opened: RowSource[] = []
afterEach(() => opened.splice(0).forEach(source => source.close()))

function workerPort(): EnginePort {
  const { port1, port2 } = new MessageChannel()
  serveEngine(port2 as unknown as ServedPort)
  return port1 as unknown as EnginePort
}

const PLACES: Record<string, (input: Parameters<typeof tableOf>[0]) => RowSource> = {
  'in the page': rows => new PageSource({ kind: 'table', table: tableOf(rows) }),
  'in a worker': rows => new WorkerSource(workerPort(), { kind: 'table', table: tableOf(rows) }, false),
  'in a worker with shared memory': rows =>
    new WorkerSource(workerPort(), { kind: 'table', table: tableOf(rows) }, true),
}

const PLAIN: FlowRequest = {
  order: [],
  conditions: {},
  search: '',
  searchColumns: [...COLUMNS],
  group: null,
  open: { all: true, except: [] },
}

async function arrive(lines: LineReader): Promise<void> {
  for (let index = 0; index < lines.lineCount; index += 32) {
    lines.want(index, Math.min(lines.lineCount, index + 32), COLUMNS)
    while (lines.line(index) === undefined) {
      await new Promise<void>(resolve => {
        const stop = lines.onArrive(() => {
          stop()
          resolve()
        })
      })
    }
  }
}

async function readAll({ lines }: Arranged): Promise<{ lines: OracleLine[]; texts: (string | undefined)[] }> {
  await arrive(lines)
  const texts: (string | undefined)[] = []
  const read = Array.from({ length: lines.lineCount }, (_, i): OracleLine => {
    const line = lines.line(i)!
    if (line.kind === 'group') return { group: line.value === 0 ? 0 : line.value, count: line.count }
    for (const column of COLUMNS) texts.push(lines.text(i, line.row, column))
    return { row: line.row }
  })
  return { lines: read, texts }
}

describe.each(Object.keys(PLACES))('the engine %s', place => {
  const open = async (rows: Parameters<typeof tableOf>[0]): Promise<RowSource> => {
    const source = PLACES[place](rows)
    opened.push(source)
    await source.open()
    return source
  }

  it('answers the same lines and texts as the plain version', async () => {
    await fc.assert(
      fc.asyncProperty(randomRows, randomRequest, async (rows, request) => {
        const source = await open(rows)
        const arranged = await source.arrange(1, request)
        const page = new PageSource({ kind: 'table', table: tableOf(rows) })
        await page.open()
        const read = await readAll(arranged)
        expect(read.lines).toEqual(oracle(tableOf(rows), request).lines)
        expect(read.texts).toEqual((await readAll(await page.arrange(1, request))).texts)
        source.close()
      }),
      { numRuns: 60 },
    )
  })

  it('drops the answer to an older version', async () => {
    const source = await open(Array.from({ length: 20_000 }, (_, i) => ({ site: `s${i % 900}`, count: i })))
    const order = [{ column: 'site', direction: 'ascending' as const }]
    const older = source.arrange(1, { ...PLAIN, search: '9', order })
    const newer = source.arrange(2, PLAIN)
    await expect(older).rejects.toBeInstanceOf(CancelledError)
    expect((await newer).report.passing).toBe(20_000)
  })

  it('finds rows by key, tells their lines, and gives them as objects', async () => {
    const source = await open([
      { site: 'b', count: 7 },
      { site: 'a', count: 8 },
    ])
    await source.arrange(1, { ...PLAIN, order: [{ column: 'site', direction: 'ascending' }] })
    const row = await source.findRow('count', 7)
    expect(row).toBe(0)
    expect(await source.lineOfRow(row)).toBe(1)
    expect(await source.findRow(null, 1)).toBe(1)
    expect(await source.findRow('count', 99)).toBe(-1)
    expect(await source.records([1])).toEqual([{ site: 'a', count: 8 }])
    expect(await source.rowsBetween(0, 2)).toEqual({ kind: 'list', rows: Uint32Array.from([1, 0]) })
  })

  it('gives all rows that pass, also those of closed groups', async () => {
    const source = await open([{ site: 'b' }, { site: 'a' }, { site: 'b' }])
    const closed = { all: false, except: [] }
    const { lines } = await source.arrange(1, { ...PLAIN, group: 'site', open: closed, search: 'b' })
    expect(lines.lineCount).toBe(1)
    expect(await source.passingRows()).toEqual({ kind: 'list', rows: Uint32Array.from([0, 2]) })
    await source.arrange(2, PLAIN)
    expect(await source.passingRows()).toEqual({ kind: 'run', from: 0, to: 3 })
  })

  it('rejects what cannot be read with its problem, and stays usable', async () => {
    const source = await open([{ site: 'a' }])
    await expect(source.facets(PLAIN, 'nowhere', 5)).rejects.toThrow('nowhere')
    expect((await source.arrange(1, PLAIN)).report.total).toBe(1)
  })
})

describe('opening a source', () => {
  it('falls back to the page, and says so, when the worker cannot be started', async () => {
    const source = await openSource(
      { kind: 'rows', rows: [{ a: 1 }] },
      {
        engine: 'worker',
        worker: () => {
          throw new Error('blocked by policy')
        },
      },
    )
    const { where, notes } = await source.open()
    expect(where).toBe('this page')
    expect(notes.join()).toContain('blocked by policy')
  })

  it('keeps small tables in the page', async () => {
    const source = await openSource(
      { kind: 'rows', rows: [{ a: 1 }] },
      { worker: () => expect.fail('a worker was made') },
    )
    expect((await source.open()).where).toBe('this page')
  })

  it('tells progress and can be cancelled while rows are made', async () => {
    const recipe = {
      name: 'many',
      rows: 8_000_000,
      columns: [{ key: 'n', kind: 'number' as const, from: 0, to: 1, decimals: 2 }],
    }
    const source = new WorkerSource(workerPort(), { kind: 'recipe', recipe }, false)
    opened.push(source)
    const controller = new AbortController()
    const told: number[] = []
    const opening = source.open({
      signal: controller.signal,
      onProgress: progress => {
        told.push(progress.done)
        controller.abort()
      },
    })
    await expect(opening).rejects.toBeInstanceOf(CancelledError)
    expect(told.length).toBeGreaterThan(0)
  })
})
