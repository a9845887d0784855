import { describe, expect, it } from 'vitest'
import type { ChangeList } from '../src/pending/change-list.ts'
import { isAble } from '../src/question/abilities.ts'
import { serviceSource } from '../src/service/service-source.ts'
import { SourceError, type RowSource, type SourceChange } from '../src/source/row-source.ts'

const SET = { $Collection: true, $Type: 'S.row' }
const metadata = (restrictions: object): object => ({
  $Version: '4.0',
  $EntityContainer: 'S.C',
  S: {
    row: {
      $Kind: 'EntityType',
      $Key: ['id'],
      id: { $Type: 'Edm.Int32' },
      name: { $Nullable: true },
      big: { $Type: 'Edm.Int64', $Nullable: true },
      small: { $Type: 'Edm.Int32', $Nullable: true },
      at: { $Type: 'Edm.DateTimeOffset', $Nullable: true },
      place: { $Type: 'S.place', $Nullable: true },
      tags: { $Collection: true },
    },
    place: { $Kind: 'ComplexType', street: { $Nullable: true }, town: { $Nullable: true } },
    C: { rows: { ...SET, ...restrictions } },
  },
})

interface Inner {
  readonly id: string
  readonly method: string
  readonly url: string
  readonly headers: Record<string, string>
  readonly body?: unknown
}

interface Row {
  tag: number
  [field: string]: unknown
}

/** A service as plain as can be: rows by their key, each with a tag in its body, as the protocol's first version has it. */
class Plain {
  rows = new Map<number, Row>([[1, { tag: 1, id: 1, name: 'a', big: 5, place: { street: 's', town: 't' } }]])
  sent: {
    readonly method: string
    readonly path: string
    readonly body: string
    readonly headers: Headers
  }[] = []
  restrictions: object = {}
  countFails = false
  /** What comes instead of the next answers to changes. */
  next: ((done: Response) => Response | Promise<Response>)[] = []
  /** Done before a change is: somebody else is quicker. */
  before: (() => void)[] = []
  /** What becomes of batches: null, there are none. */
  batch: ((answers: readonly object[]) => Response | Promise<Response>) | null = null
  batches = 0

  readonly fetch = async (request: Request): Promise<Response> => {
    const path = decodeURIComponent(new URL(request.url).pathname.replace('/root/', ''))
    const { method, headers } = request
    if (path === '$metadata') return Response.json(metadata(this.restrictions))
    if (path === '$batch') {
      this.batches++
      if (!this.batch) return new Response('', { status: 404 })
      return await this.batch(await this.answersTo(await request.text()))
    }
    if (path === 'rows/$count')
      return new Response(String(this.rows.size), { status: this.countFails ? 500 : 200 })
    if (path === 'rows' && method === 'GET') return Response.json({ value: [...this.rows.values()] })
    const body = await request.text()
    this.sent.push({ method, path, body, headers })
    if (method === 'GET') return this.told(Number(/\((.*)\)/.exec(path)?.[1]))
    this.before.shift()?.()
    const done = this.act(method, path, body, headers)
    return (await this.next.shift()?.(done)) ?? done
  }

  private async answersTo(text: string): Promise<object[]> {
    const { requests } = JSON.parse(text) as { requests: Inner[] }
    const answers: object[] = []
    for (const { id, method, url, headers, body } of requests) {
      const request = new Request(`http://plain/root/${url}`, {
        method: method.toUpperCase(),
        headers,
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      })
      const response = await this.fetch(request)
      const told = await response.text()
      const tag = response.headers.get('etag')
      answers.push({
        id,
        status: response.status,
        headers: tag === null ? {} : { ETag: tag },
        ...(told === '' ? {} : { body: JSON.parse(told) as unknown }),
      })
    }
    return answers
  }

  private told(key: number): Response {
    const row = this.rows.get(key)
    return row
      ? Response.json({ '@odata.etag': `W/"${row.tag}"`, ...row })
      : Response.json({ error: { message: 'none' } }, { status: 404 })
  }

  private act(method: string, path: string, body: string, headers: Headers): Response {
    const given = (body === '' ? {} : JSON.parse(body)) as Record<string, unknown>
    if (method === 'POST') {
      const id = Number(given.id ?? 100 + this.rows.size)
      if (this.rows.has(id)) return new Response('', { status: 409 })
      this.rows.set(id, { tag: 1, ...given, id })
      return Response.json(this.rows.get(id), { status: 201 })
    }
    const key = Number(/\((.*)\)/.exec(path)?.[1])
    const row = this.rows.get(key)
    if (!row) return new Response('', { status: 404 })
    if (headers.get('if-match') !== `W/"${row.tag}"`) return new Response('', { status: 412 })
    if (method === 'DELETE') this.rows.delete(key)
    else this.rows.set(key, { ...row, ...given, tag: row.tag + 1 })
    return new Response(null, { status: 204 })
  }

  change(key: number, cells: object): void {
    const row = this.rows.get(key)
    if (row) this.rows.set(key, { ...row, ...cells, tag: row.tag + 1 })
  }
}

async function opened(plain: Plain): Promise<{ source: RowSource; changes: SourceChange[] }> {
  const source = serviceSource({
    address: 'http://plain/root',
    rows: 'rows',
    near: false,
    fetch: plain.fetch,
  })
  const changes: SourceChange[] = []
  source.onChange(change => changes.push(change))
  await source.open()
  return { source, changes }
}

const listOf = (more: Partial<ChangeList>): ChangeList => ({
  format: 'vast-meadow-changes',
  version: 1,
  changed: [],
  added: [],
  removed: [],
  notValid: [],
  ...more,
})
const renamed = (before: string, after: string): ChangeList =>
  listOf({ changed: [{ key: 1, before: { name: before }, after: { name: after } }] })
const lost = (): Promise<Response> => Promise.reject(new TypeError('network'))

describe('changes of rows that a service holds', () => {
  it('are bound to what was seen of the row', async () => {
    const plain = new Plain()
    const { source } = await opened(plain)
    const { rows } = await source.save!(renamed('a', 'b'), ['id'])
    expect(rows).toEqual([{ key: 1, saved: expect.objectContaining({ id: 1, name: 'b' }) as object }])
    const patch = plain.sent.find(({ method }) => method === 'PATCH')
    expect([patch?.path, patch?.headers.get('if-match'), patch?.body]).toEqual([
      'rows(1)',
      'W/"1"',
      '{"name":"b"}',
    ])
  })

  it('are tried again over other cells that somebody changed meanwhile, and told over the same', async () => {
    const plain = new Plain()
    const { source } = await opened(plain)
    plain.before = [() => plain.change(1, { big: 6 })]
    expect((await source.save!(renamed('a', 'b'), ['id'])).rows).toEqual([
      { key: 1, saved: expect.objectContaining({ name: 'b', big: 6 }) as object },
    ])
    plain.before = [() => plain.change(1, { name: 'theirs' })]
    expect((await source.save!(renamed('b', 'c'), ['id'])).rows).toEqual([
      { key: 1, there: expect.objectContaining({ name: 'theirs' }) as object },
    ])
    plain.before = [() => void plain.rows.delete(1)]
    expect((await source.save!(renamed('theirs', 'c'), ['id'])).rows).toEqual([{ key: 1, there: null }])
  })

  it('that were made although the answer was lost are found made', async () => {
    const plain = new Plain()
    const { source } = await opened(plain)
    const change = renamed('a', 'b')
    plain.next = [lost]
    await expect(source.save!(change, ['id'])).rejects.toThrow(/plain/)
    expect((await source.save!(change, ['id'])).rows).toEqual([
      { key: 1, saved: expect.objectContaining({ name: 'b' }) as object },
    ])
    expect(plain.sent.filter(({ method }) => method === 'PATCH')).toHaveLength(1)
    const added = listOf({ added: [{ name: 'n1', values: { id: 7, name: 'new' } }] })
    plain.next = [lost]
    await expect(source.save!(added, ['id'])).rejects.toThrow(SourceError)
    expect((await source.save!(added, ['id'])).rows).toEqual([
      { name: 'n1', saved: expect.objectContaining({ id: 7, name: 'new' }) as object },
    ])
    const other = listOf({ added: [{ name: 'n1', values: { id: 7, name: 'other' } }] })
    expect((await source.save!(other, ['id'])).rows?.[0]).toHaveProperty('refused')
    const gone = listOf({ removed: [{ key: 7 }] })
    plain.next = [lost]
    await expect(source.save!(gone, ['id'])).rejects.toThrow(SourceError)
    expect((await source.save!(gone, ['id'])).rows).toEqual([{ key: 7, saved: true }])
  })

  describe('of a service that takes many in one request', () => {
    const BATCHES = {
      '@Org.OData.Capabilities.V1.BatchSupport': {
        Supported: true,
        SupportedFormats: ['multipart/mixed', 'application/json'],
      },
    }
    const KEYS = Array.from({ length: 130 }, (_, at) => at + 1)
    const many = listOf({
      changed: KEYS.map(key => ({ key, before: { name: 'old' }, after: { name: `new ${key}` } })),
    })
    const all = (answers: readonly object[]): Response => Response.json({ responses: answers })

    async function withMany(batch: Plain['batch']): Promise<{ plain: Plain; source: RowSource }> {
      const plain = new Plain()
      plain.restrictions = BATCHES
      plain.rows = new Map(KEYS.map(key => [key, { tag: 1, id: key, name: 'old', big: 5 }]))
      plain.batch = batch
      return { plain, ...(await opened(plain)) }
    }
    const namesOf = (plain: Plain): unknown[] => KEYS.map(key => plain.rows.get(key)?.name)

    it('go together, each with its own answer', async () => {
      const { plain, source } = await withMany(all)
      plain.rows.get(7)!.name = 'theirs'
      plain.rows.delete(9)
      const { rows } = await source.save!(many, ['id'])
      expect(rows?.filter(({ saved }) => !saved)).toEqual([
        { key: 7, there: expect.objectContaining({ name: 'theirs' }) as object },
        { key: 9, there: null },
      ])
      expect(plain.rows.get(130)?.name).toBe('new 130')
      // Rows are looked at, changed, and, as this service tells nothing of them, looked at again.
      expect(plain.batches).toBeLessThan(12)
    })

    it('go one by one where it turns out to take none', async () => {
      const { plain, source } = await withMany(null)
      expect((await source.save!(many, ['id'])).rows?.every(({ saved }) => saved)).toBe(true)
      expect(namesOf(plain)).toEqual(KEYS.map(key => `new ${key}`))
      expect(plain.batches).toBeLessThan(3)
    })

    it('are found made where the answer to all of them was lost', async () => {
      let nth = 0
      const { plain, source } = await withMany(answers => (++nth === 2 ? lost() : all(answers)))
      const { rows } = await source.save!(many, ['id'])
      expect(rows?.filter(({ refused }) => refused !== undefined)).toHaveLength(100)
      expect((await source.save!(many, ['id'])).rows?.every(({ saved }) => saved)).toBe(true)
      expect(plain.sent.filter(({ method }) => method === 'PATCH')).toHaveLength(130)
    })

    it('that it leaves without an answer are not taken for made', async () => {
      let nth = 0
      const { plain, source } = await withMany(answers => all(++nth === 2 ? answers.slice(0, 60) : answers))
      const { rows } = await source.save!(many, ['id'])
      expect(rows?.filter(({ refused }) => refused !== undefined)).toHaveLength(40)
      expect((await source.save!(many, ['id'])).rows?.every(({ saved }) => saved)).toBe(true)
      expect(namesOf(plain)).toEqual(KEYS.map(key => `new ${key}`))
    })
  })

  it('some of which the line loses are told row by row, the others are saved', async () => {
    const plain = new Plain()
    plain.rows.set(2, { tag: 1, id: 2, name: 'x' })
    const { source, changes } = await opened(plain)
    plain.next = [lost]
    const { rows } = await source.save!(
      listOf({
        changed: [1, 2].map(key => ({ key, before: { name: key === 1 ? 'a' : 'x' }, after: { name: 'n' } })),
      }),
      ['id'],
    )
    expect(rows?.filter(({ saved }) => saved)).toHaveLength(1)
    expect(rows?.filter(({ refused }) => refused?.includes('network'))).toHaveLength(1)
    expect(changes).toEqual([])
  })

  it('are saved, and told so, also where rows cannot be counted afterwards', async () => {
    const plain = new Plain()
    const { source } = await opened(plain)
    plain.countFails = true
    const { rows } = await source.save!(listOf({ removed: [{ key: 1 }] }), ['id'])
    expect(rows).toEqual([{ key: 1, saved: true }])
  })

  it('name a new row by the key that the service gives it', async () => {
    const { source } = await opened(new Plain())
    expect(
      (await source.save!(listOf({ added: [{ name: 'n1', values: { name: 'z' } }] }), ['id'])).rows,
    ).toEqual([{ name: 'n1', key: 101, saved: expect.objectContaining({ id: 101, name: 'z' }) as object }])
    const { total } = await source.ask('description', {})
    expect(total.rows).toBe(2)
  })

  it('are written as the protocol writes values', async () => {
    const plain = new Plain()
    const { source } = await opened(plain)
    const bodyOf = async (after: Record<string, string | number | boolean | null | string[]>) => {
      plain.sent = []
      plain.rows.set(1, { tag: 1, id: 1 })
      const before = Object.fromEntries(Object.keys(after).map(key => [key, null]))
      await source.save!(listOf({ changed: [{ key: 1, before, after }] }), ['id'])
      const patch = plain.sent.find(({ method }) => method === 'PATCH')
      return [patch?.body, patch?.headers.get('content-type')]
    }
    expect(await bodyOf({ big: '9007199254740993', small: 4 })).toEqual([
      '{"big":"9007199254740993","small":4}',
      'application/json;IEEE754Compatible=true',
    ])
    expect(await bodyOf({ 'place/street': 'x', 'place/town': 'y' })).toEqual([
      '{"place":{"street":"x","town":"y"}}',
      'application/json',
    ])
    expect((await bodyOf({ at: '2024-02-29T10:00:00Z', tags: ['a'] }))[0]).toBe(
      '{"at":"2024-02-29T10:00:00Z","tags":["a"]}',
    )
    expect((await bodyOf({ name: 'b', small: null }))[0]).toBe('{"name":"b","small":null}')
  })

  it('are offered as far as the metadata say', async () => {
    const CAN = '@Org.OData.Capabilities.V1.'
    const plain = new Plain()
    const may = async (restrictions: object) => {
      plain.restrictions = restrictions
      const { source } = await opened(plain)
      const { can } = await source.ask('description', {})
      return [
        can.save?.update === true,
        can.save?.insert === true,
        can.save?.remove === true,
        can.save?.fixed,
      ]
    }
    expect(await may({})).toEqual([true, true, true, []])
    expect(
      await may({
        [`${CAN}UpdateRestrictions`]: { NonUpdatableProperties: ['big'] },
        [`${CAN}InsertRestrictions`]: { Insertable: false },
      }),
    ).toEqual([true, false, true, ['big']])
    expect(
      await may({
        [`${CAN}UpdateRestrictions`]: { Updatable: false },
        [`${CAN}DeleteRestrictions`]: { Deletable: false },
      }),
    ).toEqual([false, true, false, []])
    const { source } = await opened(plain)
    const { can } = await source.ask('description', {})
    expect(isAble(can.questions, 'savedCells')).toBe(true)
  })

  it('of whoever must sign in first are not taken for refused by themselves', async () => {
    const plain = new Plain()
    const { source } = await opened(plain)
    plain.next = [() => new Response('', { status: 401 })]
    await expect(source.save!(renamed('a', 'b'), ['id'])).rejects.toMatchObject({
      problem: { code: 'service-refused', status: 401 },
    })
    plain.next = [
      () =>
        Response.json(
          { error: { message: 'Not yours.', details: [{ target: 'name', message: 'No.' }] } },
          { status: 403 },
        ),
    ]
    expect((await source.save!(renamed('b', 'c'), ['id'])).rows).toEqual([
      { key: 1, refused: 'Not yours.', fields: { name: 'No.' } },
    ])
  })
})
