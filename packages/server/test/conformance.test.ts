import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { FlowLevel, FlowRequest } from '../../engine/src/flow/request.ts'
import { isAble } from '../../engine/src/question/abilities.ts'
import { serviceSource } from '../../engine/src/service/service-source.ts'
import type { RowObject } from '../../engine/src/read/rows/read-rows.ts'
import type { LineReader, RowSource, View } from '../../engine/src/source/row-source.ts'
import { oracle, type OracleLine } from '../../engine/test/support/oracle.ts'
import { COLUMNS, randomRequest, randomRows, tableOf } from '../../engine/test/support/random-table.ts'
import { runs } from '../../engine/test/support/runs.ts'
import { toldLine } from '../../engine/test/support/told-line.ts'
import { servedRows, type Served } from './support/random-rows-served.ts'

let served: Served
beforeAll(async () => {
  served = await servedRows()
})
afterAll(() => served.close())

async function opened(rows: readonly RowObject[]): Promise<RowSource> {
  await served.put(rows)
  const source = serviceSource({
    address: 'http://service/rows',
    rows: 'sightings',
    fetch: request => served.handler(request),
  })
  await source.open()
  return source
}

async function linesOf({ lines }: View): Promise<OracleLine[]> {
  await arrive(lines)
  return Array.from({ length: lines.lineCount }, (_, i) => toldLine(lines.line(i)!))
}

async function arrive(lines: LineReader): Promise<void> {
  for (let index = 0; index < lines.lineCount; index += 96) {
    if (lines.line(index) !== undefined) continue
    const came = new Promise<void>(resolve => lines.onArrive(resolve))
    lines.want(index, Math.min(lines.lineCount, index + 96), COLUMNS)
    while (lines.line(index) === undefined) await came
  }
}

const SEARCHED: readonly string[] = ['site', 'note', 'count', 'day', 'tags']
const LEVEL_BUCKETS = ['value', 'range', 'date', 'letters']

/** So many that most of what is asked is met by some. */
const manyRows = fc.array(randomRows, { minLength: 4, maxLength: 8 }).map(parts => parts.flat())

/** A request with one or two conditions at most: with more, hardly any row would pass. */
const someRequest = fc
  .record({ request: randomRequest, first: fc.nat(), count: fc.constantFrom(0, 1, 1, 1, 2) })
  .map(({ request, first, count }) => {
    const all = Object.entries(request.conditions)
    const at = all.length > 0 ? first % all.length : 0
    return offered({ ...request, conditions: Object.fromEntries(all.slice(at, at + count)) })
  })

/** What a request asks as far as the service offers it; the rest readers are not offered either. */
function offered(request: FlowRequest): FlowRequest {
  const level = ({ keep: _, ...one }: FlowLevel): FlowLevel => ({
    ...one,
    bucket: LEVEL_BUCKETS.includes(one.bucket.by) ? one.bucket : { by: 'value' },
    order: { ...one.order, by: typeof one.order.by === 'object' ? 'size' : one.order.by },
  })
  return {
    ...request,
    order: request.order.flatMap(({ by: _, natural: __, ...key }) => (key.column === 'tags' ? [] : [key])),
    searchColumns: request.searchColumns.filter(column => SEARCHED.includes(column)),
    search: request.search === '"a b"' ? 'a' : request.search,
    groups: request.groups.filter(({ column }) => column !== 'tags' && column !== 'mass').map(level),
  }
}

describe('a service over DuckDB', () => {
  it('says what it can do', async () => {
    const source = await opened([])
    const { can, fields, total } = await source.ask('description', {})
    expect(fields.map(({ key, type }) => `${key} ${type}`)).toEqual([
      'row integer',
      'site text',
      'note text',
      'count integer',
      'cover number',
      'mass number',
      'seen boolean',
      'day date',
      'tags tags',
    ])
    expect(total).toEqual({ kind: 'exact', rows: 0 })
    expect(isAble(can.conditions, 'pattern')).toBe(true)
    expect(isAble(can.conditions, 'own')).toBe(false)
    expect(isAble(can.summaries, 'median')).toBe(true)
  })

  it('answers the same lines as the plain version', async () => {
    await fc.assert(
      fc.asyncProperty(manyRows, someRequest, async (rows, request) => {
        const source = await opened(rows)
        const view = await source.view(request)
        const expected = oracle(tableOf(rows), request)
        expect(view.counts.passing.rows).toBe(expected.passing)
        expect(await linesOf(view)).toEqual(expected.lines)
        source.close()
      }),
      runs(200),
    )
  })
})
