import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { arrangementFor } from '../src/definition/arrangement.ts'
import type { Arrangement } from '../src/definition/arrangement-schema.ts'
import { readDefinition, type Definition } from '../src/definition/definition.ts'
import { openSource, type RowSource } from '../src/index.ts'
import {
  makeScene,
  readScene,
  replayScene,
  sceneDifferenceText,
  type Scene,
  type Staged,
} from '../src/scenes.ts'

interface Plot {
  readonly id: number
  readonly site: string
  readonly cover: number | null
  readonly seen: string
}
const SITES = ['Alder pond', 'Birch ridge', 'Crow wood', 'Dry field']
const plots = (count = 40): Plot[] =>
  Array.from({ length: count }, (_, id) => ({
    id,
    site: SITES[(id * 7) % 4],
    cover: id % 9 === 0 ? null : (id * 37) % 100,
    seen: `2026-11-${String((id % 28) + 1).padStart(2, '0')}`,
  }))
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  key: 'id',
  columns: [
    { key: 'id', title: 'Number' },
    { key: 'site', title: 'Site' },
    { key: 'cover', title: 'Cover' },
    { key: 'seen', title: 'Seen on' },
  ],
}
const NOW = Date.UTC(2026, 10, 28)

function defined(change: object = {}): Definition {
  const read = readDefinition({ ...DEFINITION, ...change })
  if (!read.ok) throw new Error(read.problems[0].message)
  return read.definition
}
const open: RowSource[] = []
async function staged(rows: readonly Plot[] = plots(), definition = defined()): Promise<Staged> {
  const source = await openSource({ kind: 'rows', rows }, { engine: 'page' })
  open.push(source)
  return { source, description: await source.open(), definition, now: NOW }
}
const arranged = (change: Partial<Arrangement>, definition = defined()): Arrangement => ({
  ...arrangementFor(definition),
  ...change,
})
const LOW = {
  match: 'all',
  parts: [{ kind: 'below', value: 30 }],
} as const satisfies Arrangement['conditions'][string]
const kept = (scene: Scene): Scene => {
  const read = readScene(JSON.parse(JSON.stringify(scene)))
  if (!read.ok) throw new Error(read.problem)
  return read.scene
}
async function told(
  change: Partial<Arrangement>,
  rows: readonly Plot[],
  definition = defined(),
): Promise<string[]> {
  const scene = kept(await makeScene('morning', await staged(), arranged(change)))
  const { differences } = await replayScene(scene, await staged(rows, definition))
  return differences.map(one =>
    sceneDifferenceText(one, key => defined().columns.find(column => column.key === key)?.title ?? key),
  )
}

describe('a scene', () => {
  it('holds what is shown: counts, first lines as written, groups, and what columns come to', async () => {
    const scene = await makeScene(
      'low cover',
      await staged(),
      arranged({
        conditions: { cover: LOW },
        order: [{ column: 'cover', direction: 'descending' }],
        summaries: { cover: 'sum' },
        hidden: ['seen'],
      }),
    )
    const passing = plots().filter(({ cover }) => cover !== null && cover < 30)
    const ordered = [...passing].sort((a, b) => (b.cover ?? 0) - (a.cover ?? 0))
    expect(scene.shows).toMatchObject({
      rows: 40,
      passing: passing.length,
      groups: [],
      columns: ['id', 'site', 'cover'],
    })
    expect(scene.shows.summaries).toEqual({
      cover: String(passing.reduce((sum, { cover }) => sum + (cover ?? 0), 0)),
    })
    expect(scene.shows.lines).toEqual(
      ordered
        .slice(0, 12)
        .map(({ id, site, cover }) => ({ row: { id: String(id), site, cover: String(cover) } })),
    )
    expect(scene.arrangement).not.toHaveProperty('page')
  })

  it('has heads of groups among its lines', async () => {
    const groups: Arrangement['groups'] = [
      {
        column: 'site',
        bucket: { by: 'value' },
        order: { by: 'key', direction: 'ascending', missing: 'last' },
      },
    ] as never
    const scene = await makeScene(
      'by site',
      await staged(),
      arranged({ groups, open: { levels: 0, except: [] } }),
    )
    expect(scene.shows.groups).toEqual([4])
    expect(scene.shows.lines).toEqual(SITES.map(group => ({ group, level: 0, rows: 10 })))
  })

  it('is the same after any arrangement was kept and replayed on the same rows', async () => {
    const on = await staged()
    const column = fc.constantFrom('id', 'site', 'cover', 'seen')
    const condition = fc.oneof(
      fc.record({ kind: fc.constant('below' as const), value: fc.integer({ min: 0, max: 100 }) }),
      fc.constant({ kind: 'missing' as const }),
    )
    await fc.assert(
      fc.asyncProperty(
        fc.uniqueArray(
          fc.record({ column, direction: fc.constantFrom('ascending' as const, 'descending' as const) }),
          {
            selector: ({ column: key }) => key,
          },
        ),
        fc.option(condition, { nil: null }),
        fc.constantFrom('', 'wood', 'alder 3', 'nothing at all'),
        fc.uniqueArray(column, { maxLength: 3 }),
        fc.constantFrom<Arrangement['summaries']>(
          {},
          { cover: 'mean' },
          { cover: 'median', site: 'distinct' },
        ),
        async (order, part, search, hidden, summaries) => {
          const conditions: Arrangement['conditions'] = part ? { cover: { match: 'all', parts: [part] } } : {}
          const scene = kept(
            await makeScene('any', on, arranged({ order, conditions, search, hidden, summaries })),
          )
          const { differences, shows } = await replayScene(scene, on)
          expect(differences).toEqual([])
          expect(shows).toEqual(scene.shows)
        },
      ),
      { numRuns: 60 },
    )
  })

  it('is the same when the definition starts otherwise', async () => {
    const scene = await makeScene('plain', await staged(), arranged({}))
    const start = { order: [{ column: 'cover', direction: 'descending' }], search: 'wood' }
    expect((await replayScene(scene, await staged(plots(), defined({ start })))).differences).toEqual([])
  })

  it('goes by its own day, whenever it is replayed', async () => {
    const seen: Arrangement['conditions'] = {
      seen: { match: 'all', parts: [{ kind: 'relative', which: 'last', unit: 'day', count: 7 } as never] },
    }
    const scene = await makeScene('last week', await staged(), arranged({ conditions: seen }))
    expect(scene.shows.passing).toBeGreaterThan(0)
    const later = { ...(await staged()), now: NOW + 400 * 86_400_000 }
    expect((await replayScene(scene, later)).differences).toEqual([])
  })
})

describe('what differs from a scene', () => {
  it('is told by cells where few of a line differ', async () => {
    const rows = plots().map(plot => (plot.id === 2 ? { ...plot, cover: 99 } : plot))
    expect(await told({}, rows)).toEqual(['Line 3: Cover is “99”; it was “74”.'])
  })

  it('is told by counts, lines and sums', async () => {
    const rows = plots().filter(({ id }) => id !== 1)
    const said = await told({ conditions: { cover: LOW }, summaries: { cover: 'sum' } }, rows)
    expect(said[0]).toBe('There are 39 rows; there were 40.')
    expect(said).not.toContain('')
    const more = [...plots(), { id: 40, site: 'Elm', cover: 1, seen: '2026-11-01' }]
    expect(await told({ conditions: { cover: LOW }, summaries: { cover: 'count' } }, more)).toEqual([
      'There are 41 rows; there were 40.',
      '12 rows pass; 11 did.',
      'Line 12 is new: 40, Elm, 1, 2026-11-01.',
      'Cover comes to 12; it came to 11.',
    ])
  })

  it('is told as another order where the lines are the same', async () => {
    const [first, second, ...others] = plots()
    expect(await told({}, [second, first, ...others])).toEqual(['The first lines stand in another order.'])
  })

  it('is told where the definition has changed: columns gone, an order that is not offered', async () => {
    const columns = DEFINITION.columns.filter(({ key }) => key !== 'seen')
    expect(
      await told({ order: [{ column: 'seen', direction: 'ascending' }] }, plots(), defined({ columns })),
    ).toEqual(
      expect.arrayContaining([
        'Order of “Seen on” was left out: there is no such column any more.',
        'Not shown any more: Seen on.',
      ]),
    )
  })

  it.each([
    [{}, /^format/],
    [{ format: 'vast-meadow-scene', version: 2 }, /^version/],
    ['a text', /^scene/],
  ])('%j is no scene, and is told where', (json, where) => {
    const read = readScene(json)
    expect(read.ok ? '' : read.problem).toMatch(where)
  })

  it('arrangements of a scene that are none are told of', async () => {
    const scene = await makeScene('one', await staged(), arranged({}))
    const read = readScene({ ...scene, arrangement: { order: 'by site' } })
    expect(read.ok ? '' : read.problem).toMatch(/^arrangement\.order/)
  })
})
