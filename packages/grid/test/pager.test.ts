import { expect, it } from 'vitest'
import type { Line, LineIndex, LineReader, RowId } from '@vast-meadow/engine'
import { Pager } from '../src/kernel/pager.ts'

const all = (lineCount: number): LineReader => ({
  lineCount,
  line: (row): Line => ({ kind: 'row', level: 0, row: row as RowId }),
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
