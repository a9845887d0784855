import { levelOf } from '../src/group/level.ts'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { arrangementFor, orderAfterClick, shownColumns } from '../src/definition/arrangement.ts'
import type { Arrangement } from '../src/definition/arrangement-schema.ts'
import { ArrangementStore, inverse } from '../src/definition/arrangement-store.ts'
import { definitionJsonSchema, readDefinition, type Definition } from '../src/definition/definition.ts'
import { defineFrom } from '../src/definition/define-from.ts'
import { titleOf } from '../src/definition/plain-column.ts'

const definition = (keys: readonly string[], start: Partial<Arrangement> = {}): Definition => {
  const read = readDefinition({
    format: 'vast-meadow-grid',
    version: 1,
    columns: keys.map(key => ({ key, title: key.toUpperCase() })),
    start,
  })
  if (!read.ok) throw new Error(JSON.stringify(read.problems))
  return read.definition
}

describe('a definition', () => {
  it('says what is wrong and where', () => {
    const read = readDefinition({
      format: 'vast-meadow-grid',
      version: 1,
      columns: [{ key: 'a', title: 'A', width: 3 }],
    })
    expect(read).toMatchObject({
      ok: false,
      problems: [{ code: 'definition-not-valid', path: 'columns.0.width' }],
    })
    expect(readDefinition(null)).toMatchObject({ ok: false })
    expect(readDefinition({ version: 9 })).toMatchObject({
      ok: false,
      problems: [{ code: 'definition-newer', path: 'version' }],
    })
  })

  it('shows a field once', () => {
    const read = readDefinition({
      format: 'vast-meadow-grid',
      version: 1,
      columns: [
        { key: 'a', title: 'A' },
        { key: 'a', title: 'B' },
      ],
    })
    expect(read).toMatchObject({ ok: false, problems: [{ path: 'columns.1.key' }] })
  })

  it('of nothing but data titles columns, sends numbers to the end edge, and is as wide as the texts', () => {
    const made = defineFrom(
      'Plots',
      [
        { key: 'cover_pct', type: 'number' },
        { key: 'remarkText', type: 'text' },
      ],
      [['1.5'], ['a much longer text than the title of it']],
    )
    expect(made.columns.map(({ title, align }) => [title, align])).toEqual([
      ['Cover pct', 'end'],
      ['Remark Text', 'start'],
    ])
    expect(made.columns[1].width).toBeGreaterThan(made.columns[0].width)
    expect(readDefinition(JSON.parse(JSON.stringify(made)))).toEqual({ ok: true, definition: made })
  })

  it('is published as JSON Schema', () => {
    expect(JSON.stringify(definitionJsonSchema())).toContain('"vast-meadow-grid"')
  })

  it('titles any key without failing', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1 }), key => {
        expect(titleOf(key).length).toBeGreaterThan(0)
      }),
    )
  })
})

describe('an arrangement', () => {
  const some = fc.array(fc.constantFrom('a', 'b', 'c', 'd', 'gone'), { maxLength: 6 })

  it('of any saved state fits the columns there are, each once', () => {
    fc.assert(
      fc.property(some, some, some, some, (columns, hidden, pinnedStart, pinnedEnd) => {
        const fitted = arrangementFor(definition(['a', 'b', 'c', 'd']), {
          columns,
          hidden,
          pinnedStart,
          pinnedEnd,
          groups: [levelOf('gone')],
        })
        expect([...fitted.columns].sort()).toEqual(['a', 'b', 'c', 'd'])
        expect(fitted.groups).toEqual([])
        const { start, middle, end } = shownColumns(fitted)
        const shown = [...start, ...middle, ...end]
        expect(new Set(shown).size).toBe(shown.length)
        expect([...shown, ...fitted.hidden].sort()).toEqual(['a', 'b', 'c', 'd'])
      }),
    )
  })

  it('keeps what was saved when the builder adds and takes away columns', () => {
    const saved = arrangementFor(definition(['a', 'b', 'c']), {
      columns: ['c', 'a', 'b'],
      widths: { a: 90, b: 50 },
      order: [
        { column: 'b', direction: 'descending' },
        { column: 'c', direction: 'ascending' },
      ],
      conditions: { b: { match: 'all', parts: [{ kind: 'missing' }] } },
    })
    expect(arrangementFor(definition(['a', 'x', 'c', 'y']), saved)).toMatchObject({
      columns: ['c', 'y', 'a', 'x'],
      widths: { a: 90 },
      order: [{ column: 'c', direction: 'ascending' }],
      conditions: {},
    })
  })

  it('starts as the definition says where nothing was saved', () => {
    const started = arrangementFor(definition(['a', 'b'], { pinnedStart: ['b'], search: 'x' }))
    expect(started).toMatchObject({ columns: ['a', 'b'], pinnedStart: ['b'], search: 'x', hidden: [] })
  })
})

describe('header clicks', () => {
  const keys = (order: Arrangement['order']): string =>
    order.map(k => `${k.column}${k.direction === 'ascending' ? '+' : '-'}`).join(' ')

  it('go from ascending to descending to off', () => {
    let order: Arrangement['order'] = []
    const seen = ['', '', '', ''].map(() => keys((order = orderAfterClick(order, 'a', false))))
    expect(seen).toEqual(['a+', 'a-', '', 'a+'])
  })

  it('with Shift add keys and keep their ranks', () => {
    let order = orderAfterClick([], 'a', true)
    order = orderAfterClick(order, 'b', true)
    expect(keys((order = orderAfterClick(order, 'a', true)))).toBe('a- b+')
    expect(keys((order = orderAfterClick(order, 'a', true)))).toBe('b+')
    expect(keys(orderAfterClick(orderAfterClick(order, 'a', true), 'c', false))).toBe('c+')
  })
})

describe('the arrangement store', () => {
  it('changes by transactions that tell what and why, and can be taken back', () => {
    const store = new ArrangementStore(arrangementFor(definition(['a', 'b'])))
    const heard: unknown[] = []
    const stop = store.listen((arrangement, { why, version }) =>
      heard.push([arrangement.search, why, version]),
    )
    const before = store.arrangement
    const first = store.apply({ search: 'x', hidden: ['a'] }, 'reader')!
    expect(store.apply({ search: 'x' }, 'code')).toBeNull()
    store.apply(inverse(first), 'code')
    expect(store.arrangement).toEqual(before)
    stop()
    store.apply({ search: 'y' }, 'builder')
    expect(heard).toEqual([
      ['x', 'reader', 1],
      ['', 'code', 2],
    ])
    expect(store.version).toBe(3)
    expect(before.search).toBe('')
  })
})
