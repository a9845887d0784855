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
import { runs } from './support/runs.ts'

const opened: RowSource[] = []
afterEach(() => opened.splice(0).forEach(source => source.close()))

function workerPort(): EnginePort {
  const { port1, port2 } = new MessageChannel()
  serveEngine({}, port2 as unknown as ServedPort)
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

// What reads patterns is a file of the built package; here it cannot be loaded.
const withoutPatterns = ({ conditions }: FlowRequest): boolean =>
  Object.values(conditions).every(({ parts }) => parts.every(({ kind }) => kind !== 'pattern'))

describe.each(Object.keys(PLACES))('the engine %s', place => {
  const open = async (rows: Parameters<typeof tableOf>[0]): Promise<RowSource> => {
    const source = PLACES[place](rows)
    opened.push(source)
    await source.open()
    return source
  }

  it('answers the same lines and texts as the plain version', async () => {
    await fc.assert(
      fc.asyncProperty(randomRows, randomRequest.filter(withoutPatterns), async (rows, request) => {
        const source = await open(rows)
        const arranged = await source.arrange(1, request)
        const page = new PageSource({ kind: 'table', table: tableOf(rows) })
        await page.open()
        const read = await readAll(arranged)
        expect(read.lines).toEqual(oracle(tableOf(rows), request).lines)
        expect(read.texts).toEqual((await readAll(await page.arrange(1, request))).texts)
        source.close()
      }),
      runs(60),
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

  it('shows committed changes in what is arranged next, and gives back the room of removed rows', async () => {
    const rows = Array.from({ length: 3000 }, (_, i) => ({ site: `s${i}`, count: i % 5 }))
    const source = await open(rows)
    const request = {
      ...PLAIN,
      conditions: { count: { match: 'all' as const, parts: [{ kind: 'range' as const, from: 4 }] } },
    }
    expect((await source.arrange(1, request)).report.passing).toBe(600)
    const committed = await source.commit(
      {
        put: [{ site: 'new', count: 9 }],
        update: [{ site: 's0', count: 4 }],
        remove: rows.slice(1, 1501).map(row => row.site),
      },
      ['site'],
    )
    expect(committed).toEqual({ inserted: 1, updated: 1, removed: 1500, problems: [], total: 1501 })
    const { report, lines } = await source.arrange(2, request)
    expect([report.passing, report.total]).toEqual([302, 1501])
    await arrive(lines)
    const last = lines.line(301)
    expect(last?.kind === 'row' && lines.text(301, last.row, 'site')).toBe('new')
    const moved = await source.fold()
    expect([moved?.length, moved?.[0], moved?.[1], moved?.[1501]]).toEqual([3001, 0, 0xffffffff, 1])
    const after = await source.arrange(3, request)
    expect([after.report.passing, after.report.total]).toEqual([302, 1501])
    expect((await source.describe()).total).toEqual({ kind: 'exact', rows: 1501 })
  })

  it('finds rows by key, tells their lines, and gives them as objects', async () => {
    const source = await open([
      { site: 'b', count: 7 },
      { site: 'a', count: 8 },
    ])
    await source.arrange(1, { ...PLAIN, order: [{ column: 'site', direction: 'ascending' }] })
    const [row] = await source.findRows(['count'], [7])
    expect(row).toBe(0)
    expect(await source.lineOfRow(row)).toBe(1)
    expect([...(await source.findRows([], [1, 2]))]).toEqual([1, -1])
    expect([...(await source.findRows(['count'], [99, '8']))]).toEqual([-1, 1])
    expect(await source.keysOf(['count'], { kind: 'list', rows: Uint32Array.of(1, 0) })).toEqual([8, 7])
    expect(await source.keysOf(['count', 'site'], { kind: 'run', from: 0, to: 1 })).toEqual([[7, 'b']])
    expect((await source.proposeKeys()).map(({ fields }) => fields)).toEqual([['site'], ['count']])
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
    await expect(source.facets(PLAIN, 'nowhere', { limit: 5 })).rejects.toThrow('nowhere')
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

describe('rows that come in batches', () => {
  const told = (source: RowSource): Promise<string | null> =>
    new Promise(resolve => source.onChange(({ problem }) => resolve(problem)))

  it('can be arranged while more are on their way, whatever fields and types those bring', async () => {
    let release = (): void => {}
    const gate = new Promise<void>(resolve => (release = resolve))
    const batches = (async function* () {
      yield []
      yield [{ id: 1, n: 1 }]
      await gate
      yield [{ id: 2, n: 2.5, more: 'x' }]
      yield [{ id: 3, n: 'many' }]
    })()
    const source = await openSource({ kind: 'batches', batches }, { engine: 'page' })
    opened.push(source)
    expect((await source.open()).total).toEqual({ kind: 'at-least', rows: 1 })
    const request = { ...PLAIN, searchColumns: ['n'] }
    expect((await source.arrange(1, request)).report.total).toBe(1)
    release()
    while ((await source.describe()).total.kind !== 'exact') await told(source)
    const { fields, total } = await source.describe()
    expect([fields.map(({ key, type }) => [key, type]), total.rows]).toEqual([
      [
        ['id', 'integer'],
        ['n', 'text'],
        ['more', 'text'],
      ],
      3,
    ])
    expect((await source.arrange(2, { ...request, search: 'many' })).report.passing).toBe(1)
    expect(await source.records([0, 1, 2])).toEqual([
      { id: 1, n: '1', more: null },
      { id: 2, n: '2.5', more: 'x' },
      { id: 3, n: 'many', more: null },
    ])
  })

  it('stay when the line breaks, and it is told', async () => {
    const batches = (async function* () {
      yield [{ id: 1 }]
      await new Promise(resolve => setTimeout(resolve, 5))
      throw new Error('the line broke')
    })()
    const source = await openSource({ kind: 'batches', batches }, { engine: 'page' })
    opened.push(source)
    await source.open()
    expect(await told(source)).toContain('the line broke')
    expect((await source.describe()).total).toEqual({ kind: 'at-least', rows: 1 })
    expect((await source.arrange(1, PLAIN)).report.total).toBe(1)
  })
})
