import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { HeadLine } from '../src/flow/line.ts'
import type { LengthMap } from '../src/question/length-map.ts'
import { RowSet } from '../src/selection/row-set.ts'
import { PageSource } from '../src/source/page-source.ts'
import type { RowSource, View } from '../src/source/row-source.ts'
import { asRowId, rowsIn, type RowId } from '../src/table/row-id.ts'
import { fold, searchWords } from '../src/search/fold.ts'
import { COLUMNS, PLAIN, randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

const nothing = {
  selected: new RowSet().packed(),
  changed: [],
  rules: [],
  course: null,
  search: '',
  searchColumns: [],
}
async function sourceOf(rows: Parameters<typeof tableOf>[0]): Promise<RowSource> {
  const source = new PageSource({ kind: 'table', table: tableOf(rows) }, [], {}, {})
  await source.open()
  return source
}
const setOf = (rows: Iterable<RowId>): RowSet => {
  const set = new RowSet()
  for (const row of rows) set.add(row)
  return set
}

/** Line by line: the rows that it stands for, and the level of the head that it is. */
async function everyLine(source: RowSource, view: View): Promise<{ rows: RowId[]; level: number | null }[]> {
  const lines = []
  for (let index = 0; index < view.lines.lineCount; index++) {
    const line = view.lines.line(index)
    if (line?.kind === 'row') lines.push({ rows: [line.row], level: null })
    else if (line?.kind === 'head')
      lines.push({ rows: await closedRows(source, view, line), level: line.level })
    else lines.push({ rows: [], level: null })
  }
  return lines
}

async function closedRows(source: RowSource, view: View, { open, path }: HeadLine): Promise<RowId[]> {
  return open ? [] : [...rowsIn(await source.ask('rowsOfGroup', { view: view.id, path }))]
}

describe('the length map', () => {
  it('tells where rows and heads lie, as line by line, at any resolution', async () => {
    await fc.assert(
      fc.asyncProperty(
        randomRows,
        randomRequest,
        fc.integer({ min: 1, max: 40 }),
        fc.array(fc.nat(60), { maxLength: 20 }),
        fc.constantFrom(...COLUMNS),
        async (rows, request, wanted, picked, course) => {
          const source = await sourceOf(rows)
          const view = await source.view(request)
          const selected = setOf(picked.filter(row => row < rows.length).map(asRowId))
          const map = await source.ask('lengthMap', {
            ...nothing,
            view: view.id,
            steps: wanted,
            selected: selected.packed(),
            rules: ['seen', 'no such column'],
            course,
          })
          const all = await everyLine(source, view)
          const { lineCount: lines } = view.lines
          const steps = Math.min(wanted, lines)
          expect([map.lines, map.steps]).toEqual([lines, steps])
          const inStep = (step: number) =>
            all.filter((_, line) => Math.floor((line * steps) / lines) === step)
          const share = (step: number, holds: (row: RowId) => boolean): number => {
            const rows = inStep(step).flatMap(({ rows }) => rows)
            return Math.ceil((255 * rows.filter(holds).length) / Math.max(1, rows.length))
          }
          const range = Array.from({ length: steps }, (_, step) => step)
          expect([...map.selected]).toEqual(range.map(step => share(step, row => selected.has(row))))
          const seen = (row: RowId): boolean => view.lines.value(0, row, 'seen') === true
          expect([...map.marked[0]]).toEqual(range.map(step => share(step, seen)))
          expect([...map.marked[1]]).toEqual(range.map(() => 0))
          expect([...map.groups]).toEqual(
            range.map(step => {
              const levels = inStep(step).flatMap(({ level }) => (level === null ? [] : [level + 1]))
              return levels.length === 0 ? 0 : Math.min(...levels)
            }),
          )
          expect([...map.changed]).toEqual(range.map(() => 0))
          courseIsThat(map, view, all, course)
          source.close()
        },
      ),
      runs(150),
    )
  })

  function courseIsThat(
    map: LengthMap,
    view: View,
    all: { rows: RowId[]; level: number | null }[],
    column: string,
  ): void {
    const type = { count: true, cover: true, mass: true, day: true }[column as 'count']
    if (!type || map.course === null) return
    const values = Array.from({ length: map.steps }, (_, step) => {
      const line = Math.ceil((step * map.lines) / map.steps)
      const { rows, level } = all[line]
      const value = level === null && rows.length === 1 ? view.lines.value(line, rows[0], column) : null
      return value === null || value === undefined ? NaN : Number(value)
    })
    const met = values.filter(value => !Number.isNaN(value))
    const [least, most] = [Math.min(...met), Math.max(...met)]
    values.forEach((value, step) => {
      const wanted = Number.isNaN(value) ? NaN : most > least ? (value - least) / (most - least) : 0
      if (Number.isNaN(wanted)) expect(map.course?.[step]).toBeNaN()
      else expect(map.course?.[step]).toBeCloseTo(wanted, 5)
    })
  }

  it('tells where most searched words stand', async () => {
    const rows = Array.from({ length: 80 }, (_, id) => ({
      id,
      a: id < 40 ? 'élan and more' : 'elan',
      b: id < 20 ? 'Élan' : 'other',
    }))
    const source = await sourceOf(rows)
    const view = await source.view({ ...PLAIN, search: 'elan', searchColumns: ['a', 'b'] })
    const args = { ...nothing, view: view.id, steps: 20, search: 'elan', searchColumns: ['a', 'b'] }
    const { matches } = await source.ask('lengthMap', args)
    const word = searchWords('elan')[0]
    const found = (row: (typeof rows)[number]): number =>
      [row.a, row.b].filter(text => fold(text).includes(word)).length
    expect([...(matches ?? [])]).toEqual(
      Array.from({ length: 20 }, (_, step) => {
        const there = rows.slice(step * 4, step * 4 + 4).reduce((sum, row) => sum + found(row), 0)
        return Math.ceil((255 * there) / 8)
      }),
    )
    expect((await source.ask('lengthMap', { ...args, search: '' })).matches).toBeNull()
  })

  it('tells of what is changed and not saved, and of one row in a million', async () => {
    const rows = Array.from({ length: 2000 }, (_, id) => ({ id, a: `a ${id}` }))
    const source = await sourceOf(rows)
    const view = await source.view(PLAIN)
    const one = setOf([asRowId(1999)])
    const map = await source.ask('lengthMap', {
      ...nothing,
      view: view.id,
      steps: 100,
      selected: one.packed(),
      changed: [asRowId(1500)],
    })
    expect(map.changed.findIndex(Boolean)).toBe(75)
    expect(map.changed.filter(Boolean)).toHaveLength(1)
    expect(map.selected[99]).toBeGreaterThan(0)
    expect(map.selected.slice(0, 99).some(Boolean)).toBe(false)
  })

  it('of no lines has no steps', async () => {
    const source = await sourceOf([])
    const view = await source.view(PLAIN)
    const map = await source.ask('lengthMap', { ...nothing, view: view.id, steps: 100 })
    expect(map).toMatchObject({ lines: 0, steps: 0 })
  })
})

describe('a set of rows', () => {
  it('is the same after it was packed', () => {
    fc.assert(
      fc.property(fc.array(fc.oneof(fc.nat(100_000), fc.string())), ids => {
        const set = setOf(ids.map(asRowId))
        const again = RowSet.of(structuredClone(set.packed()))
        expect([...again]).toEqual([...set])
        expect(again.size).toBe(set.size)
      }),
      runs(100),
    )
  })
})
