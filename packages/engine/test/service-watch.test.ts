import fc from 'fast-check'
import { afterEach, describe, expect, it } from 'vitest'
import { EventStream, type StreamEvent } from '../src/service/event-stream.ts'
import { serviceSource } from '../src/service/service-source.ts'
import type { ServiceOptions } from '../src/service/service-options.ts'
import type { RowSource, SourceChange, View } from '../src/source/row-source.ts'
import { PLAIN } from './support/random-table.ts'
import { runs } from './support/runs.ts'

const METADATA = {
  $EntityContainer: 'S.C',
  S: {
    row: { $Kind: 'EntityType', $Key: ['id'], id: { $Type: 'Edm.Int32' }, name: { $Nullable: true } },
    C: { rows: { $Collection: true, $Type: 'S.row', '@VastMeadow.Events': '$events' } },
  },
}

/** A service whose rows others change, and which tells so. */
class Changing {
  rows = Array.from({ length: 200 }, (_, id) => ({ id, name: `name ${id}` }))
  asked: string[] = []
  /** Streams that are open, each by what writes on it. */
  streams: { readonly send: (text: string) => void; readonly end: () => void }[] = []

  readonly fetch = async (request: Request): Promise<Response> => {
    const { pathname, searchParams } = new URL(request.url)
    const path = decodeURIComponent(pathname.replace('/root/', ''))
    this.asked.push(path)
    if (path === '$metadata') return Response.json(METADATA)
    if (path.endsWith('$events')) return this.listening(request.signal)
    if (path === 'rows/$count') return new Response(String(this.rows.length))
    const skip = Number(searchParams.get('$skip') ?? 0)
    return await Promise.resolve(
      Response.json({ value: this.rows.slice(skip, skip + Number(searchParams.get('$top'))) }),
    )
  }

  private listening(signal: AbortSignal): Response {
    const body = new ReadableStream({
      start: controller => {
        const stream = {
          send: (text: string) => controller.enqueue(new TextEncoder().encode(text)),
          end: () => controller.close(),
        }
        signal.addEventListener('abort', () => controller.error(new Error('left')))
        this.streams.push(stream)
      },
    })
    return new Response(body, { headers: { 'content-type': 'text/event-stream; charset=utf-8' } })
  }

  looks = (): number => this.asked.filter(path => path === 'rows/$count').length
}

const sources: RowSource[] = []
afterEach(() => {
  for (const source of sources.splice(0)) source.close()
})

async function watched(
  service: Changing,
  more: Partial<ServiceOptions>,
): Promise<{ source: RowSource; view: View; changes: SourceChange[] }> {
  const source = serviceSource({
    address: 'http://changing/root',
    rows: 'rows',
    near: false,
    fetch: service.fetch,
    ...more,
  })
  sources.push(source)
  const changes: SourceChange[] = []
  source.onChange(change => changes.push(change))
  await source.open()
  const view = await source.view(PLAIN)
  const came = new Promise<void>(resolve => view.lines.onArrive(resolve))
  view.lines.want(0, 20, ['name'])
  await came
  return { source, view, changes }
}

const until = async (holds: () => boolean): Promise<void> => {
  const from = performance.now()
  while (!holds()) {
    if (performance.now() - from > 10_000) throw new Error('It did not come.')
    await new Promise(resolve => setTimeout(resolve, 20))
  }
}

describe('rows of a service that others change', () => {
  it('are looked at again by the clock, and told of only where they differ', async () => {
    const service = new Changing()
    const { changes, source } = await watched(service, { every: 0.05 })
    const before = service.looks()
    await until(() => service.looks() > before + 2)
    expect(changes).toEqual([])
    service.rows[3] = { id: 3, name: 'other' }
    await until(() => changes.length > 0)
    expect(changes[0]).toEqual({ problem: null })
    source.close()
    const after = service.looks()
    await new Promise(resolve => setTimeout(resolve, 300))
    expect(service.looks()).toBeLessThanOrEqual(after + 1)
  })

  it('are told of where there are more, though those on screen are the same', async () => {
    const service = new Changing()
    const { changes, source } = await watched(service, { every: 0.05 })
    service.rows.push({ id: 999, name: 'new' })
    await until(() => changes.length > 0)
    const { total } = await source.ask('description', {})
    expect(total.rows).toBe(201)
  })

  it('are looked at when the service says so, once for many events', async () => {
    const service = new Changing()
    const { changes } = await watched(service, { events: true })
    await until(() => service.streams.length === 1)
    const before = service.looks()
    service.rows[0] = { id: 0, name: 'first' }
    for (let i = 0; i < 20; i++) service.streams[0].send('event: changed\ndata: {}\n\n')
    await until(() => changes.length > 0)
    expect(service.looks() - before).toBeLessThanOrEqual(2)
    // What keeps the line open says nothing.
    const quiet = service.looks()
    service.streams[0].send(': nothing\n\n')
    await new Promise(resolve => setTimeout(resolve, 500))
    expect(service.looks()).toBe(quiet)
  })

  it('are looked at after a line was opened anew, for what was told meanwhile', async () => {
    const service = new Changing()
    const { changes } = await watched(service, { events: '/root/rows/$events' })
    await until(() => service.streams.length === 1)
    service.streams[0].end()
    service.rows[5] = { id: 5, name: 'meanwhile' }
    await until(() => changes.length > 0)
    await until(() => service.streams.length === 2)
  })

  it('ask nothing where nobody wants it', async () => {
    const service = new Changing()
    await watched(service, {})
    await new Promise(resolve => setTimeout(resolve, 300))
    expect(service.streams).toEqual([])
    expect(service.looks()).toBe(1)
  })
})

describe('a stream of events', () => {
  const whole = (text: string): StreamEvent[] => new EventStream().read(text)

  it('is read as the standard has it', () => {
    expect(whole('data: a\ndata: b\n\n')).toEqual([{ name: 'message', data: 'a\nb' }])
    expect(whole('event: x\ndata:y\n\n: said\n\nid: 3\n\n')).toEqual([{ name: 'x', data: 'y' }])
    expect(whole('\uFEFFdata\r\n\r\ndata:  z\r\r')).toEqual([{ name: 'message', data: '' }])
    expect(whole('data: not ended\n')).toEqual([])
  })

  it('is the same however it is cut', () => {
    const line = fc.constantFrom('data: a', 'data:b', 'event: e', ': c', '', 'id: 1', 'data', 'odd')
    const text = fc
      .array(fc.tuple(line, fc.constantFrom('\n', '\r\n')), { maxLength: 20 })
      .map(lines => lines.map(parts => parts.join('')).join(''))
    fc.assert(
      fc.property(text, fc.array(fc.nat(80), { maxLength: 6 }), (given, cuts) => {
        const places = [
          0,
          ...cuts.map(cut => Math.min(cut, given.length)).sort((a, b) => a - b),
          given.length,
        ]
        const stream = new EventStream()
        const read = places.slice(1).flatMap((to, nth) => stream.read(given.slice(places[nth], to)))
        expect(read).toEqual(whole(given))
      }),
      runs(300),
    )
  })
})
