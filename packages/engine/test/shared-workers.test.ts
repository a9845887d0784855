import { describe, expect, it } from 'vitest'
import type { ViewRequest } from '../src/flow/view-request.ts'
import type { FromWorker } from '../src/worker/messages.ts'
import { serveEngine } from '../src/worker/serve.ts'
import { SharedWorkers } from '../src/worker/shared-workers.ts'
import { WorkerSource, type EnginePort } from '../src/worker/worker-source.ts'
import { tableOf } from './support/random-table.ts'

interface Started {
  readonly worker: EnginePort
  isEnded: boolean
}

const untilReady = (port: EnginePort): Promise<void> =>
  new Promise(resolve => {
    port.onmessage = ({ data }: MessageEvent<FromWorker>) => {
      if ('ready' in data) resolve()
    }
  })

/** Workers that run in this thread, over channels. */
function workers(most: number): { shared: SharedWorkers; started: Started[] } {
  const started: Started[] = []
  const start = async (): Promise<EnginePort> => {
    const { port1, port2 } = new MessageChannel()
    const one: Started = {
      isEnded: false,
      worker: Object.assign(port1 as EnginePort, {
        terminate: () => {
          one.isEnded = true
          port1.close()
          port2.close()
        },
      }),
    }
    started.push(one)
    const ready = untilReady(one.worker)
    serveEngine({}, port2 as never)
    await ready
    return one.worker
  }
  return { shared: new SharedWorkers(start, untilReady, most), started }
}
const table = (rows: number) => tableOf(Array.from({ length: rows }, (_, a) => ({ a, b: `row ${a % 3}` })))
async function source(shared: SharedWorkers, rows: number): Promise<WorkerSource> {
  const port = await shared.port()
  if (typeof port === 'string') throw new Error(port)
  const made = new WorkerSource(port, { kind: 'table', table: table(rows) }, false)
  await made.open()
  return made
}
const request: ViewRequest = {
  order: [],
  conditions: {},
  search: 'row 1',
  searchColumns: ['b'],
  groups: [],
  open: { levels: null, except: [] },
}

describe('workers that are shared', () => {
  it('are no more than allowed, and each source has its own rows', async () => {
    const { shared, started } = workers(3)
    const sources = await Promise.all(Array.from({ length: 12 }, (_, nth) => source(shared, 10 + nth)))
    expect(started).toHaveLength(3)
    const counts = await Promise.all(sources.map(async one => (await one.view(request)).report))
    expect(counts.map(({ total }) => total)).toEqual(Array.from({ length: 12 }, (_, nth) => 10 + nth))
    expect(counts.map(({ passing }) => passing)).toEqual(
      Array.from({ length: 12 }, (_, nth) => Math.floor((10 + nth + 1) / 3)),
    )
    for (const one of sources) one.close()
    expect(started.every(({ isEnded }) => isEnded)).toBe(true)
  })

  it('go on for the others when one source is closed, and end with the last', async () => {
    const { shared, started } = workers(1)
    const [first, second] = [await source(shared, 9), await source(shared, 12)]
    first.close()
    expect(started[0].isEnded).toBe(false)
    expect((await second.view(request)).report.total).toBe(12)
    await expect(first.view(request)).rejects.toThrow()
    second.close()
    expect(started[0].isEnded).toBe(true)
    // The next one starts another.
    const third = await source(shared, 6)
    expect(started).toHaveLength(2)
    expect((await third.view(request)).report.total).toBe(6)
    third.close()
  })

  it('a source that is closed while another works keeps it from nothing', async () => {
    const { shared } = workers(1)
    const [first, second] = [await source(shared, 3000), await source(shared, 3000)]
    const under = first.view(request).then(
      () => 'answered',
      () => 'ended',
    )
    const other = second.view({ ...request, search: 'row 2' })
    first.close()
    expect(await under).toBe('ended')
    expect((await other).report.passing).toBe(1000)
    second.close()
  })

  it('one that cannot be started is told, and tried anew', async () => {
    let tries = 0
    const shared = new SharedWorkers(() => Promise.resolve(`refused ${++tries}`), untilReady, 1)
    expect(await shared.port()).toBe('refused 1')
    expect(await shared.port()).toBe('refused 2')
  })
})
