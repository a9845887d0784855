import {
  ALL_ABILITIES,
  rowsIn,
  type Abilities,
  type ChangeSet,
  type Committed,
  type RowId,
  type RowObject,
  type Rows,
  type RowSource,
  type SourceChange,
} from '@vast-meadow/engine'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { GridModel } from '../src/kernel/grid-model.ts'
import type { RowPlace } from '../src/kernel/place-keeper.ts'
import { RowChanges, type RowChangesHost } from '../src/kernel/row-changes.ts'
import { Features, type Feature } from '../src/kernel/feature.ts'

beforeEach(() => {
  vi.useFakeTimers({ shouldAdvanceTime: true, advanceTimeDelta: 1 })
  vi.stubGlobal('window', globalThis)
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

const FINE: Committed = { inserted: 0, updated: 0, removed: 0, restored: 0, problems: [], total: 2 }

function setUp(answer: Committed = FINE) {
  const state = { loading: false }
  const told: string[] = []
  const commits: ChangeSet[] = []
  const heard: ((change: SourceChange) => void)[] = []
  const selected = new Set([1, 5])
  const source = {
    ask: async (question: string, { keys = [], rows }: { keys?: readonly unknown[]; rows?: Rows }) =>
      question === 'findRows' ? keys.map(Number) : [...rowsIn(rows!)].map(row => `k${row}`),
    commit: async (changes: ChangeSet) => {
      commits.push(changes)
      return answer
    },
    onChange: (listener: (change: SourceChange) => void) => {
      heard.push(listener)
      return () => heard.splice(heard.indexOf(listener), 1)
    },
  }
  const model = {
    source: source as unknown as RowSource | null,
    keyFields: ['id'],
    description: {
      total: { kind: 'exact', rows: 2 },
      can: ALL_ABILITIES as Abilities,
      fields: [{ key: 'id' }, { key: 'n' }],
    },
  }
  const selection: Feature = {
    name: 'selection',
    held: () => ({ kind: 'list', rows: [...selected] as RowId[] }),
    gone: rows => void told.push(`gone ${rows.join()}`),
  }
  const features = new Features(() => {})
  features.set([selection])
  const host = {
    loading: () => state.loading,
    place: (): RowPlace => ({
      selected: null,
      open: [2 as RowId],
      top: { row: 5 as RowId, into: 3 },
      focused: 1 as RowId,
    }),
    refresh: async () => void told.push('refresh'),
    changedByItself: () => {},
    line: () => {},
    problem: (message: string) => told.push(message),
    failed: (error: unknown) => told.push(String(error)),
    lost: (error: unknown) => told.push(`lost: ${String(error)}`),
  } satisfies RowChangesHost
  const changes = new RowChanges(model as unknown as GridModel, features, host)
  return { changes, model, host, state, told, commits, heard }
}

const list = (...numbers: number[]): RowObject[] => numbers.map((n, id) => ({ id, n }))

describe('a list of rows that replaces another', () => {
  it('is committed as what differs, by key', async () => {
    const { changes, commits, told } = setUp()
    changes.hold(list(1, 2, 3))
    expect(await changes.become(list(1, 7))).toBe(true)
    expect(commits).toHaveLength(1)
    expect(commits[0].remove).toEqual([2])
    expect(commits[0].put).toEqual([{ id: 1, n: 7 }])
    expect(told).toEqual(['gone 2', 'refresh'])
  })

  it('is compared with the one before it, also where they come in quick succession', async () => {
    const { changes, commits } = setUp()
    changes.hold(list(1))
    await Promise.all([changes.become(list(2)), changes.become(list(3))])
    expect(commits.map(({ put }) => put)).toEqual([[{ id: 0, n: 2 }], [{ id: 0, n: 3 }]])
  })

  it.each<[string, (set: ReturnType<typeof setUp>) => RowObject[]]>([
    [
      'the very same list, changed in place',
      ({ changes }) => {
        const same = list(1, 2)
        changes.hold(same)
        return same
      },
    ],
    ['no list before it', () => list(1)],
    [
      'fields that are not there',
      ({ changes }) => {
        changes.hold(list(1))
        return [{ id: 0, other: 1 }]
      },
    ],
    [
      'rows on their way',
      ({ changes, state }) => {
        changes.hold(list(1))
        state.loading = true
        return list(2)
      },
    ],
    [
      'a source that takes no changes',
      ({ changes, model }) => {
        changes.hold(list(1))
        model.description.can = { ...ALL_ABILITIES, commit: { code: 'rows-computed' } }
        return list(2)
      },
    ],
  ])('is loaded anew with %s', async (_, prepare) => {
    const set = setUp()
    expect(await set.changes.become(prepare(set))).toBe(false)
    expect(set.commits).toEqual([])
  })

  it('is loaded anew where a value does not fit its column', async () => {
    const problems = [{ code: 'not-of-type' }] as unknown as Committed['problems']
    const { changes } = setUp({ ...FINE, problems })
    changes.hold(list(1))
    expect(await changes.become([{ id: 0, n: 'x' }])).toBe(false)
  })
})

describe('rows that change', () => {
  it('that are committed one after another before they could be shown are shown together', async () => {
    const { changes, told, commits } = setUp()
    await Promise.all([
      changes.commit({ put: [{ id: 9 }] }),
      changes.commit({ remove: [1] }),
      changes.commit({ put: [{ id: 8 }] }),
    ])
    expect(commits).toHaveLength(3)
    expect(told.filter(what => what === 'refresh')).toHaveLength(1)
    await changes.commit({ put: [{ id: 7 }] })
    expect(told.filter(what => what === 'refresh')).toHaveLength(2)
  })

  it('of themselves are shown, from the source that is followed and no other', async () => {
    const { changes, model, told, heard } = setUp()
    changes.follow(model.source)
    const [first] = heard
    first({ problem: 'a line was lost' })
    await vi.advanceTimersByTimeAsync(20)
    expect(told).toEqual(['a line was lost', 'refresh'])
    changes.follow(null)
    expect(heard).toEqual([])
  })

  it('that say there are none after all take away what is shown', async () => {
    const { changes, model, told, heard } = setUp()
    changes.follow(model.source)
    heard[0]({ problem: 'The quote is open.', lost: { code: 'unclosed-quote', line: 4 } })
    heard[0]({ problem: null, lost: null })
    await vi.advanceTimersByTimeAsync(20)
    expect(told).toEqual([
      expect.stringMatching(/^lost: .*line 4/),
      expect.stringMatching(/^lost: .*cancelled/),
    ])
  })

  it('cannot be committed before there are any', async () => {
    const { changes, model } = setUp()
    model.source = null
    await expect(changes.commit({ remove: [1] })).rejects.toThrow(RangeError)
    expect(await changes.keysOfPlace()).toBeNull()
  })

  it('wait and are counted while the view is held, but for what a reader does', async () => {
    const { changes, model, told, heard } = setUp({ ...FINE, updated: 3 })
    changes.follow(model.source)
    changes.pause(true)
    await changes.commit({ update: [{ id: 1 }] })
    heard[0]?.({ problem: null })
    await vi.advanceTimersByTimeAsync(100)
    expect([changes.paused, changes.waiting, told.length]).toEqual([true, 4, 0])
    await changes.commit({ update: [{ id: 1 }] }, true)
    expect(told).toEqual(['refresh'])
    changes.pause(false)
    await vi.advanceTimersByTimeAsync(100)
    expect([changes.paused, changes.waiting]).toEqual([false, 0])
    expect(told).toEqual(['refresh', 'refresh'])
    changes.pause(true)
    changes.pause(false)
    await vi.advanceTimersByTimeAsync(100)
    expect(told).toHaveLength(2)
  })

  it('leave nothing behind when the grid is closed', async () => {
    const { changes, model, told, heard } = setUp()
    changes.follow(model.source)
    await changes.commit({ remove: [1] })
    changes.close()
    await vi.advanceTimersByTimeAsync(5000)
    expect(told).toEqual(['gone 1', 'refresh'])
    expect(heard).toEqual([])
  })

  it('keep by key what is selected, at the top and focused', async () => {
    const { changes } = setUp()
    expect(await changes.keysOfPlace()).toEqual({
      selected: ['k1', 'k5'],
      open: ['k2'],
      top: { key: 'k5', into: 3 },
      focused: 'k1',
    })
  })
})
