import fc from 'fast-check'
import { expect, it } from 'vitest'
import type { HeadLine, Line, LineIndex, LineReader, RowId } from '@vast-meadow/engine'
import { asPageLine } from '../src/kernel/page-line.ts'
import { Pager, type Opened } from '../src/kernel/pager.ts'

/** Groups of five rows each below a head: the lines of a view, written out. */
const GROUP = 6
const isHead = (line: number): boolean => line % GROUP === 0
const headOf = (line: number, lineCount: number): HeadLine => {
  const group = Math.floor(line / GROUP)
  return {
    kind: 'head',
    level: 0,
    group,
    column: 'c',
    path: [group],
    value: group,
    shown: String(group),
    rest: false,
    count: GROUP - 1,
    groups: 0,
    open: true,
    line: (group * GROUP) as LineIndex,
    end: Math.min((group + 1) * GROUP, lineCount) as LineIndex,
    nth: group + 1,
    of: 1,
  }
}
const viewOf = (lineCount: number, wanted: [number, number][]): LineReader => ({
  lineCount,
  line: (line): Line | undefined =>
    isHead(line) ? headOf(line, lineCount) : { kind: 'row', level: 1, row: line as RowId },
  groupsAt: line => [headOf(line, lineCount)],
  text: (line, row) => `${line} ${Number(row)}`,
  value: line => line,
  want: (from, to) => void wanted.push([from, to]),
  onArrive: () => () => {},
})

it('a page with open rows is its lines, and below each open row one more', () => {
  fc.assert(
    fc.property(
      fc.record({
        lineCount: fc.integer({ min: 0, max: 60 }),
        size: fc.option(fc.integer({ min: 1, max: 25 })),
        page: fc.nat(4),
        open: fc.uniqueArray(fc.nat(59), { maxLength: 30 }),
      }),
      ({ lineCount, size, page, open }) => {
        const rows = open.filter(line => line < lineCount && !isHead(line)).sort((a, b) => a - b)
        const opened: Opened[] = rows.map(line => ({ line: line as LineIndex, row: line as RowId }))
        const wanted: [number, number][] = []
        const pager = new Pager()
        pager.take(viewOf(lineCount, wanted), size, page, opened)
        const { from, to } = pager.span
        // What is not on the page, but at its top again.
        const above = size !== null && from < to && !isHead(from) ? [Math.floor(from / GROUP) * GROUP] : []
        const plain: { kind: string; view: number }[] = []
        for (const view of above) plain.push({ kind: 'head', view })
        for (let view = from; view < to; view++) {
          plain.push({ kind: isHead(view) ? 'head' : 'row', view })
          if (rows.includes(view)) plain.push({ kind: 'detail', view })
        }
        const { lines } = pager
        expect(lines.lineCount).toBe(plain.length)
        expect(pager.details.map(({ line, row }) => [line, row])).toEqual(
          plain.flatMap(({ kind, view }, line) => (kind === 'detail' ? [[line, view]] : [])),
        )
        expect(pager.detailsBefore).toBe(rows.filter(line => line < from).length)
        plain.forEach(({ kind, view }, line) => {
          const at = lines.line(line)
          expect(at?.kind).toBe(kind)
          if (at?.kind === 'row' || at?.kind === 'detail') {
            expect(at.row).toBe(view)
            expect(lines.text(line, at.row, 'c')).toBe(`${view} ${view}`)
            expect(pager.ofView(asPageLine(line))).toBe(view)
            if (kind === 'row') expect(pager.onPage(view as LineIndex)).toBe(line)
          }
          const end = [...plain.slice(0, line + 1)].reverse().find(one => one.view >= from)
          if (end && line >= above.length) expect(pager.endOfView(asPageLine(line + 1))).toBe(end.view + 1)
          // The head of the group around it, and the line past the group's last.
          const [head] = lines.groupsAt?.(line) ?? []
          const own = Math.floor(view / GROUP)
          expect(head?.line).toBe(plain.findIndex(one => Math.floor(one.view / GROUP) === own))
          const last = plain.findLastIndex(one => Math.floor(one.view / GROUP) === own)
          if (!size) expect(head?.end).toBe(last + 1)
        })
        if (plain.length > 0 && above.length === 0) {
          lines.want(0, plain.length, ['c'])
          expect(wanted.at(-1)).toEqual([from, to])
        }
      },
    ),
    { numRuns: 300 },
  )
})
