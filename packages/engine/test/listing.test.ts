import fc from 'fast-check'
import { afterEach, describe, expect, it } from 'vitest'
import type { Condition } from '../src/condition/condition.ts'
import type { ViewRequest } from '../src/flow/view-request.ts'
import type { ListingOptions } from '../src/listing/listing-options.ts'
import { listingSource } from '../src/listing/listing-source.ts'
import { isAble } from '../src/question/abilities.ts'
import { SourceError, type RowSource, type SourceChange, type View } from '../src/source/row-source.ts'
import { asLine } from '../src/flow/line.ts'
import { asRowId } from '../src/table/row-id.ts'
import { PLAIN } from './support/random-table.ts'
import { runs } from './support/runs.ts'

const SITES = ['carr', 'holt', 'ings', 'mead']
interface Plot {
  tags: string[]
  cover: number
  id: number
  site: string
  area: number
  seen: string | null
  owner: { name: string }
}
const plots = (count: number): Plot[] =>
  Array.from({ length: count }, (_, id) => ({
    id,
    site: SITES[(id * 7) % 4],
    area: (id * 37) % 101,
    seen: id % 5 === 0 ? null : `2024-0${1 + (id % 9)}-1${id % 10}`,
    owner: { name: `o${id % 3}` },
    tags: id % 2 ? ['wet', 'steep'] : [],
    cover: id / 4,
  }))

/** A service as one finds them: pages by number or from a row on, order and conditions by parameters of its own. */
class Listing {
  rows: object[]
  asked: URL[] = []
  hold: (url: URL) => Promise<void> | undefined = () => undefined
  constructor(rows: object[]) {
    this.rows = rows
  }

  readonly fetch = async (request: Request): Promise<Response> => {
    const url = new URL(request.url)
    this.asked.push(url)
    await this.hold(url)
    if (request.signal.aborted) throw new DOMException('given up', 'AbortError')
    const of = (name: string): string | null => url.searchParams.get(name)
    let rows = this.rows as Plot[]
    const q = of('q')
    if (q) rows = rows.filter(row => row.site.includes(q) || String(row.area).includes(q))
    const sites = of('site')?.split(',')
    if (sites) rows = rows.filter(row => sites.includes(row.site))
    const [least, most] = [of('area_min'), of('area_max')]
    if (least !== null) rows = rows.filter(row => row.area >= Number(least))
    if (most !== null) rows = rows.filter(row => row.area <= Number(most))
    for (const key of (of('sort') ?? '').split(',').filter(Boolean).reverse()) {
      const name = key.replace('-', '') as 'area' | 'site' | 'id'
      const sign = key.startsWith('-') ? -1 : 1
      rows = [...rows].sort((a, b) => sign * (a[name] < b[name] ? -1 : a[name] > b[name] ? 1 : 0))
    }
    const from = of('page') === null ? Number(of('offset') ?? 0) : (Number(of('page')) - 1) * 30
    const part = rows.slice(from, from + Math.min(50, Number(of('limit') ?? 30)))
    return Response.json(
      { data: { items: part }, meta: { total: rows.length } },
      { headers: { 'x-total': String(rows.length) } },
    )
  }
}

const SHAPE: Omit<ListingOptions, 'address' | 'key'> = {
  rows: '/data/items',
  total: '/meta/total',
  page: { from: 'offset', size: 'limit', most: 50 },
  order: { parameter: 'sort' },
  search: 'q',
  conditions: { site: { 'one-of': 'site' }, area: { from: 'area_min', to: 'area_max' } },
}

const sources: RowSource[] = []
afterEach(() => {
  for (const source of sources.splice(0)) source.close()
})

function sourceOf(service: Listing, more: Partial<ListingOptions> = {}): RowSource {
  const source = listingSource({
    address: 'http://plots/api/v1/plots?tenant=7',
    key: 'id',
    fetch: service.fetch,
    ...SHAPE,
    ...more,
  })
  sources.push(source)
  return source
}

async function textsOf({ lines }: View, column: string, from = 0, to = lines.lineCount): Promise<string[]> {
  for (let at = from; at < to; at++) {
    if (lines.line(at) !== undefined) continue
    const came = new Promise<void>(resolve => lines.onArrive(resolve))
    lines.want(at, at + 1, [column])
    await came
  }
  return Array.from({ length: to - from }, (_, nth) => {
    const line = lines.line(from + nth)
    return (line?.kind === 'row' && lines.text(from + nth, line.row, column)) || ''
  })
}

const condition = (part: object): Condition => ({ match: 'all', parts: [part as Condition['parts'][number]] })

describe('a service that lists rows', () => {
  it('tells fields and types by its first rows, structures by their path', async () => {
    const { fields, total, key } = await sourceOf(new Listing(plots(300)), { near: 0 }).open()
    expect(fields.map(({ key, type }) => `${key} ${type}`)).toEqual([
      'id integer',
      'site text',
      'area integer',
      'seen date',
      'owner/name text',
      'tags tags',
      'cover number',
    ])
    expect(fields.at(-1)?.decimals).toBe(2)
    expect(total).toEqual({ kind: 'exact', rows: 300 })
    expect(key).toEqual(['id'])
  })

  it('is asked for everything that it has a parameter for, and lists what the page would show', async () => {
    const service = new Listing(plots(400))
    const [far, near] = [sourceOf(service, { near: 0 }), sourceOf(service)]
    await far.open()
    expect((await near.open()).can.groups.others).toBe(true)
    const order = fc.array(
      fc.record({
        column: fc.constantFrom('site', 'area'),
        direction: fc.constantFrom('ascending' as const, 'descending' as const),
      }),
      { maxLength: 2 },
    )
    const conditions = fc.record(
      {
        site: fc.subarray(SITES, { minLength: 1 }).map(values => condition({ kind: 'one-of', values })),
        area: fc
          .tuple(fc.nat(60), fc.integer({ min: 40, max: 101 }))
          .map(([from, to]) => condition({ kind: 'range', from, to })),
      },
      { requiredKeys: [] },
    )
    await fc.assert(
      fc.asyncProperty(order, conditions, fc.nat(399), async (keys, asked, at) => {
        // Rows that are alike are where the service has them: by their number.
        const request: ViewRequest = {
          ...PLAIN,
          order: [...keys, { column: 'id', direction: 'ascending' }],
          conditions: asked,
        }
        const [there, here] = [await far.view(request), await near.view(request)]
        expect(there.counts.passing).toEqual(here.counts.passing)
        const to = there.counts.lines.rows
        const from = Math.min(at, to)
        expect(await textsOf(there, 'id', from, Math.min(to, from + 40))).toEqual(
          (await textsOf(here, 'id')).slice(from, from + 40),
        )
        there.close()
        here.close()
      }),
      runs(40),
    )
    expect(service.asked.every(url => url.searchParams.get('tenant') === '7')).toBe(true)
  })

  it.each([
    ['pages from 1 on', { number: 'page', rows: 30 }],
    ['pages with their size', { number: 'page', rows: 30, size: 'limit' }],
  ] as const)('is read by %s, each page once', async (_, page) => {
    const service = new Listing(plots(400))
    const source = sourceOf(service, { page, near: 0, total: { header: 'x-total' } })
    await source.open()
    const view = await source.view(PLAIN)
    expect(await textsOf(view, 'id')).toEqual(Array.from({ length: 400 }, (_row, id) => String(id)))
    const pages = service.asked.map(url => url.searchParams.get('page'))
    expect(new Set(pages).size).toBe(pages.length)
  })

  it('lets the page do what it cannot, as soon as few enough are listed', async () => {
    const service = new Listing(plots(400))
    const source = sourceOf(service, { near: 150 })
    const { can } = await source.open()
    expect([isAble(can.groups), isAble(can.order), isAble(can.conditions, 'pattern')]).toEqual([
      false,
      true,
      false,
    ])
    const pattern: ViewRequest = {
      ...PLAIN,
      conditions: { 'owner/name': condition({ kind: 'equals', value: 'o1' }) },
    }
    await expect(source.view(pattern)).rejects.toMatchObject({
      problem: { code: 'near-too-many', what: 'condition', column: 'owner/name', rows: 400, most: 150 },
    })
    const narrowed = { ...pattern.conditions, site: condition({ kind: 'one-of', values: ['carr'] }) }
    const view = await source.view({ ...pattern, conditions: narrowed })
    const wanted = plots(400).filter(({ site, owner }) => site === 'carr' && owner.name === 'o1')
    expect(view.counts.passing.rows).toBe(wanted.length)
    expect([view.report.total, view.report.passing]).toEqual([400, wanted.length])
    expect(await textsOf(view, 'id')).toEqual(wanted.map(({ id }) => String(id)))
  })

  it('is fetched as a whole where it is short, and everything can be done with it', async () => {
    const service = new Listing(plots(120))
    const source = sourceOf(service)
    const { can, where, notes, total } = await source.open()
    expect([isAble(can.groups), can.commit, total.rows]).toEqual([true, true, 120])
    expect(where).toContain('plots')
    expect(notes[0]).toContain('120')
    const asked = service.asked.length
    const groups = [{ column: 'site', bucket: { by: 'value' as const }, order: { by: 'value' as const } }]
    const view = await source.view({ ...PLAIN, groups: groups as never })
    expect(view.report.groups).toEqual([4])
    expect(service.asked.length).toBe(asked)
    service.rows.push({ ...plots(121)[120] })
    await source.refresh?.()
    expect((await source.view(PLAIN)).counts.passing.rows).toBe(121)
  })

  it('whose length nobody tells grows as it is read', async () => {
    const service = new Listing(plots(1300))
    const source = sourceOf(service, { total: undefined, near: 100 })
    const changes: SourceChange[] = []
    source.onChange(change => changes.push(change))
    const { total } = await source.open()
    expect(total.kind).toBe('unknown')
    let view = await source.view(PLAIN)
    expect(view.counts.lines.kind).toBe('at-least')
    for (let turn = 0; turn < 9 && view.counts.lines.kind !== 'exact'; turn++) {
      const { lineCount } = view.lines
      const before = changes.length
      await textsOf(view, 'id', Math.max(0, lineCount - 5), lineCount)
      const from = performance.now()
      while (changes.length === before && performance.now() - from < 5000)
        await new Promise(resolve => setTimeout(resolve, 5))
      expect(changes.at(-1)).toEqual({ problem: null, same: true })
      view.close()
      view = await source.view(PLAIN)
      expect(view.lines.lineCount).toBeGreaterThanOrEqual(lineCount)
    }
    expect(view.counts.lines).toEqual({ kind: 'exact', rows: 1300 })
    expect((await textsOf(view, 'id', 1290, 1300)).at(-1)).toBe('1299')
  })

  it('says plainly what is wrong with what it was told', async () => {
    const problem = async (more: Partial<ListingOptions>): Promise<string> => {
      try {
        await sourceOf(new Listing(plots(9)), more).open()
      } catch (error) {
        if (error instanceof SourceError) return error.message
      }
      return ''
    }
    expect(await problem({ rows: '/items' })).toBe(
      'plots answers with no list of rows at “/items”. Say where they are in its answer (rows).',
    )
    expect(await problem({ key: 'nr' })).toContain('have no “nr”')
    const many = new Listing(plots(200))
    const alike = sourceOf(many, { page: { from: 'start', size: 'limit', most: 50 } })
    await expect(alike.open()).rejects.toThrow(
      'plots answers with the same rows whichever part is asked for: start and limit have no effect.',
    )
  })

  it('tells of values that are not of their field’s type, and takes types that are given', async () => {
    const rows: object[] = plots(400)
    rows[200] = { ...rows[200], area: 'n/a' }
    const source = sourceOf(new Listing(rows), { near: 0 })
    const told: string[] = []
    source.onChange(({ problem }) => problem !== null && told.push(problem))
    await source.open()
    const view = await source.view(PLAIN)
    await textsOf(view, 'area')
    expect(told).toEqual([
      '“n/a” in the field “area” is not of the type integer, and is shown as missing. Say the field’s type (fields).',
    ])
    const typed = sourceOf(new Listing(rows), { near: 0, fields: [{ key: 'area', type: 'text' }] })
    await typed.open()
    expect((await textsOf(await typed.view(PLAIN), 'area'))[200]).toBe('n/a')
  })

  it('is not asked twice for what two want, also where one gives it up', async () => {
    const service = new Listing(plots(400))
    const source = sourceOf(service, { near: 0 })
    await source.open()
    const view = await source.view(PLAIN)
    let free = (): void => {}
    service.hold = () => new Promise(resolve => (free = resolve))
    const given = new AbortController()
    const window = { view: view.id, from: asLine(100), to: asLine(150), columns: ['id'] }
    const one = source.ask('cells', window, { signal: given.signal })
    const other = source.ask('cells', window)
    given.abort()
    service.hold = () => undefined
    free()
    await expect(one).rejects.toThrow()
    expect((await other).texts[0]).toBe('100')
  })

  it('answers for rows that were seen', async () => {
    const source = sourceOf(new Listing(plots(400)), { near: 0 })
    await source.open()
    const view = await source.view(PLAIN)
    await textsOf(view, 'id', 0, 96)
    const rows = [asRowId(3), asRowId(5)]
    expect(await source.ask('records', { rows })).toEqual([
      expect.objectContaining({ id: 3, 'owner/name': 'o0' }),
      expect.objectContaining({ id: 5 }),
    ])
    expect(await source.ask('linesOf', { view: view.id, rows })).toEqual([3, 5])
    expect(await source.ask('findRows', { keyFields: ['id'], keys: [3, 399] })).toEqual([3, null])
    expect(await source.ask('keysOf', { keyFields: ['id'], rows: { kind: 'list', rows } })).toEqual([3, 5])
    const cells = await source.ask('rowCells', { rows, columns: ['site', 'area'] })
    expect(cells.texts).toEqual(
      ['mead', '10', 'mead', '84'].map((text, i) => (i % 2 ? text : cells.texts[i])),
    )
    expect(await source.ask('rowsBetween', { view: view.id, from: asLine(2), to: asLine(4) })).toEqual({
      kind: 'list',
      rows: [2, 3],
    })
    let count = 0
    for await (const chunk of source.stream({ request: PLAIN })) count += chunk.length
    expect(count).toBe(400)
  })
})
