import { definitionSchema, fieldReference, type Definition, type Field } from '@vast-meadow/engine'
import { describe, expect, test } from 'vitest'
import { addComputed, addField, withColumn, withColumns, withoutColumn } from '../app/columns/column-edits'
import { completionAt } from '../app/expression-editor/completion'

const FIELDS: Field[] = [
  { key: 'plot', type: 'text' },
  { key: 'cover', type: 'number', decimals: 1 },
  { key: 'site name', type: 'text' },
]
const definition: Definition = definitionSchema.parse({
  format: 'vast-meadow-grid',
  version: 3,
  columns: [
    { key: 'plot', title: 'Plot' },
    { key: 'cover', title: 'Cover' },
  ],
  styles: [
    { when: 'true', columns: ['cover'] },
    { when: 'true', columns: ['cover', 'plot'] },
    { when: 'true' },
  ],
})

describe('edits of columns', () => {
  test('change one or several, and take a setting away', () => {
    const helped = withColumn(definition, 'plot', { help: 'Where' })
    expect(helped.columns[0]).toMatchObject({ key: 'plot', help: 'Where' })
    expect('help' in withColumn(helped, 'plot', { help: undefined }).columns[0]!).toBe(false)
    const both = withColumns(definition, ['plot', 'cover'], { align: 'center' })
    expect(both.columns.map(({ align }) => align)).toEqual(['center', 'center'])
    expect(definition.columns[0]!.align).toBe('start')
  })

  test('take a column out with what names it, and no style spreads by it', () => {
    const left = withoutColumn(definition, 'cover')
    expect(left.columns.map(({ key }) => key)).toEqual(['plot'])
    expect(left.styles.map(({ columns }) => columns)).toEqual([['plot'], []])
  })

  test('add a field, and a computed column under a free name that works from the start', () => {
    expect(addField(definition, FIELDS[2]!, ['Lower Ings']).columns.at(-1)).toMatchObject({
      key: 'site name',
      title: 'Site name',
    })
    const first = addComputed(definition, FIELDS)
    expect(first.key).toBe('computed_1')
    expect(first.definition.columns.at(-1)).toMatchObject({ expression: 'cover', title: 'Computed 1' })
    expect(addComputed(first.definition, FIELDS).key).toBe('computed_2')
  })

  test.each([
    ['cover', 'cover'],
    ['place.site', 'place.site'],
    ['site name', 'row["site name"]'],
    ['in', 'row["in"]'],
    ['Cover "%"', 'row["Cover \\"%\\""]'],
    ['2nd', 'row["2nd"]'],
  ])('the field %s is written %s', (key, written) => {
    expect(fieldReference(key)).toBe(written)
  })
})

describe('completion', () => {
  const offered = (text: string): string[] | null =>
    completionAt(text, text.length, FIELDS)?.offers.map(({ insert }) => insert) ?? null

  test('offers fields first, then functions, for the word at the caret', () => {
    expect(offered('co')![0]).toBe('cover')
    expect(offered('1 + site')).toEqual(['row["site name"]'])
    expect(offered('has(pl')).toEqual(['plot', '.replace'].slice(0, 1))
    expect(offered('fol')).toEqual(['fold('])
  })

  test('offers methods behind a point and the functions of math behind its name', () => {
    expect(offered('plot.low')).toEqual(['lower('])
    expect(offered('math.ro')).toEqual(['round('])
    expect(offered('plot.')!.length).toBeGreaterThan(3)
  })

  test('offers nothing in a text, for nothing, or where all is written', () => {
    expect(offered('plot == "co')).toBeNull()
    expect(offered("plot == 'a\\'co")).toBeNull()
    expect(offered('')).toBeNull()
    expect(offered('plot + ')).toBeNull()
    expect(offered('plot == "x" ? cov')).toEqual(['cover'])
  })
})
