import { expect, it } from 'vitest'
import type { HeadLine, Line, LineIndex, LineReader, RowId } from '@vast-meadow/engine'
import { asPageLine } from '../src/kernel/page-line.ts'
import { groupName, type BesideRows } from '../src/kernel/beside-lines.ts'
import { Pager } from '../src/kernel/pager.ts'

const all = (lineCount: number): LineReader => ({
  lineCount,
  line: (row): Line => ({ kind: 'row', level: 0, row: row as RowId }),
  groupsAt: () => [],
  text: () => '',
  value: () => null,
  want: () => {},
  onArrive: () => () => {},
})

it('a page has its first line and not the one behind its last', () => {
  const pager = new Pager()
  pager.take(all(95), 20, 1)
  expect(pager.span).toEqual({ page: 1, pages: 5, from: 20, to: 40 })
  expect([19, 20, 39, 40].map(line => pager.onPage(line as LineIndex))).toEqual([-1, 0, 19, -1])
  expect(pager.lines.line(0)).toMatchObject({ row: 20 })
})

it('the last page is as long as there are lines, and a page beyond it is the last', () => {
  const pager = new Pager()
  pager.take(all(95), 20, 99)
  expect(pager.span).toEqual({ page: 4, pages: 5, from: 80, to: 95 })
  expect(pager.lines.lineCount).toBe(15)
  pager.take(all(100), 20, 5)
  expect([pager.span.page, pager.lines.lineCount]).toEqual([4, 20])
})

it('without pages all lines are on one, whatever page was looked at', () => {
  const pager = new Pager()
  const lines = all(95)
  pager.take(lines, null, 3)
  expect(pager.lines).toBe(lines)
  expect([pager.span.page, pager.onPage(94 as LineIndex), pager.onPage(95 as LineIndex)]).toEqual([0, 94, -1])
  pager.clear()
  expect([pager.lines.lineCount, pager.onPage(0 as LineIndex)]).toEqual([0, -1])
})

it('a page that begins within groups repeats their heads, and counts on behind them', () => {
  const head = (level: number, line: number, end: number): HeadLine => ({
    kind: 'head',
    level,
    group: 0,
    column: 'c',
    path: [level],
    value: level,
    shown: '',
    rest: false,
    count: 1,
    groups: 0,
    open: true,
    line: line as LineIndex,
    end: end as LineIndex,
    nth: 1,
    of: 1,
  })
  const groups = [head(0, 3, 60), head(1, 25, 50)]
  const around = (line: number): HeadLine[] => groups.filter(group => line >= group.line && line < group.end)
  const lines: LineReader = {
    ...all(95),
    line: at => groups.find(({ line }) => line === at) ?? { kind: 'row', level: 2, row: at as RowId },
    groupsAt: around,
  }
  const pager = new Pager()
  pager.take(lines, 20, 2)
  const page = pager.lines
  expect([pager.above, page.lineCount]).toEqual([2, 22])
  expect([0, 1, 2].map(line => page.line(line))).toMatchObject([
    { kind: 'head', level: 0, line: 0, end: 22 },
    { kind: 'head', level: 1, line: 1, end: 12 },
    { kind: 'row', row: 40 },
  ])
  expect(page.groupsAt?.(1)).toMatchObject([{ line: 0 }, { line: 1, end: 12 }])
  expect(page.groupsAt?.(13)).toMatchObject([{ line: 0 }])
  expect([40, 59, 60].map(line => pager.onPage(line as LineIndex))).toEqual([2, 21, -1])
  expect([0, 1, 2, 21].map(line => pager.ofView(asPageLine(line)))).toEqual([40, 40, 40, 59])
  // A head that stands on the page itself is not repeated.
  pager.take(lines, 25, 1)
  expect([pager.above, pager.lines.line(1)]).toMatchObject([1, { kind: 'head', level: 1, line: 1, end: 26 }])
})

it('new rows stand at the head, at the foot, or below the heads of their groups, line by line as plainly listed', () => {
  const head = (at: number, end: number, name: string): HeadLine => ({
    kind: 'head',
    level: 0,
    group: 0,
    column: 'c',
    path: [name],
    value: name,
    shown: name,
    rest: false,
    count: 1,
    groups: 0,
    open: end > at + 1,
    line: at as LineIndex,
    end: end as LineIndex,
    nth: 1,
    of: 1,
  })
  // Two open groups with a closed one between.
  const heads = [head(0, 4, 'a'), head(4, 5, 'b'), head(5, 9, 'c')]
  const lines: LineReader = {
    ...all(9),
    line: at => heads.find(({ line }) => line === at) ?? { kind: 'row', level: 1, row: at as RowId },
    groupsAt: at => heads.filter(({ line, end }) => at >= line && at < end),
  }
  const groups = new Map(heads.map(({ path, line }) => [groupName(path), line]))
  for (const at of ['head', 'foot'] as const)
    for (const places of [[], [null], ['a'], ['b'], ['c', 'a', 'a'], [null, 'b', 'c', null], ['gone']])
      for (const opened of [[], [2, 7]]) {
        const rows = places.map((_, nth) => (-2 - nth) as RowId)
        const beside: BesideRows = {
          at,
          rows,
          groupOf: row => {
            const name = places[-2 - Number(row)]
            return name === null || name === undefined ? null : [name]
          },
          text: () => 'new',
          value: () => 'new',
        }
        const open = opened.map(line => ({ line: line as LineIndex, row: line as RowId }))
        const pager = new Pager()
        pager.take(lines, null, 0, open, beside, groups)
        // Plainly: what stands where, one after another.
        const plain: { text: string; view: number }[] = []
        const placed = (name: string | null): { text: string; view: number }[] =>
          rows
            .filter((_, nth) => (places[nth] === 'gone' ? null : places[nth]) === name)
            .map(row => ({ text: `new ${row}`, view: -1 }))
        if (at === 'head') plain.push(...placed(null))
        for (let view = 0; view < 9; view++) {
          const here = heads.find(({ line }) => line === view)
          plain.push({ text: here ? `head ${here.shown}` : `row ${view}`, view })
          if (here) plain.push(...placed(here.shown))
          if (opened.includes(view)) plain.push({ text: `detail ${view}`, view })
        }
        if (at === 'foot') plain.push(...placed(null))
        const told = Array.from({ length: pager.lines.lineCount }, (_, line) => {
          const shown = pager.lines.line(line)
          const text =
            shown?.kind === 'head'
              ? `head ${shown.shown}`
              : shown && 'row' in shown
                ? `${shown.kind} ${shown.row}`
                : ''
          return { text, view: pager.ofView(asPageLine(line)) }
        })
        expect(told).toEqual(plain)
        for (let view = 0; view < 9; view++)
          expect(pager.onPage(view as LineIndex)).toBe(plain.findIndex(one => one.view === view))
        expect(pager.details.map(({ line }) => plain[line]?.text)).toEqual(
          opened.map(view => `detail ${view}`),
        )
        for (const [line, { text }] of plain.entries()) {
          const around = pager.lines.groupsAt?.(line) ?? []
          const name = text.startsWith('new') ? places[-2 - Number(text.slice(4))] : undefined
          const view = plain[line]!.view
          const wanted =
            view < 0
              ? name === 'gone'
                ? []
                : [name].filter(Boolean)
              : [view < 4 ? 'a' : view < 5 ? 'b' : 'c']
          expect(around.map(({ shown }) => shown)).toEqual(wanted)
          for (const { shown, line: from, end } of around) {
            expect(plain[from]?.text).toBe(`head ${shown}`)
            expect(line >= from && line < end).toBe(true)
          }
          const before = plain.slice(0, line).filter(one => one.view >= 0)
          expect(pager.endOfView(asPageLine(line))).toBe((before.at(-1)?.view ?? -1) + 1)
        }
      }
})
