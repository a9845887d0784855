import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { readDefinition } from '../src/definition/definition.ts'
import { defineFrom } from '../src/definition/define-from.ts'
import { plainColumn } from '../src/definition/plain-column.ts'
import {
  uncheckedColumn,
  uncheckedDefinition,
  undefinedDefinition,
} from '../src/definition/unchecked-definition.ts'
import type { Field } from '../src/table/column.ts'

const some = <T>(values: readonly T[]): fc.Arbitrary<T> => fc.constantFrom(...values)
/** Each part may be left out: then its default is there. */
const partly = <T extends object>(parts: { [K in keyof T]: fc.Arbitrary<T[K]> }): fc.Arbitrary<Partial<T>> =>
  fc.record(parts, { requiredKeys: [] }) as fc.Arbitrary<Partial<T>>

const tone = some(['moss', 'poppy', 'stone'])
const cell = fc.oneof(
  some([{ kind: 'text' }, { kind: 'check' }, { kind: 'link', address: 'b' }, { kind: 'mail' }]),
  fc.record({ kind: some(['tags']), tone }, { requiredKeys: ['kind'] }),
  fc.record(
    { kind: some(['picture']), width: fc.integer({ min: 8, max: 90 }), round: fc.boolean() },
    { requiredKeys: ['kind'] },
  ),
  fc.record(
    { kind: some(['badge']), mark: some(['square', 'filled']), tones: fc.dictionary(fc.string(), tone) },
    { requiredKeys: ['kind'] },
  ),
  fc.record({ kind: some(['bar']), low: fc.integer(), high: fc.integer(), tone }, { requiredKeys: ['kind'] }),
  some([{ kind: 'actions', actions: [{ name: 'fell', title: 'Fell' }] }]),
)
const columnParts = {
  width: fc.integer({ min: 24, max: 900 }),
  minWidth: fc.integer({ min: 24, max: 90 }),
  share: fc.integer({ min: 1, max: 9 }),
  giveWay: fc.integer({ min: 1, max: 9 }),
  align: some(['start', 'center', 'end']),
  format: some([{}, { decimals: 2 }, { date: 'long' }, { locale: 'de' }]),
  under: some(['top']),
  wrap: fc.boolean(),
  orderable: fc.boolean(),
  order: some([{}, { natural: true }, { missing: 'first' }]),
  searched: some(['always', 'never']),
  painter: some(['own']),
  expression: some(['a * 2']),
  cell,
}
const definitions = fc.record(
  {
    format: fc.constant('vast-meadow-grid'),
    version: fc.constant(3),
    columns: fc
      .array(partly(columnParts), { maxLength: 5 })
      .map(columns => columns.map((column, i) => ({ ...column, key: `c${i}`, title: `C ${i}` }))),
    headings: fc.constant([{ key: 'top', title: 'Top' }]),
    selection: partly({ rows: some(['none', 'one']), by: some(['row']), cells: fc.boolean() }),
    detail: some([{}, { painter: 'own' }]),
    searchable: fc.boolean(),
    locale: some(['de', 'ar']),
    zone: some(['Europe/Berlin']),
    density: some(['compact', 'roomy']),
    rowHeight: some([40, 'content']),
    fit: some([{ kind: 'fill' }, { kind: 'fixed', height: 300 }]),
    pages: some([{ size: 7 }]),
    look: partly({
      textSize: fc.integer({ min: 9, max: 24 }),
      stripes: fc.boolean(),
      rules: some(['both', 'none']),
      palette: some([{}, { moss: { light: '#001100', dark: '#ddffdd' } }]),
    }),
    map: fc.boolean(),
    strip: fc.boolean(),
    start: some([{}, { hidden: ['c1'] }, { pinnedStart: ['c0'], widths: { c0: 99 } }]),
  },
  { requiredKeys: ['format', 'version', 'columns', 'headings'] },
)

/** Those of the parts that are drawn by; how many a page has and how rows open is asked of what is checked. */
const drawn = (definition: object): object => {
  const { selection, look, density, fit, map, strip, start, searchable, headings, columns } =
    definition as ReturnType<typeof undefinedDefinition>
  const { locale, zone, rowHeight } = definition as ReturnType<typeof undefinedDefinition>
  const bare = headings.map(({ key, title }) => ({ key, title }))
  return {
    selection,
    look,
    density,
    fit,
    map,
    strip,
    start,
    searchable,
    headings: bare,
    columns,
    locale,
    zone,
    rowHeight,
  }
}

describe('a definition that is not checked', () => {
  it('is what the checked one is, where that is valid', () => {
    fc.assert(
      fc.property(definitions, given => {
        const read = readDefinition(given)
        if (!read.ok) throw new Error(JSON.stringify(read.problems))
        const unchecked = uncheckedDefinition(given)!
        const actions = (column: { cell: { kind: string } }): boolean => column.cell.kind === 'actions'
        // Nothing of buttons is drawn by it.
        const without = (definition: object): object => {
          const all = drawn(definition) as { columns: { cell: { kind: string } }[] }
          return {
            ...all,
            columns: all.columns.map(column => (actions(column) ? { ...column, cell: 0 } : column)),
          }
        }
        expect(without(unchecked)).toEqual(without(read.definition))
        expect(unchecked.pages?.size).toBe(read.definition.pages?.size)
      }),
    )
  })

  it('is none where it is of another version, or something else', () => {
    for (const given of [null, 7, 'x', {}, { format: 'vast-meadow-grid', version: 2, columns: [] }])
      expect(uncheckedDefinition(given)).toBeNull()
  })

  it('of rows alone is what is made of their fields', () => {
    const fields: Field[] = [
      { key: 'cover_pct', type: 'number' },
      { key: 'seen', type: 'boolean' },
      { key: 'tags', type: 'tags' },
      { key: 'note', type: 'text' },
    ]
    const samples = [['12.5'], ['yes'], ['a, b'], ['a long note about the meadow']]
    const columns = fields.map((field, i) => uncheckedColumn(plainColumn(field, samples[i])))
    expect(drawn(undefinedDefinition(columns))).toEqual(drawn(defineFrom('', fields, samples)))
  })
})
