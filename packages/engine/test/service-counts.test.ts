import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { asLine } from '../src/flow/line.ts'
import type { ViewRequest } from '../src/flow/view-request.ts'
import { serviceSource } from '../src/service/service-source.ts'
import type { RowSource, SourceChange, View } from '../src/source/row-source.ts'
import { PLAIN } from './support/random-table.ts'

const METADATA = {
  $EntityContainer: 'S.C',
  S: {
    row: { $Kind: 'EntityType', $Key: ['id'], id: { $Type: 'Edm.Int32' }, name: { $Nullable: true } },
    C: { rows: { $Collection: true, $Type: 'S.row' } },
  },
}
const ALL = 5000

/** A service that takes its time to count what passes. */
class SlowToCount {
  passing = 1000
  /** Until then no count is answered. */
  counted: Promise<unknown> = Promise.resolve()
  allCounted: Promise<unknown> = Promise.resolve()
  tooSlow = false
  counts: string[] = []
  givenUp: string[] = []

  readonly fetch = async (request: Request): Promise<Response> => {
    const { pathname, searchParams } = new URL(request.url)
    const path = decodeURIComponent(pathname.replace('/root/', ''))
    const filter = searchParams.get('$filter')
    if (path === '$metadata') return Response.json(METADATA)
    if (path === 'rows/$count') {
      if (filter === null) {
        await Promise.race([this.allCounted, this.abortOf(request, 'all')])
        return this.tooSlow ? new Response('', { status: 504 }) : new Response(String(ALL))
      }
      this.counts.push(filter)
      await Promise.race([this.counted, this.abortOf(request, filter)])
      return this.tooSlow ? new Response('', { status: 504 }) : new Response(String(this.passing))
    }
    const skip = Number(searchParams.get('$skip') ?? 0)
    const end = Math.min(filter === null ? ALL : this.passing, skip + Number(searchParams.get('$top')))
    const value = Array.from({ length: Math.max(0, end - skip) }, (_, i) => ({ id: skip + i, name: 'a' }))
    return Response.json({ value })
  }

  private abortOf({ signal }: Request, filter: string): Promise<never> {
    return new Promise((_, reject) =>
      signal.addEventListener('abort', () => {
        this.givenUp.push(filter)
        reject(new DOMException('given up', 'AbortError'))
      }),
    )
  }
}

const narrowed = (text: string): ViewRequest => ({
  ...PLAIN,
  conditions: { name: { match: 'all', parts: [{ kind: 'contains', text }] } },
})

describe('how many rows there are', () => {
  const opening = (service: SlowToCount): { source: RowSource; changes: SourceChange[] } => {
    const source = serviceSource({
      address: 'http://s/root',
      rows: 'rows',
      near: false,
      fetch: service.fetch,
    })
    const changes: SourceChange[] = []
    source.onChange(change => changes.push(change))
    return { source, changes }
  }
  beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'Date', 'performance'] }))
  afterEach(() => void vi.useRealTimers())

  it('is waited for a moment by whoever wants the first rows, and told when it comes', async () => {
    const service = new SlowToCount()
    let count = (): void => {}
    service.allCounted = new Promise<void>(resolve => (count = resolve))
    const { source, changes } = opening(service)
    const opened = source.open({ early: true })
    await vi.advanceTimersByTimeAsync(1600)
    expect((await opened).total).toEqual({ kind: 'at-least', rows: 60 })
    // Nobody waits for it once more.
    const first = await source.view(PLAIN, { early: true })
    expect(first.counts.lines).toEqual({ kind: 'at-least', rows: 384 })
    expect(first.counts.total).toEqual({ kind: 'at-least', rows: 384 })
    // As many pass as there are, at least; and what is asked meanwhile gives up no count of all.
    const narrow = await source.view(narrowed('a'), { early: true })
    expect([narrow.counts.passing, narrow.counts.total]).toEqual([
      { kind: 'exact', rows: 1000 },
      { kind: 'at-least', rows: 1000 },
    ])
    count()
    await vi.advanceTimersByTimeAsync(10)
    expect([changes, service.givenUp]).toEqual([[{ problem: null, same: true }], []])
    const { counts } = await source.view(narrowed('a'), { early: true })
    expect(counts.total).toEqual({ kind: 'exact', rows: ALL })
    expect((await source.view(PLAIN, { early: true })).counts.lines).toEqual({ kind: 'exact', rows: ALL })
    source.close()
  })

  it('is never known where a service cannot count so many', async () => {
    const service = new SlowToCount()
    service.tooSlow = true
    const { source } = opening(service)
    expect((await source.open({ early: true })).total).toEqual({ kind: 'at-least', rows: 60 })
    const { counts } = await source.view(PLAIN, { early: true })
    expect(counts.lines).toEqual({ kind: 'at-least', rows: 384 })
    source.close()
  })

  it('is waited for, however long, by whoever needs all rows', async () => {
    const service = new SlowToCount()
    let count = (): void => {}
    service.allCounted = new Promise<void>(resolve => (count = resolve))
    const { source } = opening(service)
    let isOpen = false
    const opened = source.open().then(({ total }) => {
      isOpen = true
      return total
    })
    await vi.advanceTimersByTimeAsync(20_000)
    expect(isOpen).toBe(false)
    count()
    expect(await opened).toEqual({ kind: 'exact', rows: ALL })
    source.close()
  })
})

describe('how many rows pass', () => {
  let service: SlowToCount
  let source: RowSource
  let changes: SourceChange[]

  beforeEach(async () => {
    service = new SlowToCount()
    source = serviceSource({ address: 'http://s/root', rows: 'rows', near: false, fetch: service.fetch })
    changes = []
    await source.open()
    source.onChange(change => changes.push(change))
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'Date', 'performance'] })
  })
  afterEach(() => {
    vi.useRealTimers()
    source.close()
  })

  const never = (): Promise<never> => new Promise(() => {})

  async function seen(promise: Promise<View>): Promise<View> {
    await vi.advanceTimersByTimeAsync(1600)
    return await promise
  }

  it('is told at once where the service counts quickly', async () => {
    const { counts } = await source.view(narrowed('a'), { early: true })
    expect(counts.passing).toEqual({ kind: 'exact', rows: 1000 })
  })

  it('comes later where the count takes long, and the first rows are shown', async () => {
    let count = (): void => {}
    service.counted = new Promise<void>(resolve => (count = resolve))
    const first = await seen(source.view(narrowed('a'), { early: true }))
    expect(first.counts).toEqual({
      total: { kind: 'exact', rows: ALL },
      passing: { kind: 'at-least', rows: 384 },
      lines: { kind: 'at-least', rows: 384 },
    })
    count()
    await vi.advanceTimersByTimeAsync(10)
    expect(changes).toEqual([{ problem: null, same: true }])
    const { counts } = await source.view(narrowed('a'), { early: true })
    expect(counts.lines).toEqual({ kind: 'exact', rows: 1000 })
    // In another order there are as many.
    const order = [{ column: 'name', direction: 'descending' as const }]
    await source.view({ ...narrowed('a'), order }, { early: true })
    expect(service.counts).toHaveLength(1)
  })

  it('is known as soon as all rows have come', async () => {
    service.counted = never()
    service.passing = 20
    const { counts } = await seen(source.view(narrowed('a'), { early: true }))
    expect(counts.passing).toEqual({ kind: 'exact', rows: 20 })
  })

  it('grows with what a reader looks at where nobody can count them', async () => {
    service.tooSlow = true
    service.passing = 500
    const { lines, counts } = await seen(source.view(narrowed('a'), { early: true }))
    expect(counts.passing).toEqual({ kind: 'at-least', rows: 384 })
    lines.want(300, 384, ['name'])
    await vi.advanceTimersByTimeAsync(10)
    expect(changes).toEqual([{ problem: null, same: true }])
    const grown = await source.view(narrowed('a'), { early: true })
    expect(grown.counts.passing).toEqual({ kind: 'exact', rows: 500 })
    expect(service.counts).toHaveLength(1)
    grown.lines.want(480, 500, ['name'])
    await vi.advanceTimersByTimeAsync(10)
    expect(grown.lines.line(asLine(499))).toMatchObject({ row: 499 })
  })

  it('is waited for by whoever needs all of them', async () => {
    let count = (): void => {}
    service.counted = new Promise<void>(resolve => (count = resolve))
    let view: View | null = null
    const asked = source.view(narrowed('a')).then(made => (view = made))
    await vi.advanceTimersByTimeAsync(20_000)
    expect(view).toBeNull()
    count()
    await asked
    expect(view!.counts.passing).toEqual({ kind: 'exact', rows: 1000 })
  })

  it('is counted no further when another question is put', async () => {
    service.counted = never()
    await seen(source.view(narrowed('a'), { early: true }))
    expect(service.givenUp).toEqual([])
    await seen(source.view(narrowed('b'), { early: true }))
    expect(service.givenUp).toEqual([service.counts[0]])
    const given = new AbortController()
    const left = source.view(narrowed('c'), { early: true, signal: given.signal })
    await vi.advanceTimersByTimeAsync(5)
    given.abort()
    await expect(left).rejects.toThrow()
    expect(service.givenUp).toContain(service.counts[2])
  })

  it('is counted anew when rows were changed', async () => {
    let count = (): void => {}
    service.counted = new Promise<void>(resolve => (count = resolve))
    await seen(source.view(narrowed('a'), { early: true }))
    count()
    await vi.advanceTimersByTimeAsync(10)
    service.passing = 7
    await source.refresh!()
    const { counts } = await source.view(narrowed('a'), { early: true })
    expect(counts.passing).toEqual({ kind: 'exact', rows: 7 })
  })
})
