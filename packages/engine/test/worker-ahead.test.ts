import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { WorkerAhead } from '../src/worker/worker-ahead.ts'
import type { EnginePort } from '../src/worker/worker-source.ts'

/** What was started, and which of it was ended. */
function setUp() {
  const ended: number[] = []
  let count = 0
  const start = vi.fn((): Promise<EnginePort | string> => {
    const nth = ++count
    return Promise.resolve({ onmessage: null, postMessage: () => {}, terminate: () => void ended.push(nth) })
  })
  return { ahead: new WorkerAhead(start), start, ended }
}

describe('a worker that is started ahead', () => {
  beforeEach(() => void vi.useFakeTimers())
  afterEach(() => void vi.useRealTimers())

  it('is one, however often it is asked for, and whoever takes it has it alone', async () => {
    const { ahead, start, ended } = setUp()
    ahead.begin()
    ahead.begin()
    const taken = ahead.take()
    expect([start.mock.calls.length, taken === null, ahead.take()]).toEqual([1, false, null])
    await vi.advanceTimersByTimeAsync(600_000)
    expect(ended).toEqual([])
    ahead.begin()
    expect(start).toHaveBeenCalledTimes(2)
  })

  it('is ended where nobody takes it, a minute after it was wanted last', async () => {
    const { ahead, start, ended } = setUp()
    ahead.begin()
    await vi.advanceTimersByTimeAsync(50_000)
    ahead.begin()
    await vi.advanceTimersByTimeAsync(50_000)
    expect(ended).toEqual([])
    await vi.advanceTimersByTimeAsync(20_000)
    expect([ended, ahead.take(), start.mock.calls.length]).toEqual([[1], null, 1])
  })

  it('that could not be started is nobody’s, and ends nothing', async () => {
    const ahead = new WorkerAhead(() => Promise.resolve('forbidden'))
    ahead.begin()
    await vi.advanceTimersByTimeAsync(70_000)
    ahead.begin()
    expect(await ahead.take()).toBe('forbidden')
  })
})
