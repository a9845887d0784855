import { expect, it } from 'vitest'
import type { HeadLine, Line, LineIndex, LineReader, RowId } from '@vast-meadow/engine'
import { asPageLine } from '../src/kernel/page-line.ts'
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
