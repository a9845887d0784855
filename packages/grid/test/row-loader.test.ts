import { describe, expect, it, vi } from 'vitest'
import {
  CancelledError,
  SourceError,
  type OpenOptions,
  type RowSource,
  type SourceDescription,
} from '@vast-meadow/engine'
import { RowLoader, type RowLoaderHost } from '../src/kernel/row-loader.ts'

const DESCRIPTION = { where: 'here' } as SourceDescription

interface Opening {
  readonly source: RowSource
  finish(): void
  fail(error: Error): void
  options: OpenOptions
}

/** A source whose opening ends when the test says so. */
function opening(): Opening {
  const made: Partial<Opening> = {}
  const source = {
    open: (options: OpenOptions) => {
      made.options = options
      return new Promise<SourceDescription>((resolve, reject) => {
        made.finish = () => resolve(DESCRIPTION)
        made.fail = reject
        options.signal?.addEventListener('abort', () => reject(new CancelledError()))
      })
    },
    view: () => {},
    close: vi.fn(),
  }
  return Object.assign(made, { source: source as unknown as RowSource }) as Opening
}

function hostOf(): RowLoaderHost<null> & { log: unknown[] } {
  const log: unknown[] = []
  return {
    log,
    needsAll: () => false,
    prepare: () => Promise.resolve(null),
    loaded: ({ description: { where }, own }) => {
      log.push(['loaded', where, own])
      return Promise.resolve()
    },
    loading: progress => log.push(['loading', progress?.done ?? null]),
    failed: error => log.push(['failed', said(error)]),
  }
}

const settled = (): Promise<void> => new Promise(resolve => setTimeout(resolve))

const said = (error: unknown): string | null =>
  error instanceof CancelledError ? null : (error as Error).message

describe('loading rows', () => {
  it('hands over a source of the host’s own, and does not own it', async () => {
    const host = hostOf()
    const one = opening()
    const loading = new RowLoader(undefined, {}, host).load(one.source)
    await settled()
    one.options.onProgress?.({ doing: 'x', done: 3, of: 9, unit: 'rows' })
    one.finish()
    await loading
    expect(host.log).toEqual([
      ['loading', 3],
      ['loaded', 'here', false],
    ])
    expect(one.source.close).not.toHaveBeenCalled()
  })

  it('tells why rows cannot be had, and tries again', async () => {
    const host = hostOf()
    let again = (): void => {}
    host.failed = (error, retry) => {
      host.log.push(['failed', said(error)])
      again = retry
    }
    const one = opening()
    const loader = new RowLoader(undefined, {}, host)
    const loading = loader.load(one.source)
    await settled()
    one.fail(new SourceError({ code: 'unclosed-quote', line: 4 }))
    await expect(loading).rejects.toThrow('line 4')
    again()
    await settled()
    one.finish()
    await settled()
    expect(host.log).toEqual([
      ['failed', expect.stringContaining('line 4')],
      ['loaded', 'here', false],
    ])
  })

  it('asks for the first rows, unless what is restored needs all', async () => {
    for (const needsAll of [false, true]) {
      const one = opening()
      const loading = new RowLoader(undefined, {}, { ...hostOf(), needsAll: () => needsAll }).load(one.source)
      await settled()
      expect(one.options.early).toBe(!needsAll)
      one.finish()
      await loading
    }
  })

  it('tells how far the others are when the first rows are there, and can be ended then', async () => {
    const host = hostOf()
    const one = opening()
    const loader = new RowLoader(undefined, {}, host)
    const loading = loader.load(one.source)
    await settled()
    one.finish()
    await loading
    one.options.onProgress?.({ doing: 'x', done: 5, of: 9, unit: 'rows' })
    expect(host.log).toEqual([
      ['loaded', 'here', false],
      ['loading', 5],
    ])
    loader.cancel()
    expect(one.options.signal?.aborted).toBe(true)
    one.options.onProgress?.({ doing: 'x', done: 6, of: 9, unit: 'rows' })
    expect(host.log).toHaveLength(2)
  })

  it('tells why rows that were there cannot be had after all, and tries again', async () => {
    const host = hostOf()
    let again = (): void => {}
    host.failed = (error, retry) => {
      host.log.push(['failed', said(error)])
      again = retry
    }
    const one = opening()
    const loader = new RowLoader(undefined, {}, host)
    loader.lost(new Error('nothing was there'))
    const loading = loader.load(one.source)
    await settled()
    one.finish()
    await loading
    loader.lost(new SourceError({ code: 'unclosed-quote', line: 7 }))
    again()
    await settled()
    one.finish()
    await settled()
    expect(host.log).toEqual([
      ['loaded', 'here', false],
      ['failed', expect.stringContaining('line 7')],
      ['loaded', 'here', false],
    ])
  })

  it('cancelled, says so without a message', async () => {
    const host = hostOf()
    const one = opening()
    const loader = new RowLoader(undefined, {}, host)
    const loading = loader.load(one.source)
    await settled()
    loader.cancel()
    await expect(loading).rejects.toBeInstanceOf(CancelledError)
    expect(host.log).toEqual([['failed', null]])
  })

  it('ended by a newer loading, is not heard of again', async () => {
    const host = hostOf()
    const [older, newer] = [opening(), opening()]
    const loader = new RowLoader(undefined, {}, host)
    const first = loader.load(older.source)
    await settled()
    const second = loader.load(newer.source)
    await expect(first).rejects.toBeInstanceOf(CancelledError)
    await settled()
    older.options.onProgress?.({ doing: 'x', done: 1, of: 2, unit: 'rows' })
    newer.finish()
    await second
    expect(host.log).toEqual([['loaded', 'here', false]])
  })

  it('shows that it takes long only when it does', async () => {
    vi.useFakeTimers()
    const host = hostOf()
    const one = opening()
    const loading = new RowLoader(undefined, {}, host).load(one.source)
    await vi.advanceTimersByTimeAsync(100)
    expect(host.log).toEqual([])
    await vi.advanceTimersByTimeAsync(100)
    expect(host.log).toEqual([['loading', null]])
    one.finish()
    await loading
    vi.useRealTimers()
  })

  it('closes a source that it made when opening it fails', async () => {
    const host = hostOf()
    const loading = new RowLoader({ engine: 'page' }, {}, host).load({ kind: 'file', blob: new Blob(['']) })
    await expect(loading).rejects.toThrow('There is nothing in it')
    expect(host.log).toEqual([['failed', expect.stringContaining('nothing in it')]])
  })
})
