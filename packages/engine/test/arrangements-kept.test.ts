import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { arrangementFor } from '../src/definition/arrangement.ts'
import { ArrangementHistory } from '../src/definition/arrangement-history.ts'
import {
  arrangementFromLink,
  arrangementToLink,
  MOST_LINK_CHARACTERS,
} from '../src/definition/arrangement-link.ts'
import type { Arrangement } from '../src/definition/arrangement-schema.ts'
import { changeBack, differences } from '../src/definition/differences.ts'
import { mergeArrangement } from '../src/definition/merge-arrangement.ts'
import { kindsFor } from '../src/condition/condition.ts'
import { bucketFits } from '../src/group/bucket.ts'
import { levelOf } from '../src/group/level.ts'
import { summaryFits } from '../src/summary/summary.ts'
import { differenceText } from '../src/words/difference-text.ts'
import { leftOutText, linkProblemText } from '../src/words/left-out-text.ts'
import {
  definitionOf,
  NAMES,
  someDefinition,
  someFields,
  somethingArranged,
} from './support/random-arrangement.ts'
import { runs } from './support/runs.ts'

const everyName = definitionOf({ columns: NAMES.map(key => ({ key, title: key.toUpperCase() })) })
const whole = somethingArranged.map(given => arrangementFor(everyName, given))
const speaker = {
  titleOf: (key: string) => key.toUpperCase(),
  condition: () => 'at least 3',
  level: ({ column }: { column: string }) => column.toUpperCase(),
  summary: () => 'sum',
}
const said = (from: Arrangement, to: Arrangement): string[] =>
  differences(from, to).map(one => differenceText(one, speaker))
/** The page that is looked at is nothing arranged; nor is which groups are open, while there are none. */
const arranged = (one: Arrangement): object => ({
  ...one,
  page: 0,
  hidden: [...one.hidden].sort(),
  open: one.groups.length > 0 ? one.open : null,
})

describe('what differs between two arrangements', () => {
  it('is nothing between equal ones, and each point can be put back until nothing is left', () => {
    fc.assert(
      fc.property(whole, whole, (from, to) => {
        expect(differences(from, { ...from, page: from.page + 1 })).toEqual([])
        let now = to
        for (let rounds = 0; differences(from, now).length > 0; rounds++) {
          expect(rounds).toBeLessThan(60)
          const [first] = differences(from, now)
          const before = differences(from, now).length
          now = { ...now, ...first.back(now) }
          // With the groups, what is open of them may come to be told.
          expect(differences(from, now).length).toBeLessThanOrEqual(before)
        }
        expect(arranged(now)).toEqual(arranged(from))
      }),
      runs(500),
    )
  })

  it('is told in sentences', () => {
    const from = arrangementFor(everyName)
    const to = arrangementFor(everyName, {
      columns: ['b', 'c', 'a', 'd', 'e', 'f', 'constructor', 'toString'],
      hidden: ['c'],
      pinnedStart: ['b', 'd'],
      pinnedEnd: ['f'],
      widths: { a: 240 },
      order: [{ column: 'a', direction: 'descending' }],
      conditions: { a: { match: 'all', parts: [{ kind: 'at-least', value: 3 }] } },
      where: 'a > 2.0',
      search: 'ings',
      groups: [levelOf('e')],
      open: { levels: 0, except: [] },
      summaries: { a: 'sum' },
      pageSize: 25,
    })
    expect(said(from, to)).toEqual([
      'A stands elsewhere',
      'C is hidden',
      'B is pinned at the start',
      'D is pinned at the start',
      'F is pinned at the end',
      'A is 240 px wide',
      'Ordered by A descending',
      'Only rows for which a > 2.0 holds',
      'Searched for “ings”',
      'Grouped by E',
      'Other groups are open',
      '25 lines on a page',
      'Only rows with A at least 3',
      'Summed up: sum of A',
    ])
    expect(said(to, from)).toEqual([
      'A stands elsewhere',
      'C is shown',
      'B is not pinned',
      'D is not pinned',
      'F is not pinned',
      'A is as wide as at first',
      'Not ordered',
      'No expression that rows must meet',
      'Not searched',
      'Not grouped',
      'As many lines on a page as at first',
      'No condition on A',
      'Nothing is summed up of A',
    ])
  })

  it('names many columns together', () => {
    const from = arrangementFor(everyName)
    expect(said(from, { ...from, hidden: NAMES.slice(0, 7) })).toEqual(['7 columns are hidden'])
  })

  it('tells the fewest columns that moved', () => {
    const shuffled = fc.shuffledSubarray<string>([...NAMES], { minLength: NAMES.length })
    const rising = (list: readonly string[], of: readonly string[]): boolean =>
      list.every((key, i) => i === 0 || of.indexOf(list[i - 1]) < of.indexOf(key))
    const subsets = (list: readonly string[]): string[][] =>
      list.reduce<string[][]>((all, key) => [...all, ...all.map(one => [...one, key])], [[]])
    fc.assert(
      fc.property(shuffled, shuffled, (before, after) => {
        const from = arrangementFor(everyName, { columns: before })
        const to = arrangementFor(everyName, { columns: after })
        const told = differences(from, to).flatMap(one => (one.code === 'moved' ? one.columns : []))
        const longest = Math.max(...subsets(after).map(one => (rising(one, before) ? one.length : 0)))
        expect(told).toHaveLength(NAMES.length - longest)
        expect(
          rising(
            after.filter(key => !told.includes(key)),
            before,
          ),
        ).toBe(true)
      }),
      runs(100),
    )
  })
})

describe('the history of a reader', () => {
  it('walks back to the start and forth to the end, act by act', () => {
    fc.assert(
      fc.property(fc.array(whole, { minLength: 2, maxLength: 8 }), states => {
        const history = new ArrangementHistory()
        states.slice(1).forEach((state, i) => history.note(states[i], state, i * 5000))
        // Acts after which nothing is arranged otherwise are none.
        const acts = states.filter((state, i) => i === 0 || differences(states[i - 1], state).length > 0)
        let now = states[states.length - 1]
        for (const wanted of acts.slice(0, -1).reverse()) {
          expect(history.undoable).not.toBeNull()
          now = { ...now, ...history.undo(now) }
          expect(differences(now, wanted)).toEqual([])
        }
        expect([history.undoable, history.undo(now)]).toEqual([null, null])
        for (const wanted of acts.slice(1)) {
          now = { ...now, ...history.redo(now) }
          expect(differences(now, wanted)).toEqual([])
        }
        expect(history.redoable).toBeNull()
      }),
      runs(300),
    )
  })

  it('leaves what came of other columns meanwhile', () => {
    const start = arrangementFor(everyName)
    const wide = { ...start, widths: { a: 200 } }
    const later = { ...wide, widths: { a: 200, b: 90 }, conditions: { b: levelLike } }
    expect(changeBack(start, wide, later)).toEqual({ widths: { b: 90 } })
    expect(
      changeBack(
        start,
        { ...start, conditions: { a: levelLike } },
        { ...later, conditions: { a: levelLike, b: levelLike } },
      ),
    ).toEqual({
      conditions: { b: levelLike },
    })
  })

  it('counts what is typed and dragged as one act, and what is typed and deleted again as none', () => {
    const history = new ArrangementHistory()
    const [none, m, me, other] = ['', 'm', 'me', 'x'].map(search => arrangementFor(everyName, { search }))
    history.note(none, m, 1000)
    history.note(m, me, 1400)
    history.note(me, other, 9000)
    expect(history.undo(other)).toEqual({ search: 'me' })
    expect(history.undo(me)).toEqual({ search: '' })
    expect(history.undoable).toBeNull()
    history.note(none, m, 20_000)
    history.note(m, none, 20_100)
    expect(history.undoable).toBeNull()
    // Orders are clicked: two of them are two acts, however quick they come.
    const [one, two] = ['a', 'b'].map(column =>
      arrangementFor(everyName, { order: [{ column, direction: 'ascending' }] }),
    )
    history.note(none, one, 30_000)
    history.note(one, two, 30_050)
    expect(history.undo(two)).toEqual({ order: [{ column: 'a', direction: 'ascending' }] })
    // Something new ends what could be done again.
    history.note(one, { ...one, hidden: ['c'] }, 40_000)
    expect(history.redoable).toBeNull()
  })
})

const levelLike = { match: 'all' as const, parts: [{ kind: 'missing' as const }] }

describe('a kept arrangement under a changed definition', () => {
  it('fails nowhere, holds nothing that is not allowed, and loses nothing that still applies', () => {
    fc.assert(
      fc.property(someDefinition, somethingArranged, someFields, (definition, kept, fields) => {
        const { arrangement, leftOut } = mergeArrangement(definition, kept, fields)
        const start = arrangementFor(definition)
        const columnOf = (key: string) => definition.columns.find(column => column.key === key)
        const typeOf = (key: string) => fields.find(field => field.key === key)?.type ?? 'text'
        const told = (part: keyof Arrangement): boolean => leftOut.some(one => one.part === part)
        // It is an arrangement of these columns, and merging it again changes nothing and tells of nothing.
        expect(arrangementFor(definition, arrangement)).toEqual(arrangement)
        const renamed = definition.columns.some(({ was = [] }) => was.length > 0)
        if (!renamed)
          expect(mergeArrangement(definition, arrangement, fields).arrangement).toEqual(arrangement)

        for (const { column } of arrangement.order)
          expect(columnOf(column)?.orderable === true || start.order.some(key => key.column === column)).toBe(
            true,
          )
        if (!definition.severalKeys && arrangement.order.length > 1)
          expect(arrangement.order).toEqual(start.order)
        for (const [key, condition] of Object.entries(arrangement.conditions))
          if (!columnOf(key)?.askable) expect(condition).toEqual(start.conditions[key])
          else if (JSON.stringify(condition) !== JSON.stringify(start.conditions[key]))
            for (const { kind } of condition.parts)
              expect(kind === 'own' || kindsFor(typeOf(key)).includes(kind)).toBe(true)
        if (kept.groups)
          for (const { column, bucket } of arrangement.groups) {
            const allowed = definition.groupable && columnOf(column)?.groupable
            expect(allowed || start.groups.some(level => level.column === column)).toBe(true)
            const begun = start.groups.some(level => level.column === column)
            expect(begun || bucketFits(bucket, typeOf(column))).toBe(true)
          }
        if (kept.summaries)
          for (const [key, summary] of Object.entries(arrangement.summaries))
            expect(
              JSON.stringify(summary) === JSON.stringify(start.summaries[key]) ||
                summaryFits(summary, typeOf(key)),
            ).toBe(true)
        if (!definition.movable) {
          expect(arrangement.columns).toEqual(start.columns)
          expect([...arrangement.pinnedStart].sort()).toEqual([...start.pinnedStart].sort())
        }
        if (!definition.searchable) expect(arrangement.search).toBe(start.search)

        // What is not as it was kept is told of, part by part.
        const present = (key: string): boolean => columnOf(key) !== undefined
        if (!renamed) {
          if (kept.order && !told('order'))
            expect(arrangement.order).toEqual(kept.order.filter(({ column }) => present(column)))
          if (kept.conditions && !told('conditions'))
            expect(
              Object.keys(arrangement.conditions)
                .filter(key => columnOf(key)?.askable)
                .sort(),
            ).toEqual(
              Object.keys(kept.conditions)
                .filter(key => columnOf(key)?.askable)
                .sort(),
            )
          if (kept.groups && !told('groups'))
            expect(arrangement.groups).toEqual(kept.groups.filter(({ column }) => present(column)))
          if (kept.summaries && !told('summaries')) expect(arrangement.summaries).toEqual(kept.summaries)
          if (kept.hidden) expect(arrangement.hidden).toEqual(kept.hidden.filter(present))
          const free = definition.movable && definition.columns.every(({ movable }) => movable)
          if (kept.columns && free && !told('columns'))
            expect(arrangement.columns.filter(key => kept.columns?.includes(key))).toEqual(
              kept.columns.filter(present),
            )
        }
        for (const one of leftOut) expect(leftOutText(one, key => key)).toMatch(/was left out: .+\.$/)
      }),
      runs(1000),
    )
  })

  it('goes along with columns that were renamed', () => {
    const kept = arrangementFor(everyName, {
      columns: ['c', 'a', 'b', 'd', 'e', 'f', 'constructor', 'toString'],
      widths: { a: 200 },
      hidden: ['b'],
      pinnedStart: ['a'],
      order: [{ column: 'a', direction: 'descending' }],
      conditions: { b: levelLike },
      groups: [levelOf('a', { order: { by: { column: 'b', summary: 'count' } } })],
      summaries: { b: 'count' },
    })
    const later = definitionOf({
      columns: [
        { key: 'first', title: 'First', was: ['zero', 'a'] },
        { key: 'second', title: 'Second', was: ['b'] },
        { key: 'c', title: 'C', was: ['d'] },
      ],
    })
    const { arrangement, leftOut } = mergeArrangement(later, kept, null)
    expect(leftOut).toEqual([])
    expect(arrangement).toMatchObject({
      columns: ['c', 'first', 'second'],
      widths: { first: 200 },
      hidden: ['second'],
      pinnedStart: ['first'],
      order: [{ column: 'first', direction: 'descending' }],
      conditions: { second: levelLike },
      groups: [levelOf('first', { order: { by: { column: 'second', summary: 'count' } } })],
      summaries: { second: 'count' },
    })
  })

  it('tells of each thing that it left out, and why', () => {
    const kept = arrangementFor(everyName, {
      order: [
        { column: 'a', direction: 'descending' },
        { column: 'b', direction: 'descending' },
      ],
      conditions: {
        c: { match: 'all', parts: [{ kind: 'contains', text: 'x', exact: false }] },
        d: levelLike,
      },
      groups: [levelOf('e', { bucket: { by: 'letters', count: 1 } }), levelOf('f')],
      summaries: { c: 'distinct' },
      search: 'ings',
      pageSize: 30,
    })
    const later = definitionOf({
      searchable: false,
      severalKeys: false,
      pages: { size: 20, sizes: [20] },
      columns: [
        { key: 'a', title: 'Site' },
        { key: 'b', title: 'Plot' },
        { key: 'c', title: 'Cover', summaries: ['sum'] },
        { key: 'd', title: 'State', askable: false },
        { key: 'e', title: 'Seen on' },
      ],
    })
    const types = { a: 'text', b: 'text', c: 'number', d: 'text', e: 'date' } as const
    const fields = Object.entries(types).map(([key, type]) => ({ key, type }))
    const { arrangement, leftOut } = mergeArrangement(later, kept, fields)
    const titleOf = (key: string): string => later.columns.find(column => column.key === key)?.title ?? key
    expect(leftOut.map(one => leftOutText(one, titleOf))).toEqual([
      'Groups of “f” was left out: there is no such column any more.',
      'Order of “Plot” was left out: rows are ordered by one column at a time now.',
      'Condition of “Cover” was left out: what it holds is of another type now.',
      'Condition of “State” was left out: it cannot be asked any more, or only as the grid starts.',
      'Search was left out: the grid cannot be searched any more.',
      'Groups of “Seen on” was left out: what it holds is of another type now.',
      'Summary of “Cover” was left out: that summary is not offered any more.',
      'Page size was left out: there is no such page size any more.',
    ])
    expect(arrangement).toMatchObject({
      order: [{ column: 'a', direction: 'descending' }],
      conditions: {},
      search: '',
      groups: [levelOf('e')],
      summaries: {},
      pageSize: null,
    })
  })

  it('keeps columns in their place that stay where they are', () => {
    const later = definitionOf({
      columns: ['a', 'b', 'c', 'd'].map(key => ({ key, title: key, movable: key !== 'b' })),
      start: { pinnedStart: ['b'] },
    })
    const { arrangement, leftOut } = mergeArrangement(
      later,
      { columns: ['d', 'c', 'b', 'a'], pinnedStart: [], pinnedEnd: ['b', 'a'] },
      null,
    )
    expect(arrangement).toMatchObject({ columns: ['d', 'b', 'c', 'a'], pinnedStart: ['b'], pinnedEnd: ['a'] })
    expect(leftOut.map(({ code, column }) => [code, column])).toEqual([
      ['not-movable', 'b'],
      ['not-movable', 'b'],
    ])
  })
})

describe('an arrangement in a link', () => {
  it('comes back as it was, where the start is the same', async () => {
    await fc.assert(
      fc.asyncProperty(whole, whole, async (start, arrangement) => {
        const link = await arrangementToLink(arrangement, start)
        expect(link).toMatch(/^a1\.[\w-]+$/)
        expect(encodeURIComponent(link)).toBe(link)
        const read = await arrangementFromLink(link)
        expect(read.ok && { ...start, ...read.arrangement }).toEqual(arrangement)
      }),
      runs(100),
    )
  })

  it('is short: what is as at the start is not said', async () => {
    const start = arrangementFor(everyName)
    expect(await arrangementToLink(start, start)).toBe('a1.q64FAA')
    const ordered = { ...start, order: [{ column: 'a', direction: 'descending' as const }] }
    expect((await arrangementToLink(ordered, start)).length).toBeLessThan(80)
    // A thousand columns, one of which was put elsewhere.
    const many = definitionOf({
      columns: Array.from({ length: 1000 }, (_, i) => ({ key: `probe_${i}`, title: `Probe ${i}` })),
    })
    const wide = arrangementFor(many)
    const moved = { ...wide, columns: [...wide.columns.slice(1), wide.columns[0]] }
    expect((await arrangementToLink(moved, wide)).length).toBeLessThan(5000)
  })

  it('refuses what is none, with the reason, whatever it is', async () => {
    const packed = async (json: unknown): Promise<string> => {
      const stream = new Blob([JSON.stringify(json)])
        .stream()
        .pipeThrough(new CompressionStream('deflate-raw'))
      return `a1.${Buffer.from(await new Response(stream).arrayBuffer()).toString('base64url')}`
    }
    const problem = async (link: string): Promise<unknown> => {
      const read = await arrangementFromLink(link)
      if (read.ok) return read.arrangement
      expect(linkProblemText(read.problem)).toMatch(/^(The arrangement in|What) this link .+\.$/)
      return read.problem.code
    }
    expect(await problem('')).toBe('link-damaged')
    expect(await problem('a1.')).toBe('link-damaged')
    expect(await problem('a1.AAAA')).toBe('link-damaged')
    expect(await problem('a1.<script>')).toBe('link-damaged')
    expect(await problem('a2.q1YqBAA')).toBe('link-newer')
    expect(await problem(`a1.${'A'.repeat(MOST_LINK_CHARACTERS)}`)).toBe('link-too-long')
    expect(await problem(await packed({ columns: 'x'.repeat(3_000_000) }))).toBe('link-too-long')
    expect(await problem(await packed({ widths: { a: 'wide' } }))).toBe('link-no-arrangement')
    expect(await problem(await packed({ nonsense: 1 }))).toBe('link-no-arrangement')
    expect(await problem(await packed([]))).toBe('link-no-arrangement')
    expect(await problem(await packed({ search: 'x' }))).toEqual({ search: 'x' })
    const whole = await packed({ search: 'meadow', hidden: ['a', 'b'] })
    for (let end = 3; end < whole.length; end += 3)
      expect(await problem(whole.slice(0, end))).toBe('link-damaged')
    await fc.assert(
      fc.asyncProperty(fc.base64String(), async text => {
        await problem(`a1.${text.replaceAll('+', '-').replaceAll('/', '_').replaceAll('=', '')}`)
      }),
      runs(200),
    )
  })
})
