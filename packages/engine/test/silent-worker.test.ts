import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { FromWorker, ToWorker } from '../src/worker/messages.ts'
import { WorkerSource, type EnginePort } from '../src/worker/worker-source.ts'
import { tableOf } from './support/random-table.ts'

/** A worker that answers its opening, and of the rest what it is told to. */
class Deaf implements EnginePort {
  onmessage: ((event: MessageEvent<FromWorker>) => void) | null = null
  isThere = true
  pings = 0
  postMessage(message: ToWorker): void {
    if (message.call === 'ping') this.pings++
    if (message.call === 'open') this.say({ id: message.id, answer: { total: { kind: 'exact', rows: 1 } } })
    if (message.call === 'ping' && this.isThere) this.say({ id: 0, here: true })
  }
  say(data: FromWorker): void {
    queueMicrotask(() => this.onmessage?.({ data } as MessageEvent<FromWorker>))
  }
}

describe('a worker that says nothing', () => {
  beforeEach(() => void vi.useFakeTimers())
  afterEach(() => void vi.useRealTimers())

  const opened = async (): Promise<{ port: Deaf; source: WorkerSource }> => {
    const port = new Deaf()
    const source = new WorkerSource(port, { kind: 'table', table: tableOf([{ a: 1 }]) }, false)
    await source.open()
    return { port, source }
  }

  it('is waited for as long as it is there, however long it works', async () => {
    const { port, source } = await opened()
    let ended = false
    source
      .ask('description', {})
      .finally(() => (ended = true))
      .catch(() => {})
    await vi.advanceTimersByTimeAsync(600_000)
    expect(ended).toBe(false)
    expect(port.pings).toBeGreaterThan(50)
    source.close()
  })

  it('is given up when it is not, and whoever shows its rows hears of it', async () => {
    const { port, source } = await opened()
    const told: unknown[] = []
    source.onChange(change => told.push(change))
    port.isThere = false
    const asked = expect(source.ask('description', {})).rejects.toThrow('does not answer any more')
    await vi.advanceTimersByTimeAsync(50_000)
    await asked
    expect(told).toEqual([
      { problem: null, lost: { code: 'failed', reason: 'the worker does not answer any more' } },
    ])
  })

  it('is asked for nothing while nobody waits', async () => {
    const { port, source } = await opened()
    await vi.advanceTimersByTimeAsync(100_000)
    expect(port.pings).toBe(0)
    source.close()
    expect(vi.getTimerCount()).toBe(0)
  })
})
