import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { serviceSource } from '../src/service/service-source.ts'
import type { AskedOfService, ServiceOptions } from '../src/service/service-options.ts'
import { SourceError, type RowSource, type SourceChange } from '../src/source/row-source.ts'
import { CancelledError } from '../src/work/work.ts'
import type { ViewRequest } from '../src/flow/view-request.ts'
import { levelOf } from '../src/group/level.ts'
import { isAble } from '../src/question/abilities.ts'
import { asRowId } from '../src/table/row-id.ts'
import { PLAIN } from './support/random-table.ts'

const METADATA = {
  $EntityContainer: 'S.C',
  S: {
    row: { $Kind: 'EntityType', $Key: ['id'], id: { $Type: 'Edm.Int32' }, name: { $Nullable: true } },
    C: { rows: { $Collection: true, $Type: 'S.row' } },
  },
}
const ROWS = Array.from({ length: 300 }, (_, id) => ({ id, name: `name ${id}` }))

type Answering = (path: string, params: URLSearchParams, request: Request) => Response | Promise<Response>

/** As services of the protocol's first version write their control information. */
const answering: Answering = (path, params) => {
  if (path === '$metadata') return Response.json(METADATA)
  if (path === 'rows/$count') return new Response(`\uFEFF${ROWS.length}`)
  const skip = Number(params.get('$skip') ?? 0)
  // No more than fifty at once, whatever is asked.
  const top = Math.min(50, Number(params.get('$top') ?? 50))
  return Response.json({
    '@odata.context': 'x',
    '@odata.count': ROWS.length,
    value: ROWS.slice(skip, skip + top),
  })
}

let changes: SourceChange[] = []
let asked: AskedOfService[] = []
const sources: RowSource[] = []
beforeEach(() => {
  changes = []
  asked = []
})
afterEach(() => {
  vi.useRealTimers()
  for (const source of sources.splice(0)) source.close()
})

function sourceOf(answer: Answering, near: ServiceOptions['near'] = false): RowSource {
  const source = serviceSource({
    near,
    address: 'http://service/root/',
    rows: 'rows',
    headers: { authorization: 'me' },
    onAsked: one => asked.push(one),
    fetch: async request => {
      const { pathname, searchParams } = new URL(request.url)
      return await answer(decodeURIComponent(pathname.replace('/root/', '')), searchParams, request)
    },
  })
  source.onChange(change => changes.push(change))
  sources.push(source)
  return source
}

const problemOf = async (answer: Answering): Promise<unknown> => {
  try {
    await sourceOf(answer).open()
    return null
  } catch (error) {
    return error instanceof SourceError ? error.problem : error
  }
}

/** Loses questions as `lost` says, by their number from 0. */
function losing(lost: (nth: number) => boolean): Answering {
  let nth = 0
  return (...question) => {
    if (lost(nth++)) throw new TypeError('lost')
    return answering(...question)
  }
}

describe('a service', () => {
  it('is read as it answers: fewer rows at once, and its own control information', async () => {
    const source = sourceOf(answering)
    const { fields, total, samples } = await source.open()
    expect(fields.map(({ key, type }) => [key, type])).toEqual([
      ['id', 'integer'],
      ['name', 'text'],
    ])
    expect(total).toEqual({ kind: 'exact', rows: 300 })
    expect(samples[1].slice(0, 2)).toEqual(['name 0', 'name 1'])
    const view = await source.view({ ...PLAIN, groups: [], searchColumns: [] })
    const block = await source.ask('cells', { view: view.id, from: 90, to: 210, columns: ['name'] })
    expect(block.texts).toEqual(ROWS.slice(90, 210).map(({ name }) => name))
    const streamed: unknown[] = []
    for await (const chunk of source.stream({ request: PLAIN, chunk: 70 })) streamed.push(...chunk)
    expect(streamed).toEqual(ROWS)
    expect(asked.every(({ status, bytes }) => status === 200 && bytes > 0)).toBe(true)
  })

  it('hears who asks', async () => {
    const heard: (string | null)[] = []
    await sourceOf((path, params, request) => {
      heard.push(request.headers.get('authorization'))
      return answering(path, params, request)
    }).open()
    expect(new Set(heard)).toEqual(new Set(['me']))
  })

  it.each([
    [
      { code: 'service-refused', status: 401, reason: 'Sign in' },
      () => Response.json({ error: { message: 'Sign in' } }, { status: 401 }),
    ],
    [{ code: 'service-refused', status: 404, reason: '' }, () => new Response('<html>', { status: 404 })],
    [{ code: 'service-unreadable', what: '$metadata' }, () => new Response('<a')],
    [{ code: 'service-unreadable', what: '$metadata' }, () => new Response('{"$EntityContainer"')],
    [
      { code: 'service-has-no-such-rows', rows: 'rows', names: [] },
      () => new Response('<html><body>Hello</body></html>'),
    ],
    [{ code: 'service-has-no-such-rows', rows: 'rows', names: [] }, () => Response.json({})],
  ] as const)('that answers otherwise is told of: %j', async (problem, answer) => {
    expect(await problemOf(() => answer())).toEqual({ service: 'service', ...problem })
  })

  it('tells how far it is with rows that it makes ready', async () => {
    let left = 2
    const progress: unknown[] = []
    const source = sourceOf((...question) =>
      left-- > 0
        ? Response.json(
            { error: { code: 'preparing', facts: { doing: 'Making', done: 5 - left, of: 9 } } },
            { status: 202 },
          )
        : answering(...question),
    )
    await source.open({ onProgress: one => progress.push(one) })
    expect(progress).toEqual([
      { doing: 'Making', done: 4, of: 9, unit: 'rows' },
      { doing: 'Making', done: 5, of: 9, unit: 'rows' },
    ])
  })
})

describe('a bad line', () => {
  it('loses a question now and then without a word', async () => {
    const source = sourceOf(losing(nth => nth === 1 || nth === 5))
    expect((await source.open()).total.rows).toBe(300)
    expect(changes).toEqual([])
  })

  it('is told of when it fails for longer, and when it is back', async () => {
    vi.useFakeTimers()
    let down = false
    const source = sourceOf((...question) => {
      if (down) throw new TypeError('lost')
      return answering(...question)
    })
    await source.open()
    down = true
    const view = source.view({
      ...PLAIN,
      groups: [],
      conditions: { id: { match: 'all', parts: [{ kind: 'present' }] } },
    })
    const failed = expect(view).rejects.toThrow(SourceError)
    await vi.advanceTimersByTimeAsync(2000)
    expect(changes).toEqual([
      { problem: null, line: { code: 'service-not-reached', service: 'service', reason: 'lost' } },
    ])
    await vi.advanceTimersByTimeAsync(10_000)
    await failed
    down = false
    await vi.advanceTimersByTimeAsync(4000)
    expect(changes.slice(1)).toEqual([{ problem: null, line: null }])
  })

  it('goes on by itself when whoever asks has signed in again', async () => {
    vi.useFakeTimers()
    let signedIn = true
    const source = sourceOf((...question) =>
      signedIn ? answering(...question) : new Response('{}', { status: 401 }),
    )
    await source.open()
    const view = await source.view(PLAIN)
    signedIn = false
    view.lines.want(0, 20, ['name'])
    await vi.advanceTimersByTimeAsync(10)
    expect(changes.map(({ line }) => line?.code)).toEqual(['service-refused'])
    await vi.advanceTimersByTimeAsync(7000)
    expect(changes.length).toBe(1)
    signedIn = true
    await vi.advanceTimersByTimeAsync(4000)
    expect(changes.at(-1)).toEqual({ problem: null, line: null })
  })

  it('is taken for lost where nothing is answered', async () => {
    vi.useFakeTimers()
    let silent = 0
    const source = sourceOf(
      (path, params, request) =>
        new Promise((resolve, reject) => {
          if (silent++ > 0) resolve(answering(path, params, request))
          request.signal.addEventListener('abort', () => reject(new Error('given up')))
        }),
    )
    const opening = source.open()
    await vi.advanceTimersByTimeAsync(59_000)
    expect(silent).toBe(1)
    await vi.advanceTimersByTimeAsync(3000)
    expect((await opening).total.rows).toBe(300)
  })

  it('is not asked any more by what was given up, or closed', async () => {
    vi.useFakeTimers()
    let questions = 0
    const source = sourceOf(() => {
      questions++
      throw new TypeError('lost')
    })
    const given = new AbortController()
    const opening = source.open({ signal: given.signal })
    const ended = expect(opening).rejects.toThrow(CancelledError)
    await vi.advanceTimersByTimeAsync(100)
    given.abort()
    await ended
    await vi.advanceTimersByTimeAsync(60_000)
    expect(questions).toBe(1)
    source.close()
  })
})

describe('rows that are few', () => {
  /** A service that understands the conditions `id lt N` and `id ge N`. */
  const narrowing: Answering = (path, params) => {
    if (path === '$metadata') return Response.json(METADATA)
    const bounds = [...(params.get('$filter') ?? '').matchAll(/id (lt|ge) (\d+)/g)]
    const passing = ROWS.filter(({ id }) =>
      bounds.every(([, sign, bound]) => (sign === 'lt' ? id < Number(bound) : id >= Number(bound))),
    )
    if (path === 'rows/$count') return new Response(String(passing.length))
    const skip = Number(params.get('$skip') ?? 0)
    const top = Number(params.get('$top') ?? 50)
    return Response.json({ value: passing.slice(skip, skip + top) })
  }
  const below = (bound: number): ViewRequest => ({
    ...PLAIN,
    conditions: { id: { match: 'all', parts: [{ kind: 'below', value: bound }] } },
  })
  const named = (part: string): ViewRequest => ({
    ...below(20),
    conditions: {
      ...below(20).conditions,
      name: { match: 'all', parts: [{ kind: 'contains', text: part }] },
    },
  })
  const fetched = async (): Promise<void> => {
    await vi.waitFor(() => expect(changes.filter(({ problem }) => problem === null).length).toBe(1))
  }

  it('are fetched once, and nothing more is asked for what is narrower', async () => {
    const source = sourceOf(narrowing, { rows: 50 })
    await source.open()
    expect((await source.view(PLAIN)).report.near ?? null).toBe(null)
    const first = await source.view(below(20))
    expect(first.report.near ?? null).toBe(null)
    await fetched()
    const before = asked.length
    const again = await source.view({ ...below(20), order: [{ column: 'id', direction: 'descending' }] })
    expect(again.report).toMatchObject({ passing: 20, total: 300, near: { rows: 20 } })
    expect(again.lines.text(0, asRowId(19), 'name')).toBe('name 19')
    const narrower = await source.view(named('1'))
    expect(narrower.report.passing).toBe(11)
    expect(asked.length).toBe(before)
    // What the service knows nothing of is asked by nobody, near or far.
    const worked = { computed: { match: 'all' as const, parts: [{ kind: 'above' as const, value: 1 }] } }
    const unknown = await source.view({
      ...below(20),
      conditions: { ...below(20).conditions, ...worked },
    })
    expect(unknown.report.near ?? null).toBe(null)
    expect(unknown.report.conditionProblems.computed).toEqual([{ code: 'not-in-service' }])
    // Rows are named as before, so that what is selected stays so.
    expect(narrower.lines.line(0)).toEqual({ kind: 'row', level: 0, row: 1 })
    const rows = { kind: 'list' as const, rows: [asRowId(1)] }
    expect(await source.ask('keysOf', { keyFields: [], rows })).toEqual([1])
  })

  describe('with which the page does more', () => {
    const opened = async (): Promise<RowSource> => {
      const source = sourceOf(narrowing, { rows: 50, more: true })
      await source.open()
      return source
    }
    /** As no service is asked for it: the last of three digits is even. */
    const pattern = (request: ViewRequest): ViewRequest => ({
      ...request,
      conditions: {
        ...request.conditions,
        name: { match: 'all', parts: [{ kind: 'pattern', pattern: '[02468]$' }] },
      },
    })
    const inGroups = (request: ViewRequest): ViewRequest => ({
      ...request,
      groups: [levelOf('name', { bucket: { by: 'letters', count: 6 }, keep: { where: [], most: TWO } })],
    })
    const TWO = { count: 2, of: 'size' as const, direction: 'descending' as const, rest: 'out' as const }

    it('offers what the page can for as long as they are here', async () => {
      const source = await opened()
      const { can } = await source.ask('description', {})
      expect(isAble(can.conditions, 'pattern')).toBe(false)
      expect(isAble(can.groups)).toBe(false)
      const far = await source.view(PLAIN)
      expect(far.can).toEqual(can)
      await source.view(below(20))
      await fetched()
      const near = await source.view(below(20))
      expect(isAble(near.can?.conditions, 'pattern')).toBe(true)
      expect(isAble(near.can?.groups, 'parts')).toBe(true)
      expect(isAble(near.can?.questions, 'lengthMap')).toBe(true)
      expect(near.can?.commit).toEqual(can.commit)
      expect((await source.view(PLAIN)).can).toEqual(can)
      // A builder who has not allowed it is offered nothing more.
      const plain = sourceOf(narrowing, { rows: 50 })
      await plain.open()
      await plain.view(below(20))
      await vi.waitFor(async () => expect((await plain.view(below(20))).report.near).not.toBe(null))
      expect(isAble((await plain.view(below(20))).can?.conditions, 'pattern')).toBe(false)
    })

    it('fetches them for what the service cannot be asked', async () => {
      const source = await opened()
      const view = await source.view(pattern(below(20)))
      expect(view.report).toMatchObject({ passing: 10, total: 300, near: { rows: 20 } })
      expect(view.report.conditionProblems).toEqual({})
      const grouped = await source.view(inGroups(below(20)))
      expect(grouped.report).toMatchObject({ passing: 12, groups: [2] })
      expect(grouped.lines.line(2)).toMatchObject({ kind: 'head', shown: 'NAME 1', count: 11 })
      const given: unknown[] = []
      for await (const rows of source.stream({ request: pattern(below(4)) })) given.push(...rows)
      expect(given).toEqual([
        { id: 0, name: 'name 0' },
        { id: 2, name: 'name 2' },
      ])
    })

    it('tells of rows beyond those that pass', async () => {
      const source = await opened()
      const request = pattern(below(20))
      const { id } = await source.view(request)
      const ofName = await source.ask('facets', { request, column: 'name', limit: 30 })
      expect(ofName.distinct).toBe(20)
      const ofId = { request: pattern(below(60)), column: 'id', limit: 3 }
      // Without its own condition there are all 300 of them.
      await expect(source.ask('facets', ofId)).rejects.toMatchObject({
        problem: { code: 'near-too-many', what: 'condition', column: 'name', rows: 300, most: 50 },
      })
      const traced = await source.ask('trace', { request, view: id, row: asRowId(3) }).catch(String)
      expect(traced).toContain('300')
      const passing = await source.ask('trace', { request, view: id, row: asRowId(4) })
      expect(passing).toMatchObject({ passes: true, line: 2 })
    })

    it('says how many are too many, and loses nothing', async () => {
      const source = await opened()
      const kept = await source.view(below(20))
      for (const request of [pattern(PLAIN), pattern(below(51)), inGroups(PLAIN)])
        await expect(source.view(request)).rejects.toMatchObject({
          problem: { code: 'near-too-many', service: 'service', most: 50 },
        })
      expect(changes.every(({ problem }) => problem === null)).toBe(true)
      kept.lines.want(0, 20, ['name'])
      await vi.waitFor(() => expect(kept.lines.text(7, asRowId(7), 'name')).toBe('name 7'))
      expect((await source.view(pattern(below(50)))).report.passing).toBe(25)
    })
  })

  it('are forgotten when the host says that they may have changed', async () => {
    const source = sourceOf(narrowing, { rows: 50 })
    await source.open()
    await source.view(below(20))
    await fetched()
    expect(changes.at(-1)).toEqual({ problem: null, same: true })
    await source.refresh?.()
    expect(changes.at(-1)).toEqual({ problem: null })
    const before = asked.length
    expect((await source.view(below(20))).report.near ?? null).toBe(null)
    expect(asked.length).toBeGreaterThan(before)
  })

  it('are asked of the service again when a condition is lifted', async () => {
    const source = sourceOf(narrowing, { rows: 50 })
    await source.open()
    await source.view(below(20))
    await fetched()
    const wider = await source.view(below(40))
    expect(wider.report.passing).toBe(40)
    expect(wider.report.near ?? null).toBe(null)
    expect((await source.view(PLAIN)).report.passing).toBe(300)
  })

  it.each([
    ['there are more than so many', { rows: 10 }],
    ['they take more than so many bytes', { rows: 50, bytes: 100 }],
    ['the host wants none', false as const],
  ])('are left where they are when %s', async (_, near) => {
    const source = sourceOf(narrowing, near)
    await source.open()
    await source.view(below(20))
    await new Promise(resolve => setTimeout(resolve, 30))
    expect((await source.view(below(20))).report.near ?? null).toBe(null)
    expect(changes).toEqual([])
  })

  it('are left where they are when others are there than were counted', async () => {
    const source = sourceOf((path, params, request) => {
      if (params.get('$top') !== '21') return narrowing(path, params, request)
      return Response.json({ value: ROWS.slice(0, 21) })
    }, {})
    await source.open()
    await source.view(below(20))
    await new Promise(resolve => setTimeout(resolve, 30))
    expect((await source.view(below(20))).report.near ?? null).toBe(null)
  })
})
