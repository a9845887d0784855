import { definitionSchema, fieldReference, type Definition, type Field } from '@vast-meadow/engine'
import { describe, expect, test } from 'vitest'
import { addComputed, addField, withColumn, withColumns, withoutColumn } from '../app/columns/column-edits'
import {
  headingLines,
  possibleParents,
  underHeading,
  withHeading,
  withoutHeading,
} from '../app/columns/heading-edits'
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

describe('headings over several columns', () => {
  const headed = underHeading(underHeading(definition, ['plot', 'cover'], 'Where'), ['cover'], 'Where')

  test('are made by their title, shared by it, and gone with their last column', () => {
    expect(headed.headings).toEqual([{ key: 'where', title: 'Where', together: false }])
    expect(headed.columns.map(({ under }) => under)).toEqual(['where', 'where'])
    const parted = underHeading(headed, ['cover'], ' Wh ere! ')
    expect(parted.headings.map(({ key, title }) => [key, title])).toEqual([
      ['where', 'Where'],
      ['wh-ere', 'Wh ere!'],
    ])
    expect(underHeading(parted, ['plot', 'cover'], '').headings).toEqual([])
    expect('under' in underHeading(headed, ['plot'], '').columns[0]!).toBe(false)
    // Two titles that come to the same key.
    expect(underHeading(headed, ['plot'], 'where?').headings.map(({ key }) => key)).toEqual([
      'where',
      'where-2',
    ])
  })

  test('stand in one another, never in themselves, and leave what stood under them where they stood', () => {
    const two = underHeading(headed, ['cover'], 'Measures')
    const nested = withHeading(two, 'measures', { under: 'where', together: true })
    expect(possibleParents(nested, 'where').map(({ key }) => key)).toEqual([])
    expect(possibleParents(nested, 'measures').map(({ key }) => key)).toEqual(['where'])
    const raised = withoutHeading(nested, 'measures')
    expect(raised.columns.map(({ under }) => under)).toEqual(['where', 'where'])
    expect(withoutHeading(raised, 'where').columns.some(column => 'under' in column)).toBe(false)
  })

  test('begin in a list where their columns do, again where these are parted', () => {
    const three = addField(headed, FIELDS[2]!, [])
    const told = (keys: string[]) =>
      [...headingLines(three, keys)].map(([key, lines]) => [key, lines.map(({ heading }) => heading.key)])
    expect(told(['plot', 'cover', 'site name'])).toEqual([['plot', ['where']]])
    expect(told(['plot', 'site name', 'cover'])).toEqual([
      ['plot', ['where']],
      ['cover', ['where']],
    ])
  })
})
