import { toldLine } from './support/told-line.ts'
import { levelOf } from '../src/group/level.ts'
import type { LineIndex } from '../src/flow/line.ts'
import fc from 'fast-check'
import { afterEach, describe, expect, it } from 'vitest'
import { PageSource } from '../src/source/page-source.ts'
import type { LineReader, RowSource, View } from '../src/source/row-source.ts'
import { rowsIn, type RowId } from '../src/table/row-id.ts'
import { openSource } from '../src/worker/open-source.ts'
import { serveEngine, type ServedPort } from '../src/worker/serve.ts'
import { WorkerSource, type EnginePort } from '../src/worker/worker-source.ts'
import { CancelledError } from '../src/work/work.ts'
import type { FlowRequest } from '../src/flow/request.ts'
import type { KeyValue } from '../src/key/key-value.ts'
import { oracle, type OracleLine } from './support/oracle.ts'
import { COLUMNS, PLAIN, randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

const opened: RowSource[] = []
afterEach(() => opened.splice(0).forEach(source => source.close()))

/** Room of removed rows is given back so soon after a change. */
const COMPACT_AFTER_MS = 10

function workerPort(): EnginePort {
  const { port1, port2 } = new MessageChannel()
  serveEngine({}, port2 as unknown as ServedPort, undefined, { compactAfterMs: COMPACT_AFTER_MS })
  return port1 as unknown as EnginePort
}

const PLACES: Record<string, (input: Parameters<typeof tableOf>[0]) => RowSource> = {
  'in the page': rows =>
    new PageSource({ kind: 'table', table: tableOf(rows) }, [], {}, { compactAfterMs: COMPACT_AFTER_MS }),
  'in a worker': rows => new WorkerSource(workerPort(), { kind: 'table', table: tableOf(rows) }, false),
  'in a worker with shared memory': rows =>
    new WorkerSource(workerPort(), { kind: 'table', table: tableOf(rows) }, true),
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

async function readAll({ lines }: View): Promise<{ lines: OracleLine[]; texts: (string | undefined)[] }> {
  await arrive(lines)
  const texts: (string | undefined)[] = []
  const read = Array.from({ length: lines.lineCount }, (_, i): OracleLine => {
    const line = lines.line(i)!
    expect(lines.groupsAt?.(i)?.at(-1)?.level ?? -1).toBe(line.level - (line.kind === 'row' ? 1 : 0))
    if (line.kind !== 'row') return toldLine(line)
    for (const column of COLUMNS) texts.push(lines.text(i, line.row, column))
    return { row: Number(line.row) }
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
        const view = await source.view(request)
        const page = new PageSource({ kind: 'table', table: tableOf(rows) })
        await page.open()
        const read = await readAll(view)
        expect(read.lines).toEqual(oracle(tableOf(rows), request).lines)
        expect(read.texts).toEqual((await readAll(await page.view(request))).texts)
        source.close()
      }),
      runs(60),
    )
  })

  it('gives up what is no longer wanted', async () => {
    const source = await open(Array.from({ length: 20_000 }, (_, i) => ({ site: `s${i % 900}`, count: i })))
    const order = [{ column: 'site', direction: 'ascending' as const }]
    const given = new AbortController()
    const older = source.view({ ...PLAIN, search: '9', order }, { signal: given.signal })
    given.abort()
    const newer = source.view(PLAIN)
    await expect(older).rejects.toBeInstanceOf(CancelledError)
    expect((await newer).report.passing).toBe(20_000)
  })

  it('narrows and orders by what is pending, and shows what was saved again once it is given back', async () => {
    const source = await open(Array.from({ length: 50 }, (_, i) => ({ site: `s${i}`, count: i })))
    const request = {
      ...PLAIN,
      conditions: { count: { match: 'all' as const, parts: [{ kind: 'range' as const, from: 48 }] } },
      order: [{ column: 'count', direction: 'descending' as const }],
    }
    const sites = async (): Promise<unknown[]> => {
      const { id } = await source.view(request)
      const rows = await source.ask('passingRows', { view: id })
      return (await source.ask('records', { rows: [...rowsIn(rows)] })).map(record => record?.site)
    }
    expect(await sites()).toEqual(['s49', 's48'])
    await source.commit({ pending: [{ site: 's3', count: 100 }] }, ['site'])
    expect(await sites()).toEqual(['s3', 's49', 's48'])
    expect(await source.ask('pending', {})).toEqual([
      { row: 3, gone: false, cells: [{ field: 'count', before: 3, after: 100 }] },
    ])
    await source.commit({ giveBack: 'all' }, ['site'])
    expect(await sites()).toEqual(['s49', 's48'])
    expect(await source.ask('pending', {})).toEqual([])
  })

  it('shows committed changes in what is arranged next, and gives back the room of removed rows', async () => {
    const rows = Array.from({ length: 3000 }, (_, i) => ({ site: `s${i}`, count: i % 5 }))
    const source = await open(rows)
    const request = {
      ...PLAIN,
      conditions: { count: { match: 'all' as const, parts: [{ kind: 'range' as const, from: 4 }] } },
    }
    expect((await source.view(request)).report.passing).toBe(600)
    const committed = await source.commit(
      {
        put: [{ site: 'new', count: 9 }],
        update: [{ site: 's0', count: 4 }],
        remove: rows.slice(1, 1501).map(row => row.site),
      },
      ['site'],
    )
    expect(committed).toEqual({
      inserted: 1,
      updated: 1,
      removed: 1500,
      restored: 0,
      problems: [],
      total: 1501,
    })
    const { id, report, lines } = await source.view(request)
    expect([report.passing, report.total]).toEqual([302, 1501])
    await arrive(lines)
    const last = lines.line(301)
    expect(last?.kind === 'row' && lines.text(301, last.row, 'site')).toBe('new')
    const before = await source.ask('passingRows', { view: id })
    // Room is given back a while after a change; rows keep their ids through it.
    await new Promise(resolve => setTimeout(resolve, 50))
    const after = await source.view(request)
    expect([after.report.passing, after.report.total]).toEqual([302, 1501])
    expect(await source.ask('passingRows', { view: after.id })).toEqual(before)
    const [found] = await source.ask('findRows', { keyFields: ['site'], keys: ['new'] })
    expect(await source.ask('records', { rows: [found!] })).toMatchObject([{ site: 'new', count: 9 }])
    expect(await source.ask('linesOf', { view: after.id, rows: [found!, 0 as RowId, 1 as RowId] })).toEqual([
      301, 0, -1,
    ])
    expect((await source.ask('description', {})).total).toEqual({ kind: 'exact', rows: 1501 })
  })

  it('finds rows by key, tells their lines, and gives them as objects', async () => {
    const source = await open([
      { site: 'b', count: 7 },
      { site: 'a', count: 8 },
    ])
    const order = [{ column: 'site', direction: 'ascending' as const }]
    const { id: view } = await source.view({ ...PLAIN, order })
    const findRows = (keyFields: string[], keys: KeyValue[]): Promise<(RowId | null)[]> =>
      source.ask('findRows', { keyFields, keys })
    const [row] = await findRows(['count'], [7])
    expect(row).toBe(0)
    expect(await source.ask('linesOf', { view, rows: [row!, 1 as RowId, 9 as RowId] })).toEqual([1, 0, -1])
    expect(await findRows([], [1, 2])).toEqual([1, null])
    expect(await findRows(['count'], [99, '8'])).toEqual([null, 1])
    const list = { kind: 'list' as const, rows: Uint32Array.of(1, 0) }
    expect(await source.ask('keysOf', { keyFields: ['count'], rows: list })).toEqual([8, 7])
    const run = { kind: 'run' as const, from: 0, to: 1 }
    expect(await source.ask('keysOf', { keyFields: ['count', 'site'], rows: run })).toEqual([[7, 'b']])
    const proposed = await source.ask('proposeKeys', {})
    expect(proposed.map(({ fields }) => fields)).toEqual([['site'], ['count']])
    expect(await source.ask('records', { rows: [1 as RowId] })).toEqual([{ site: 'a', count: 8 }])
    const between = { kind: 'list', rows: Uint32Array.from([1, 0]) }
    expect(await source.ask('rowsBetween', { view, from: 0 as LineIndex, to: 2 as LineIndex })).toEqual(
      between,
    )
  })

  it('gives all rows that pass, also those of closed groups', async () => {
    const source = await open([{ site: 'b' }, { site: 'a' }, { site: 'b' }])
    const closed = { levels: 0, except: [] }
    const { id, lines } = await source.view({
      ...PLAIN,
      groups: [levelOf('site')],
      open: closed,
      search: 'b',
    })
    expect(lines.lineCount).toBe(1)
    const all = await source.view(PLAIN)
    expect(await source.ask('passingRows', { view: all.id })).toEqual({ kind: 'run', from: 0, to: 3 })
    // A view answers for itself, whatever was asked after it, until it is closed.
    const passing = { kind: 'list', rows: Uint32Array.from([0, 2]) }
    expect(await source.ask('passingRows', { view: id })).toEqual(passing)
    all.close()
    await expect(source.ask('passingRows', { view: all.id })).rejects.toBeInstanceOf(CancelledError)
  })

  it('rejects what cannot be read with its problem, and stays usable', async () => {
    const source = await open([{ site: 'a' }])
    await expect(source.ask('facets', { request: PLAIN, column: 'nowhere', limit: 5 })).rejects.toThrow(
      'nowhere',
    )
    expect((await source.view(PLAIN)).report.total).toBe(1)
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
    expect((await source.view(request)).report.total).toBe(1)
    release()
    while ((await source.ask('description', {})).total.kind !== 'exact') await told(source)
    const { fields, total } = await source.ask('description', {})
    expect([fields.map(({ key, type }) => [key, type]), total.rows]).toEqual([
      [
        ['id', 'integer'],
        ['n', 'text'],
        ['more', 'text'],
      ],
      3,
    ])
    expect((await source.view({ ...request, search: 'many' })).report.passing).toBe(1)
    expect(await source.ask('records', { rows: [0, 1, 2] as RowId[] })).toEqual([
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
    expect((await source.ask('description', {})).total).toEqual({ kind: 'at-least', rows: 1 })
    const { report, counts } = await source.view(PLAIN)
    expect([report.total, counts.total, counts.lines.kind]).toEqual([
      1,
      { kind: 'at-least', rows: 1 },
      'at-least',
    ])
  })
})
