import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { ViewRequest } from '../src/flow/view-request.ts'
import type { FlowLevel } from '../src/flow/request.ts'
import { serviceSource } from '../src/service/service-source.ts'
import type { RowSource } from '../src/source/row-source.ts'
import { PLAIN } from './support/random-table.ts'

const METADATA = {
  $EntityContainer: 'S.C',
  S: {
    row: { $Kind: 'EntityType', $Key: ['id'], id: { $Type: 'Edm.Int32' }, name: { $Nullable: true } },
    C: { rows: { $Collection: true, $Type: 'S.row' } },
  },
}

const level = (column: string, by: FlowLevel['order']['by'] = 'key'): FlowLevel => ({
  column,
  bucket: { by: 'value' },
  order: { by, direction: 'ascending', missing: 'last' },
  feet: false,
})

describe('groups over a service', () => {
  let asked: string[] = []
  let source: RowSource
  let groups: object[] = []

  beforeEach(async () => {
    groups = [
      { name: 'a', rows: 4, sum0: 1 },
      { name: 'b', rows: 2, sum0: 9 },
    ]
    asked = []
    source = serviceSource({
      address: 'http://s/root',
      rows: 'rows',
      near: false,
      fetch: request => {
        const { pathname, searchParams } = new URL(request.url)
        const path = decodeURIComponent(pathname.replace('/root/', ''))
        const apply = searchParams.get('$apply')
        if (path === '$metadata') return Promise.resolve(Response.json(METADATA))
        if (path === 'rows/$count') return Promise.resolve(new Response('6'))
        if (apply !== null) asked.push(apply)
        const whole = apply?.includes('groupby') ? groups : [{ sum0: -2 }]
        return Promise.resolve(Response.json({ value: apply === null ? [] : whole }))
      },
    })
    await source.open()
    vi.useFakeTimers({ toFake: ['Date'] })
  })
  afterEach(() => {
    vi.useRealTimers()
    source.close()
  })

  const request = (more: Partial<ViewRequest> = {}): ViewRequest => ({
    ...PLAIN,
    groups: [level('name')],
    open: { levels: 0, except: [] },
    ...more,
  })
  const lines = async (more?: Partial<ViewRequest>): Promise<number> =>
    (await source.view(request(more))).counts.lines.rows

  it('are asked for once: a group that is opened, and another order, have the same', async () => {
    expect(await lines()).toBe(2)
    expect(await lines({ open: { levels: 0, except: [['a']] } })).toBe(6)
    expect(await lines({ order: [{ column: 'id', direction: 'descending' }] })).toBe(2)
    expect(asked).toHaveLength(1)
    const name = { match: 'all' as const, parts: [{ kind: 'contains' as const, text: 'a' }] }
    await lines({ conditions: { name } })
    expect(asked).toHaveLength(2)
  })

  it('are asked for again when rows are others, or may be', async () => {
    await lines()
    groups = [{ name: 'c', rows: 6 }]
    await source.refresh?.()
    expect(await lines()).toBe(1)
    vi.advanceTimersByTime(30_000)
    await lines()
    expect(asked).toHaveLength(3)
  })

  it('are asked for as far as the service can: all of them, and by value what it cannot cut', async () => {
    const most = { count: 1, of: 'size', direction: 'descending', rest: 'out' } as const
    expect(await lines({ groups: [{ ...level('name'), keep: { where: [], most } }] })).toBe(2)
    const { can } = await source.ask('description', {})
    expect([can.keep, can.groups.kinds?.range]).toEqual([
      { code: 'service-cannot', service: 's' },
      { code: 'service-cannot', service: 's' },
    ])
    await lines({ groups: [{ ...level('id'), bucket: { by: 'range', step: 10, origin: 0 } }] })
    expect(asked.at(-1)).toBe('groupby((id),aggregate($count as rows))')
  })

  it('are ordered by a share as the shares stand to the whole', async () => {
    groups = [
      { id: 1, rows: 1, sum0: -6 },
      { id: 2, rows: 1, sum0: 4 },
    ]
    const first = async (summary: 'sum' | 'share'): Promise<unknown> => {
      const told = await source.ask('levelGroups', {
        request: request({ groups: [level('id', { column: 'id', summary })] }),
        level: 0,
        from: 0,
        to: 1,
      })
      return told.groups[0].value
    }
    expect(await first('sum')).toBe(1)
    // The whole is less than nothing, which turns the order.
    expect(await first('share')).toBe(2)
  })
})
