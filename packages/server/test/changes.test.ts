import fc from 'fast-check'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { runs } from '../../engine/test/support/runs.ts'
import type { Access } from '../src/handler/access.ts'
import { serveTables, type Handler, type TableGiven } from '../src/handler/serve-tables.ts'
import { databaseNames, DATABASES, type Database } from './support/databases.ts'

const COLUMNS = {
  id: 'integer not null',
  site: 'text',
  price: 'decimal(10, 2)',
  day: 'date',
  at: 'timestamp',
  zoned: 'timestamptz',
  clock: 'time',
  tags: 'text[]',
  yes: 'boolean',
  big: 'bigint',
  small: 'smallint',
  ratio: 'double precision',
  owner: 'text not null',
}
const PAIRS = { region: 'text not null', nr: 'integer not null', name: 'text' }
const WHOLE = { update: true, insert: true, remove: true } as const
const TABLES: readonly TableGiven[] = [
  { name: 'rows', key: ['id'], change: WHOLE },
  { name: 'pairs', key: ['region', 'nr'], change: WHOLE },
  { name: 'told', source: ['rows'], key: ['id'] },
  { name: 'some', source: ['rows'], key: ['id'], change: { update: ['site'] } },
]

interface Answer {
  readonly status: number
  readonly body: Record<string, unknown>
  readonly error: { readonly code: string; readonly target?: string } | undefined
  readonly tag: string
  readonly headers: Headers
}

describe.each(databaseNames)('rows of %s are changed', name => {
  let database: Database
  let handler: Handler

  beforeAll(async () => {
    database = await DATABASES[name]()
    await database.makeTable('rows', COLUMNS, ['id'])
    await database.makeTable('pairs', PAIRS, ['nr'])
    handler = serving()
  })
  afterAll(() => database.close())
  beforeEach(async () => {
    await database.run('delete from rows')
    await database.run('delete from pairs')
    await database.run(
      `insert into rows values (1, 'Ings', 1.50, '2024-02-29', '2024-02-29 09:30:00', '2024-02-29 09:30:00+00', '09:30:00',
        array['a', 'b'], true, 9007199254740993, 7, 0.1, 'me'), (2, null, null, null, null, null, null, null, null, null, null, null, 'you')`,
    )
    await database.run(`insert into pairs values ('north', 1, 'a'), ('it''s', 2, 'b')`)
  })

  const serving = (access?: Access): Handler =>
    serveTables({
      engine: database.engine,
      tables: TABLES,
      path: '/at',
      ...(access ? { access: () => access } : {}),
    })

  async function ask(
    method: string,
    place: string,
    body?: unknown,
    headers: Record<string, string> = {},
    of = handler,
  ): Promise<Answer> {
    const response = await of(
      new Request(`http://here/at/${place}`, {
        method,
        headers: {
          ...(body === undefined ? {} : { 'content-type': 'application/json' }),
          prefer: 'return=representation',
          ...headers,
        },
        ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
      }),
    )
    const text = await response.text()
    const told = (text.startsWith('{') ? JSON.parse(text) : {}) as Record<string, unknown>
    return {
      status: response.status,
      body: told,
      error: told.error as Answer['error'],
      tag: response.headers.get('etag') ?? '',
      headers: response.headers,
    }
  }

  it('a row is told by its key, with a tag that stays while it does', async () => {
    const { status, body, tag } = await ask('GET', 'rows(1)')
    expect(status).toBe(200)
    expect(body).toMatchObject({
      '@etag': tag,
      id: 1,
      site: 'Ings',
      price: 1.5,
      day: '2024-02-29',
      at: '2024-02-29T09:30:00Z',
      tags: ['a', 'b'],
      big: '9007199254740993',
    })
    expect((await ask('GET', 'rows(1)')).tag).toBe(tag)
    expect((await ask('GET', 'rows(id=2)')).body).toMatchObject({ id: 2, owner: 'you', tags: null })
    expect((await ask('GET', "pairs(nr=2,region='it''s')")).body).toMatchObject({ name: 'b' })
    expect((await ask('GET', 'rows(3)')).error?.code).toBe('no-such-row')
  })

  it('what is no key is told as such', async () => {
    for (const place of ['rows()', 'rows(1,2)', 'rows(nr=1)', 'rows(1', 'pairs(1)', 'rows(null)', 'rows(id)'])
      expect((await ask('GET', place)).status, place).toBeGreaterThanOrEqual(400)
    expect((await ask('GET', "rows('x')")).error?.code).toBe('wrong-type')
    expect((await ask('GET', 'elsewhere(1)')).status).toBe(404)
    expect((await ask('GET', 'rows(-1)')).status).toBe(404)
  })

  interface Inner {
    readonly method: string
    readonly url: string
    readonly body?: unknown
    readonly headers?: Record<string, string>
  }

  const JSON_TYPE = { 'content-type': 'application/json' }

  async function batch(
    requests: readonly Inner[],
    headers: Record<string, string> = {},
    of = handler,
  ): Promise<{ status: number; answers: readonly { id: string; status: number; body?: unknown }[] }> {
    const body = { requests: requests.map((one, at) => ({ id: `n${at}`, ...one })) }
    const { status, body: told } = await ask('POST', '$batch', body, headers, of)
    return { status, answers: (told.responses ?? []) as never }
  }

  it('several requests come as one, each answered by itself', async () => {
    const { tag } = await ask('GET', 'rows(1)')
    const requests: readonly Inner[] = [
      { method: 'get', url: 'rows(1)' },
      { method: 'patch', url: 'rows(1)', body: { site: 'Carr' }, headers: { ...JSON_TYPE, 'if-match': tag } },
      { method: 'patch', url: 'rows(1)', body: { site: 'Holt' }, headers: { ...JSON_TYPE, 'if-match': tag } },
      { method: 'delete', url: '/at/rows(2)' },
      { method: 'post', url: 'http://here/at/rows', body: { id: 3, owner: 'me' }, headers: JSON_TYPE },
      { method: 'get', url: "rows?$filter=site eq 'Carr'&$select=id" },
    ]
    const { answers } = await batch(requests, { prefer: 'continue-on-error' })
    expect(answers.map(({ id, status }) => [id, status])).toEqual([
      ['n0', 200],
      ['n1', 204],
      ['n2', 412],
      ['n3', 204],
      ['n4', 201],
      ['n5', 200],
    ])
    expect(answers[0].body).toMatchObject({ site: 'Ings', big: '9007199254740993' })
    expect(answers[5].body).toMatchObject({ value: [{ id: 1 }] })
    expect((await ask('GET', 'rows(2)')).status).toBe(404)
    expect((await ask('GET', 'rows(3)')).body).toMatchObject({ owner: 'me' })
  })

  it('a batch ends where a request of it fails, unless it is to go on', async () => {
    const requests: readonly Inner[] = [
      { method: 'patch', url: 'rows(1)', body: { site: 'Carr' }, headers: JSON_TYPE },
      { method: 'patch', url: 'rows(9)', body: { site: 'Carr' }, headers: JSON_TYPE },
      { method: 'delete', url: 'rows(2)' },
    ]
    expect((await batch(requests)).answers.map(({ status }) => status)).toEqual([204, 404])
    expect((await ask('GET', 'rows(1)')).body.site).toBe('Carr')
    expect((await ask('GET', 'rows(2)')).status).toBe(200)
  })

  it('a batch reaches no further than its requests would by themselves', async () => {
    const none = serving({ told: {} })
    const asked: readonly Inner[] = [
      { method: 'get', url: 'rows(1)' },
      { method: 'get', url: 'told(1)' },
      { method: 'delete', url: 'told(1)' },
    ]
    const { answers } = await batch(asked, { prefer: 'continue-on-error' }, none)
    expect(answers.map(({ status }) => status)).toEqual([404, 200, 405])
    const wrong: readonly Inner[] = [
      { method: 'get', url: 'http://elsewhere/at/rows(1)' },
      { method: 'get', url: '../../etc/rows' },
      { method: 'get', url: '//elsewhere/at/rows(1)' },
      { method: 'post', url: '$batch', body: { requests: [] } },
      { method: 'post', url: '%24batch', body: { requests: [] }, headers: JSON_TYPE },
      { method: 'get', url: 'rows/$events' },
      { method: 'get', url: 'rows/%24events' },
      { method: 'put', url: 'rows(1)' },
      { method: 'get', url: 'rows(1)', headers: { accept: 'a\nb' } },
    ]
    for (const one of wrong) {
      const { status, answers: told } = await batch([one])
      expect(told.at(0)?.status ?? status, one.url).toBeGreaterThanOrEqual(400)
    }
    // Who asks is not told by what stands within.
    const byHeader = serveTables({
      engine: database.engine,
      tables: TABLES,
      path: '/at',
      access: request => (request.headers.get('x-user') === 'me' ? null : {}),
    })
    const inside: Inner = { method: 'get', url: 'rows(1)', headers: { 'X-User': 'me' } }
    expect((await batch([inside], { 'x-user': 'you' }, byHeader)).answers[0].status).toBe(404)
    expect((await batch([inside], { 'x-user': 'me' }, byHeader)).answers[0].status).toBe(200)
    const group = { id: '1', atomicityGroup: 'g', method: 'delete', url: 'rows(1)' }
    expect((await ask('POST', '$batch', { requests: [group] })).status).toBe(501)
    for (const body of ['', '{', '[]', '{"requests":1}', '{"requests":[1]}', '{"requests":[{"id":1}]}'])
      expect((await ask('POST', '$batch', body)).status, body).toBe(400)
    const many = Array.from({ length: 201 }, () => ({ method: 'get', url: 'rows(1)' }))
    expect((await batch(many)).status).toBe(413)
    expect((await ask('GET', '$batch')).status).toBe(405)
    const untyped = { 'content-type': 'text/plain' }
    expect((await ask('POST', '$batch', { requests: [] }, untyped)).error?.code).toBe('not-json')
    expect((await ask('GET', 'rows(1)')).status).toBe(200)
  })

  it('cells of every type are changed, and read back as they were given', async () => {
    const given = {
      site: 'it’s "odd"; drop table rows',
      price: 12345678.91,
      day: '1969-07-20',
      at: '1969-07-20T20:17:40.5Z',
      zoned: '2024-03-01T00:00:00Z',
      clock: '23:59:59',
      tags: ['a,b', '"q"', '{x}', ''],
      yes: false,
      big: '-9007199254740995',
      small: -32768,
      ratio: 0.30000000000000004,
    }
    const { status, body, tag } = await ask('PATCH', 'rows(1)', given)
    expect(status).toBe(200)
    expect(body).toMatchObject({ ...given, id: 1, owner: 'me' })
    const again = await ask('GET', 'rows(1)')
    expect(again.body).toEqual({ ...body })
    expect(again.tag).toBe(tag)
    const none = Object.fromEntries(Object.keys(given).map(key => [key, null]))
    expect((await ask('PATCH', 'rows(1)', none)).body).toMatchObject({ ...none, owner: 'me' })
    expect((await ask('PATCH', 'rows(1)', { tags: [] })).body).toMatchObject({ tags: [] })
    expect((await ask('GET', 'rows(2)')).body).toMatchObject({ owner: 'you' })
  })

  it('a value that a column cannot hold is told with its name, and nothing is changed', async () => {
    const wrong: [string, unknown][] = [
      ['site', 5],
      ['site', 'a\u0000b'],
      ['price', 'x'],
      ['day', '2023-02-29'],
      ['day', 'infinity'],
      ['at', '2024-01-01'],
      ['zoned', '2024-01-01T25:00:00Z'],
      ['clock', '24:01'],
      ['tags', 'a'],
      ['tags', [1]],
      ['yes', 'true'],
      ['big', 1.5],
      ['big', '9223372036854775808'],
      ['big', 9007199254740992],
      ['small', 32768],
      ['ratio', 'Infinity'],
      ['owner', null],
    ]
    for (const [property, value] of wrong) {
      const { status, error } = await ask('PATCH', 'rows(1)', { site: 'other', [property]: value })
      expect([status, error?.code, error?.target], property).toEqual([400, 'wrong-value', property])
    }
    expect((await ask('PATCH', 'rows(1)', { price: 1e12 })).error?.code).toBe('not-storable')
    expect((await ask('PATCH', 'rows(1)', { nowhere: 1 })).error?.code).toBe('no-such-property')
    expect((await ask('PATCH', 'rows(1)', '{"site":')).error?.code).toBe('not-json')
    expect((await ask('PATCH', 'rows(1)', '[1]')).error?.code).toBe('not-json')
    const asText = await ask('PATCH', 'rows(1)', '{"site":"x"}', { 'content-type': 'text/plain' })
    expect(asText.error?.code).toBe('not-json')
    expect((await ask('GET', 'rows(1)')).body).toMatchObject({ site: 'Ings', price: 1.5 })
  })

  it('a change that is bound to a tag is made only while the row is the same', async () => {
    const { tag } = await ask('GET', 'rows(1)')
    const first = await ask('PATCH', 'rows(1)', { site: 'a' }, { 'if-match': tag })
    expect(first.status).toBe(200)
    const late = await ask('PATCH', 'rows(1)', { site: 'b' }, { 'if-match': tag })
    expect([late.status, late.error?.code]).toEqual([412, 'changed-meanwhile'])
    expect((await ask('DELETE', 'rows(1)', undefined, { 'if-match': tag })).status).toBe(412)
    expect((await ask('PATCH', 'rows(1)', { site: 'c' }, { 'if-match': '*' })).status).toBe(200)
    const { tag: last } = await ask('GET', 'rows(1)')
    expect((await ask('DELETE', 'rows(1)', undefined, { 'if-match': `"x", ${last}` })).status).toBe(204)
    expect((await ask('GET', 'rows(1)')).status).toBe(404)
    expect((await ask('PATCH', 'rows(1)', { site: 'd' })).status).toBe(404)
    expect((await ask('DELETE', 'rows(1)')).status).toBe(404)
  })

  it('of many that change a row at once with the same tag, one does', async () => {
    const { tag } = await ask('GET', 'rows(1)')
    const answers = await Promise.all(
      Array.from({ length: 8 }, (_, i) => ask('PATCH', 'rows(1)', { site: `s${i}` }, { 'if-match': tag })),
    )
    expect(answers.map(({ status }) => status).sort()).toEqual([200, ...Array<number>(7).fill(412)])
    const winner = answers.findIndex(({ status }) => status === 200)
    expect((await ask('GET', 'rows(1)')).body).toMatchObject({ site: `s${winner}` })
  })

  it('a new row is told where it is; a key that is taken is not given twice', async () => {
    const made = await ask('POST', 'rows', { id: 3, owner: 'me', tags: ['x'], '@odata.type': '#x' })
    expect(made.status).toBe(201)
    expect(made.headers.get('location')).toBe('/at/rows(3)')
    expect(made.body).toMatchObject({ id: 3, owner: 'me', site: null, tags: ['x'] })
    const twice = await ask('POST', 'rows', { id: 3, owner: 'me' })
    expect([twice.status, twice.error?.code]).toEqual([409, 'row-is-there'])
    const without = await ask('POST', 'rows', { id: 4 })
    expect([without.status, without.error?.code]).toEqual([409, 'breaks-rule'])
    expect((await ask('GET', 'rows(4)')).status).toBe(404)
    const nameless = await ask('POST', 'rows', { owner: 'me' })
    expect(nameless.status).toBeGreaterThanOrEqual(400)
    expect(nameless.status).toBeLessThan(500)
    const pair = await ask('POST', 'pairs', { region: "o'", nr: 9 })
    const place = decodeURIComponent(pair.headers.get('location') ?? '')
    expect(place).toBe("/at/pairs(region='o''',nr=9)")
    expect((await ask('GET', place.slice('/at/'.length))).body).toMatchObject({ nr: 9, name: null })
  })

  it('whatever is sent, it is told what is wrong, and other rows stay', async () => {
    const value = fc.oneof(fc.jsonValue(), fc.constantFrom('', "'", '2024-02-30', 1e308, '0x1', '1e999'))
    const body = fc.dictionary(fc.oneof(fc.constantFrom(...Object.keys(COLUMNS)), fc.string()), value)
    const place = fc.oneof(
      fc.constant('rows(1)'),
      fc.string().map(key => `rows(${encodeURIComponent(key)})`),
    )
    await fc.assert(
      fc.asyncProperty(place, fc.oneof(body, fc.json()), async (at, given) => {
        expect((await ask('PATCH', at, given)).status).toBeLessThan(500)
      }),
      runs(60),
    )
    expect((await ask('GET', 'rows(2)')).body).toMatchObject({ owner: 'you', site: null })
  })

  it('the key stays; that it is sent along is let be', async () => {
    expect((await ask('PATCH', 'rows(1)', { id: 9, site: 'x' })).body).toMatchObject({ id: 1, site: 'x' })
    expect((await ask('GET', 'rows(9)')).status).toBe(404)
  })

  it('whoever listens hears that rows were changed, and nothing of what', async () => {
    let tell = (_: string): void => {}
    const told = serveTables({
      engine: database.engine,
      tables: TABLES,
      path: '/at',
      limits: { listeners: 2 },
      changes: given => (tell = given),
      access: (request): Access =>
        request.headers.get('x-who') === 'nobody' ? {} : { rows: { rows: "owner eq 'me'" } },
    })
    const listen = async (who: string): Promise<{ response: Response; leave: () => void }> => {
      const left = new AbortController()
      const response = await told(
        new Request('http://here/at/rows/$events', { headers: { 'x-who': who }, signal: left.signal }),
      )
      return { response, leave: () => left.abort() }
    }
    const one = await listen('me')
    expect(one.response.headers.get('content-type')).toBe('text/event-stream')
    expect((await listen('nobody')).response.status).toBe(404)
    const other = await listen('you')
    expect((await listen('third')).response.status).toBe(503)
    const reader = one.response.body!.pipeThrough(new TextDecoderStream()).getReader()
    const next = async (): Promise<string> => (await reader.read()).value ?? ''
    expect(await next()).toContain('retry')
    await ask('PATCH', 'rows(1)', { site: 'secret' }, {}, told)
    expect(await next()).toBe('event: changed\ndata: {}\n\n')
    await ask('PATCH', 'rows(1)', { price: 'x' }, {}, told)
    tell('elsewhere')
    tell('rows')
    expect(await next()).toBe('event: changed\ndata: {}\n\n')
    other.leave()
    const third = await listen('third')
    expect(third.response.status).toBe(200)
    one.leave()
    expect((await reader.read()).done).toBe(true)
    await third.response.body!.cancel()
    third.leave()
    expect((await listen('fourth')).response.status).toBe(200)
  })

  it('nothing is changed that the host does not offer', async () => {
    for (const method of ['PATCH', 'DELETE', 'POST']) {
      const body = method === 'DELETE' ? undefined : { id: 5, site: 'x', owner: 'me' }
      expect((await ask(method, method === 'POST' ? 'told' : 'told(1)', body)).status, method).toBe(405)
    }
    expect((await ask('PATCH', 'some(1)', { site: 'x' })).status).toBe(200)
    const { status, error } = await ask('PATCH', 'some(1)', { site: 'y', owner: 'you' })
    expect([status, error?.code, error?.target]).toEqual([403, 'fixed', 'owner'])
    expect((await ask('PUT', 'rows(1)', {})).status).toBe(405)
    expect((await ask('GET', 'rows(1)')).body).toMatchObject({ site: 'x', owner: 'me' })
    const { body } = await ask('GET', '$metadata')
    const { Container } = body.Rows as { Container: Record<string, Record<string, unknown>> }
    const may = (set: string): unknown[] =>
      ['Update', 'Insert', 'Delete'].map(
        act => Container[set][`@Org.OData.Capabilities.V1.${act}Restrictions`],
      )
    expect(may('rows')).toEqual([
      { Updatable: true, NonUpdatableProperties: ['id'] },
      { Insertable: true },
      { Deletable: true },
    ])
    expect(may('told')).toEqual([{ Updatable: false }, { Insertable: false }, { Deletable: false }])
    expect(may('some')[0]).toEqual({
      Updatable: true,
      NonUpdatableProperties: Object.keys(COLUMNS).filter(key => key !== 'site'),
    })
  })

  it('nobody changes, makes or takes out rows that he may not see', async () => {
    const mine = serving({ rows: { rows: "owner eq 'me'", properties: ['site', 'owner'] } })
    const of = (method: string, place: string, body?: unknown) => ask(method, place, body, {}, mine)
    expect((await of('GET', 'rows(1)')).body).toEqual(expect.objectContaining({ id: 1, site: 'Ings' }))
    expect((await of('GET', 'rows(1)')).body).not.toHaveProperty('price')
    for (const [method, body] of [['GET'], ['PATCH', { site: 'x' }], ['DELETE']] as const)
      expect((await of(method, 'rows(2)', body)).status, method).toBe(404)
    expect((await of('PATCH', 'rows(1)', { owner: 'you' })).error?.code).toBe('not-allowed')
    expect((await of('POST', 'rows', { id: 7, owner: 'you' })).error?.code).toBe('not-allowed')
    expect((await of('PATCH', 'rows(1)', { price: 3 })).error?.code).toBe('no-such-property')
    expect((await of('POST', 'rows', { id: 2, owner: 'me' })).error?.code).toBe('row-is-there')
    expect((await of('POST', 'rows', { id: 7, owner: 'me' })).status).toBe(201)
    expect((await of('GET', 'pairs(1)')).status).toBe(404)
    expect((await ask('GET', 'rows(1)')).body).toMatchObject({ owner: 'me', price: 1.5 })
    expect((await ask('GET', 'rows(2)')).body).toMatchObject({ owner: 'you' })
    const reader = serving({ rows: { change: { insert: true } } })
    expect((await ask('PATCH', 'rows(1)', { site: 'x' }, {}, reader)).status).toBe(405)
    expect((await ask('DELETE', 'rows(1)', undefined, {}, reader)).status).toBe(405)
  })
})
