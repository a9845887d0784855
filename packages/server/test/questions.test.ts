import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { runs } from '../../engine/test/support/runs.ts'
import type { SqlEngine } from '../src/engine/engine.ts'
import type { Access } from '../src/handler/access.ts'
import { serveTables, type Handler, type ServeOptions } from '../src/handler/serve-tables.ts'
import type { Statement } from '../src/statement/statement.ts'
import { databaseNames, DATABASES, type Database } from './support/databases.ts'

let database: Database
let handler: Handler
/** The statements of the last question. */
let statements: Statement[] = []

const COLUMNS = {
  id: 'integer not null',
  'a b': 'text',
  "it's": 'integer',
  price: 'decimal(10, 2)',
  day: 'date',
  at: 'timestamp',
  zoned: 'timestamptz',
  clock: 'time',
  tags: 'text[]',
  yes: 'boolean',
  big: 'bigint',
  ratio: 'double precision',
  owner: 'text',
}

const TABLES = [
  { name: 'rows', source: ['odd "table"'], key: ['id'] },
  { name: 'endless', key: ['id'] },
]

function serving(more: Partial<ServeOptions> = {}): Handler {
  const heard: SqlEngine = {
    ...database.engine,
    count: (statement, signal) => {
      statements.push(statement)
      return database.engine.count(statement, signal)
    },
    rows: (statement, signal, budget) => {
      statements.push(statement)
      return database.engine.rows(statement, signal, budget)
    },
  }
  return serveTables({ engine: heard, tables: TABLES, path: '/at', ...more })
}

const ask = async (question: string, of = handler, init: RequestInit = {}) => {
  statements = []
  const response = await of(new Request(`http://here/at/${question}`, init))
  const text = await response.text()
  return { status: response.status, text, body: text.startsWith('{') ? (JSON.parse(text) as Body) : null }
}
interface Body {
  readonly value: Record<string, unknown>[]
  readonly error: { readonly code: string; readonly message: string }
  readonly '@nextLink'?: string
  readonly '@count'?: number
}
const idsWhere = async (filter: string): Promise<unknown> => {
  const { status, body, text } = await ask(`rows?$select=id&$filter=${encodeURIComponent(filter)}`)
  return status === 200 ? body?.value.map(({ id }) => id) : text
}
const codeOf = async (question: string, of = handler): Promise<string | undefined> =>
  (await ask(question, of)).body?.error.code

describe.each(databaseNames)('%s', engineName => {
  beforeAll(async () => {
    database = await DATABASES[engineName]()
    await database.makeTable('odd "table"', COLUMNS, ['id'])
    await database.run(
      `insert into "odd ""table""" values
    (1, 'Straße', 3, 0.35, '2024-02-29', '2024-02-29 10:00:00.5', '2024-02-29 10:00:00+02', '09:30:00', array['x', 'O''Neill'], true, 9007199254740993, 0.1, 'me'),
    (2, 'łódź', null, -1.10, null, null, null, null, '{}', false, -5, 'nan', 'me'),
    (3, null, 5, null, '1969-12-31', '1969-12-31 23:59:59.999', '1969-12-31 23:59:59.999+00', '23:59:59.25', null, null, null, 'infinity', 'you')`.replace(
        "'{}'",
        engineName === 'DuckDB' ? '[]' : "'{}'",
      ),
    )
    await database.run(
      `create view endless as select ${engineName === 'DuckDB' ? 'i as id from range(1000000000000) r(i)' : 'generate_series(1, 1000000000000) as id'}`,
    )
    handler = serving()
  })
  afterAll(() => database.close())

  describe('filters', () => {
    it.each([
      ['contains(tolower("a b"),\'x\')', 'unreadable'],
      ['price eq 0.35', [1]],
      ['price lt 0', [2]],
      ['not (price lt 0)', [1, 3]],
      ['price ne 0.35', [2, 3]],
      ['price eq null or big eq null', [3]],
      ['not (price eq null)', [1, 2]],
      ['day eq 2024-02-29', [1]],
      ['day lt 1970-01-01', [3]],
      ['at gt 2024-02-29T09:00:00Z', [1]],
      ['zoned eq 2024-02-29T08:00:00Z', [1]],
      ['zoned eq 2024-02-29T10:00:00+02:00', [1]],
      ['clock ge 23:59', [3]],
      ["tags/any(t:t eq 'O''Neill')", [1]],
      ["tags/all(t:t eq 'x')", [2, 3]],
      ['tags/any()', [1]],
      ['yes', [1]],
      ['not yes', [2]],
      ['big eq 9007199254740993', [1]],
      ['big eq 9007199254740992', []],
      ['ratio eq NaN', [2]],
      ['ratio eq INF', [3]],
      ['id in (1,3,9)', [1, 3]],
      ['not (id in (1,null))', [2, 3]],
      ['id in ()', []],
      ['id add 1 mul 2 eq 5', [3]],
      ['id sub -1 eq 2', [1]],
      ['id div 2 eq 1', [2, 3]],
      ['id divby 2 eq 1.5', [3]],
      ['-id lt -2', [3]],
      ['year(day) eq 2024 and month(day) eq 2', [1]],
      ["VastMeadow.startOf(day,'month') eq 2024-02-01", [1]],
      ["VastMeadow.partOf(day,'weekday') eq 4", [1]],
      ['yes eq true and id lt 5 or id eq 3', [1, 3]],
    ])('%s', async (filter, expected) => {
      const got = await idsWhere(filter)
      if (typeof expected === 'string') expect(got).toContain(expected)
      else expect(got).toEqual(expected)
    })

    it('reads names that no expression can say as unknown, whatever the database would make of them', async () => {
      expect(await codeOf('rows?$filter=it eq 3')).toBe('no-such-property')
      expect(await codeOf('rows?$filter=rowid eq 0')).toBe('no-such-property')
      expect(await codeOf('rows?$filter=ID eq 1')).toBe('no-such-property')
      expect(await codeOf('rows?$filter=current_user eq null')).toBe('no-such-property')
      expect(await codeOf("rows?$filter=read_text('/etc/passwd') eq 'x'")).toBe('no-such-function')
      expect(await codeOf("rows?$filter=constructor eq 'x'")).toBe('no-such-property')
      expect(await codeOf("rows?$filter=toString(id) eq 'x'")).toBe('no-such-function')
    })

    it('cuts numbers at breaks, and makes numbers of days and moments', async () => {
      expect(await idsWhere('VastMeadow.breakOf(id,-1.5,2) eq 1')).toEqual(
        await idsWhere('id ge -1.5 and id lt 2'),
      )
      expect(await idsWhere('VastMeadow.breakOf(ratio,0) eq null')).toEqual(await idsWhere('ratio eq null'))
      expect(await idsWhere('VastMeadow.number(day) eq 19782')).toEqual(await idsWhere('day eq 2024-02-29'))
      const { body } = await ask(
        'rows?$apply=aggregate(VastMeadow.number(clock) with max as clock,VastMeadow.number(zoned) with max as zoned,VastMeadow.number(at) with max as at)',
      )
      const latest = await ask(
        'rows?$apply=aggregate(clock with max as clock,zoned with max as zoned,at with max as at)',
      )
      const [told] = latest.body!.value
      expect(body!.value[0]).toEqual({
        clock: Date.parse(`1970-01-01T${String(told!.clock)}Z`),
        zoned: Date.parse(String(told!.zoned)),
        at: Date.parse(String(told!.at)),
      })
    })

    it.each([
      ['$filter=id eq', 'unreadable'],
      ['$filter=id eq 1)', 'unreadable'],
      ["$filter=id eq 'x'", 'wrong-type'],
      ['$filter=day eq 2024-02-30', 'not-a-literal'],
      ['$filter=at eq 2024-02-29T25:00:00Z', 'not-a-literal'],
      ['$filter=tags eq tags', 'wrong-type'],
      ['$orderby=tags', 'wrong-type'],
      ['$top=-1', 'wrong-number'],
      ['$skip=1e9', 'wrong-number'],
      ['$expand=x', 'unknown-option'],
      ['$apply=concat(aggregate($count as n),identity)', 'not-offered'],
      ['$apply=groupby((tags))', 'not-offered'],
      ['$apply=compute(id as ID)', 'wrong-type'],
      ['$apply=aggregate(id with VastMeadow.first as f)', 'not-offered'],
      ['$apply=aggregate(tags with VastMeadow.frequent as f)', 'not-offered'],
      ['$apply=aggregate(id with VastMeadow.quantile as f)', 'not-offered'],
      ['$apply=aggregate(id with VastMeadow.quantile_1_5 as f)', 'not-offered'],
      ['$apply=aggregate(day with VastMeadow.valueAt_0_5 as f)', 'wrong-type'],
      ['$filter=VastMeadow.breakOf(id) eq 1', 'wrong-type'],
      ['$filter=VastMeadow.breakOf(id,3,id) eq 1', 'wrong-type'],
      ['$filter=VastMeadow.number(id) eq 1', 'wrong-type'],
      [`$filter=${'('.repeat(5000)}id eq 1`, 'too-deep'],
      [`$filter=${'not '.repeat(5000)}yes`, 'too-deep'],
      [`$filter=${'-'.repeat(5000)}id eq 1`, 'too-deep'],
    ])('refuses %s', async (question, code) => {
      expect(await codeOf(`rows?${question}`)).toBe(code)
    })

    it('says values as the protocol writes them', async () => {
      const { body } = await ask('rows')
      expect(body?.value[0]).toEqual({
        id: 1,
        'a b': 'Straße',
        "it's": 3,
        price: 0.35,
        day: '2024-02-29',
        at: '2024-02-29T10:00:00.5Z',
        zoned: '2024-02-29T08:00:00Z',
        clock: '09:30:00',
        tags: ['x', "O'Neill"],
        yes: true,
        big: '9007199254740993',
        ratio: 0.1,
        owner: 'me',
      })
      expect(body?.value.map(({ ratio }) => ratio)).toEqual([0.1, 'NaN', 'INF'])
      expect(body?.value[2]).toMatchObject({
        at: '1969-12-31T23:59:59.999Z',
        clock: '23:59:59.25',
        day: '1969-12-31',
      })
    })
  })

  describe('whatever is asked', () => {
    const word = fc.oneof(
      fc.constantFrom(
        ...[
          'id',
          'price',
          'owner',
          'tags',
          'eq',
          'ne',
          'and',
          'or',
          'not',
          'in',
          'null',
          '(',
          ')',
          ',',
          '/',
          ':',
          '-',
          '=',
          ';',
        ],
        ...[
          "'",
          "''",
          '"',
          '--',
          '/*',
          '*/',
          ';drop table x',
          '$1',
          '$count',
          '\\',
          '\u0000',
          'any',
          'with',
          'as',
          'groupby',
        ],
        ...[
          'contains',
          'cast',
          'aggregate',
          'compute',
          'filter',
          'search',
          'topcount',
          'sum',
          'Edm.String',
          '9'.repeat(40),
          '1e400',
        ],
      ),
      fc.string({ maxLength: 8 }),
      fc.integer().map(String),
    )
    const words = fc.array(word, { maxLength: 14 }).map(parts => parts.join(' '))

    it('makes one statement whose words are ours, or none, and no failure of the database', async () => {
      const options = ['$filter', '$orderby', '$apply', '$search', '$select', '$top', '$skip']
      await fc.assert(
        fc.asyncProperty(fc.constantFrom(...options), words, async (option, text) => {
          const { status, body } = await ask(`rows?${option}=${encodeURIComponent(text)}`)
          expect(status === 200 || (status >= 400 && status < 500) || status === 501).toBe(true)
          if (status !== 200) {
            expect(body?.error.message).not.toMatch(/select |from |node_modules|\bat \w+ \(/i)
            expect(statements).toEqual([])
            return
          }
          for (const { text: statement } of statements) {
            // Nothing of what was asked stands in it but names of columns and what they are called.
            expect(statement.replace(/"(?:[^"]|"")*"|'[^']*'/g, '')).toMatch(/^[\w\s$.,()=<>!~+\-*/%|:[\]]*$/)
            expect(statement).not.toContain(';')
          }
        }),
        runs(600),
      )
    })

    it('takes texts for texts', async () => {
      await fc.assert(
        fc.asyncProperty(fc.string({ unit: 'binary', maxLength: 20 }), async text => {
          // The database keeps no character of nought.
          const said = text.replaceAll('\u0000', '')
          const filter = `'${said.replaceAll("'", "''")}' eq '${said.replaceAll("'", "''")}'`
          expect(await idsWhere(filter)).toEqual([1, 2, 3])
        }),
        runs(200),
      )
    })
  })

  const OF_ME: Access = { rows: { rows: "owner eq 'me'", properties: ['price'] } }
  const NOTHING: Access = {}

  describe('who may see what', () => {
    it('opens tables, columns and rows as the host says, whatever is asked', async () => {
      const guarded = serving({
        access: request => (request.headers.get('user') === 'me' ? OF_ME : NOTHING),
      })
      const asMe = { headers: { user: 'me' } }
      expect((await ask('rows', guarded)).body?.error.code).toBe('no-such-table')
      const { body } = await ask('rows', guarded, asMe)
      expect(body?.value).toEqual([
        { id: 1, price: 0.35 },
        { id: 2, price: -1.1 },
      ])
      expect((await ask('rows/$count?$filter=id gt 0 or id lt 9', guarded, asMe)).text).toBe('2')
      expect((await ask("rows?$filter=owner eq 'you'", guarded, asMe)).body?.error.code).toBe(
        'no-such-property',
      )
      expect((await ask('rows?$orderby=big', guarded, asMe)).body?.error.code).toBe('no-such-property')
      const summed = await ask('rows?$apply=aggregate($count as n)', guarded, asMe)
      expect(summed.body?.value).toEqual([{ n: 2 }])
      expect((await ask('$metadata', guarded, asMe)).text).not.toContain('owner')
    })

    it('answers so many rows at once, and tells where the others are', async () => {
      const short = serving({ limits: { rows: 2 } })
      const first = await ask('rows?$select=id&$count=true', short)
      expect(first.body?.value).toEqual([{ id: 1 }, { id: 2 }])
      expect(first.body?.['@count']).toBe(3)
      const next = first.body?.['@nextLink'] ?? ''
      const second = await ask(next.replace('/at/', ''), short)
      expect(second.body?.value).toEqual([{ id: 3 }])
      expect(second.body?.['@nextLink']).toBeUndefined()
      expect((await ask('rows?$top=2', short)).body?.['@nextLink']).toBeUndefined()
    })

    it('answers so many bytes at once, the first row always, and tells where the others are', async () => {
      const word = 'ä'.repeat(1000)
      await database.run(
        `create table long_texts as select i as id, concat('${word}', cast(i as varchar)) as text from ${engineName === 'DuckDB' ? 'range(1, 8) r(i)' : 'generate_series(1, 7) i'}`,
      )
      for (const [bytes, parts] of [
        [10, 7],
        [2500, 4],
        [1e6, 1],
      ]) {
        const short = serving({ tables: [{ name: 'long_texts', key: ['id'] }], limits: { bytes } })
        const seen: unknown[] = []
        let asked = 0
        for (let question: string | null = 'long_texts?$top=7'; question !== null; asked++) {
          const { body }: Awaited<ReturnType<typeof ask>> = await ask(question, short)
          seen.push(...(body?.value ?? []).map(({ id, text }) => `${id} ${String(text).slice(1000)}`))
          question = body?.['@nextLink']?.replace('/at/', '') ?? null
        }
        expect(seen).toEqual([1, 2, 3, 4, 5, 6, 7].map(id => `${id} ${id}`))
        expect(asked).toBe(parts)
      }
      await database.run('drop table long_texts')
    })

    it('takes long questions by their body, and answers to nothing else', async () => {
      const body = `$filter=${encodeURIComponent(`id in (${Array.from({ length: 3000 }, (_, i) => i).join(',')})`)}&$select=id`
      const told = await ask('rows/$query', handler, { method: 'POST', body })
      expect(told.body?.value).toEqual([{ id: 1 }, { id: 2 }, { id: 3 }])
      for (const method of ['POST', 'PUT', 'DELETE', 'PATCH'])
        expect((await ask('rows', handler, { method })).status).toBe(405)
      expect((await ask('rows(1)/owner')).status).toBe(404)
      expect((await ask('nothing')).status).toBe(404)
      expect((await ask('%E0%A4%A')).status).toBe(404)
    })

    it('gives up what takes too long, and what whoever asked has left, in the database too', async () => {
      const question = 'endless?$orderby=id mod 7'
      const short = serving({ limits: { seconds: 0.2 } })
      expect((await ask(question, short)).body?.error.code).toBe('too-slow')
      const left = new AbortController()
      setTimeout(() => left.abort(), 100)
      const given = await ask(question, handler, { signal: left.signal })
      expect(given.body?.error.code).toBe('given-up')
      // What is free again answers at once.
      expect((await ask('rows/$count')).text).toBe('3')
    })

    it('answers whoever waits, however many gave up before them', async () => {
      const one = serveTables({ engine: database.engineFor(1), tables: TABLES })
      const question = (path: string, signal?: AbortSignal): Promise<Response> =>
        one(new Request(`http://here/${path}`, { signal }))
      const pause = (): Promise<void> => new Promise(resolve => setTimeout(resolve, 50))
      // The tables are looked up at the first.
      await question('rows/$count')
      const [slow, impatient] = [new AbortController(), new AbortController()]
      const first = question('endless?$orderby=id mod 7', slow.signal)
      const gone = Array.from({ length: 5 }, () => question('rows', impatient.signal))
      await pause()
      const patient = question('rows/$count')
      await pause()
      impatient.abort()
      slow.abort()
      for (const answer of [first, ...gone]) expect((await answer).status).toBe(400)
      expect(await (await patient).text()).toBe('3')
    })

    it('turns away more than it can do at once', async () => {
      const busy = serving({ limits: { questions: 2 } })
      const answers = await Promise.all(Array.from({ length: 5 }, () => ask('rows', busy)))
      expect(answers.filter(({ status }) => status === 200).length).toBe(2)
      expect(answers.filter(({ status }) => status === 503).length).toBe(3)
      expect((await ask('rows', busy)).status).toBe(200)
    })

    it('tells how far rows are that are being made', async () => {
      const making = serving({ preparing: () => ({ doing: 'Making', done: 3, of: 9 }) })
      const { status, body } = await ask('rows', making)
      expect(status).toBe(202)
      expect(body?.error).toMatchObject({ code: 'preparing', facts: { doing: 'Making', done: 3, of: 9 } })
    })
  })
})
