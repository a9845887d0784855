import { describe, expect, it, vi } from 'vitest'
import {
  ALL_ABILITIES,
  conditionWords,
  defineFrom,
  onlyLines,
  PageSource,
  type Arrangement,
  type DefinitionInput,
  type RowId,
  type RowSource,
  type SourceDescription,
} from '@vast-meadow/engine'
import { levelOf } from '@vast-meadow/engine/client'
import { conditionChips } from '../src/features/conditions/condition-chips.ts'
import { columnsInOrder, geometryOf, SELECT_COLUMN } from '../src/band/geometry.ts'
import { definitionOf, GridModel } from '../src/kernel/grid-model.ts'
import { defaultTexts } from '../src/kernel/texts.ts'

const DEFINITION: DefinitionInput = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  columns: [
    { key: 'name', title: 'Name', width: 100 },
    { key: 'height', title: 'Height m', width: 80, align: 'end', format: { decimals: 1 } },
    { key: 'planted', title: 'Planted', width: 120, orderable: false },
  ],
}

const description = (keys: readonly string[]): SourceDescription => ({
  fields: keys.map(key => ({ key, type: key === 'height' ? 'number' : 'text', decimals: 2 })),
  total: { kind: 'exact', rows: 0 },
  can: ALL_ABILITIES,
  where: 'here',
  bytes: 0,
  columnBytes: {},
  ms: 0,
  notes: [],
  reading: null,
  samples: keys.map(() => []),
})

function modelOf(heard: unknown[] = []): GridModel {
  const model = new GridModel((_arrangement, { change, why }) => heard.push([change, why]))
  const source = { close: vi.fn() } as unknown as RowSource
  model.takeSource(source, description(['name', 'height', 'planted']), true)
  model.define(definitionOf(DEFINITION), {})
  return model
}

describe('a definition given to a grid', () => {
  it('is refused with every problem and its place', () => {
    const broken = { ...DEFINITION, columns: [{ key: '', title: 'x', width: 5 }] }
    expect(() => definitionOf(broken)).toThrow(/columns\.0\.key.*\n.*columns\.0\.width/s)
  })

  it('is used whatever the rows have, and says which of its columns show a field that is not there', () => {
    const model = modelOf()
    model.given = definitionOf(DEFINITION)
    for (const fields of [['height', 'new'], ['other'], []]) {
      model.description = description(fields)
      expect(model.definitionFor(model.description)).toBe(model.given)
      const absent = model.columnsWithoutField.map(({ key }) => key)
      const keys = model.given.columns.map(({ key }) => key)
      expect(absent).toEqual(fields.length === 0 ? [] : keys.filter(key => !fields.includes(key)))
    }
  })

  it('is made from the rows where none is given, and outlasts an empty list', () => {
    const model = new GridModel(() => {})
    const first = description(['a_b'])
    const made = model.definitionFor(first)
    expect(made.columns[0].title).toBe('A b')
    model.define(made, {})
    expect(model.definitionFor(description([]))).toBe(made)
    expect(model.definitionFor(description(['c'])).columns.map(({ key }) => key)).toEqual(['c'])
  })
})

describe('the model', () => {
  it('orders by clicks where column and source allow it', () => {
    const model = modelOf()
    model.orderBy('height', false)
    model.orderBy('name', true)
    model.orderBy('planted', true)
    expect(model.arrangement.order).toEqual([
      { column: 'height', direction: 'ascending' },
      { column: 'name', direction: 'ascending' },
    ])
    const cannot = { ...description(['name']), can: onlyLines({ code: 'rows-computed' }, []) }
    model.takeSource({ close() {} } as unknown as RowSource, cannot, true)
    model.orderBy('name', false)
    expect(model.arrangement.order).toHaveLength(2)
  })

  it('hides, shows, pins and sizes columns as a reader’s transactions', () => {
    const heard: unknown[] = []
    const model = modelOf(heard)
    model.showColumn('name', false)
    model.showColumn('name', false)
    model.moveColumns(['planted'], { part: 'start', before: null })
    model.setWidth('height', 5)
    model.showColumn('name', true)
    expect(heard).toEqual([
      [{ hidden: ['name'] }, 'reader'],
      [{ pinnedStart: ['planted'] }, 'reader'],
      [{ widths: { height: 32 } }, 'reader'],
      [{ hidden: [] }, 'reader'],
    ])
    expect([model.widthOf('height'), model.widthOf('name'), model.widthOf('nowhere')]).toEqual([32, 100, 0])
  })

  it('opens and closes single groups against the rule for all', () => {
    const model = modelOf()
    model.toggleGroup(['ash'])
    model.toggleGroup([null, 3])
    expect(model.arrangement.open).toEqual({ levels: null, except: [['ash'], [null, 3]] })
    model.toggleGroup(['ash'])
    expect(model.arrangement.open).toEqual({ levels: null, except: [[null, 3]] })
    model.openLevels(1)
    model.openGroups([['ash'], ['elm'], ['ash', 1]], true)
    expect(model.arrangement.open).toEqual({ levels: 1, except: [['ash', 1]] })
    model.openGroups([['ash'], ['elm']], false)
    expect(model.arrangement.open).toEqual({ levels: 1, except: [['ash', 1], ['ash'], ['elm']] })
  })

  it('keeps what was changed before rows were there', () => {
    const model = new GridModel(() => {})
    model.apply({ search: 'ash', hidden: ['height'] }, 'code')
    model.define(definitionOf(DEFINITION), { search: 'saved', widths: { name: 55 } })
    expect(model.arrangement).toMatchObject({ search: 'ash', hidden: ['height'], widths: { name: 55 } })
    model.define(definitionOf(DEFINITION), { search: 'later' })
    expect(model.arrangement.search).toBe('ash')
  })

  it('follows the start of a later definition in what nobody arranged', () => {
    const model = new GridModel(() => {})
    // Rows that are still to come have no fields, so that their columns are not known.
    const height = { column: 'height', direction: 'descending' as const }
    model.define(defineFrom('', [], []), { pinnedStart: ['name'] })
    expect(model.arrangement.pinnedStart).toEqual([])
    const start = { order: [height], search: 'ash' }
    model.define(definitionOf({ ...DEFINITION, start }))
    expect(model.arrangement).toMatchObject({ order: [height], search: 'ash', pinnedStart: ['name'] })
    model.apply({ search: '' }, 'reader')
    const order = [{ ...height, column: 'name' }]
    model.define(definitionOf({ ...DEFINITION, start: { order, search: 'oak' } }))
    expect(model.arrangement).toMatchObject({ order, search: '', pinnedStart: ['name'] })
  })

  it('asks the flow to search in the shown columns only', () => {
    const model = modelOf()
    model.showColumn('height', false)
    model.moveColumns(['planted'], { part: 'start', before: null })
    expect(model.request().searchColumns).toEqual(['planted', 'name'])
  })

  it('closes a source that it made when another takes its place, and no other', () => {
    const model = new GridModel(() => {})
    const [first, second] = [{ close: vi.fn() }, { close: vi.fn() }] as unknown as RowSource[]
    model.takeSource(first, description([]), true)
    model.takeSource(second, description([]), false)
    expect(first.close).toHaveBeenCalledOnce()
    model.close()
    expect(second.close).not.toHaveBeenCalled()
  })

  it('writes values as the column does', () => {
    expect(modelOf().showOf('height')(2.25)).toBe('2.3')
    expect(modelOf().showOf('nowhere')(3)).toBe('3')
  })
})

describe('chips', () => {
  it('name all that is active, on hidden columns too, and lift just that', () => {
    const model = modelOf()
    const conditions: Arrangement['conditions'] = {
      height: { match: 'all', parts: [{ kind: 'range', from: 20 }] },
      name: { match: 'any', parts: [{ kind: 'contains', text: 'a' }, { kind: 'missing' }] },
    }
    model.apply({ groups: [levelOf('planted')], conditions, hidden: ['height'] }, 'reader')
    const chips = conditionChips(model, defaultTexts, conditionWords, () => {})
    expect(chips.map(({ before, name, after }) => `${before} ${name} ${after}`.trim())).toEqual([
      'Height m at least 20.0',
      'Name contains “a” or missing',
    ])
    chips[0].lift()
    expect(Object.keys(model.arrangement.conditions)).toEqual(['name'])
    chips[1].lift()
    expect(model.arrangement.conditions).toEqual({})
  })
})

describe('geometry', () => {
  it('puts the boxes first, pinned columns at their edges, and counts places through', () => {
    const model = modelOf()
    model.apply({ pinnedStart: ['planted'], pinnedEnd: ['name'], widths: { height: 90 } }, 'code')
    const geometry = geometryOf(model.definition!, model.arrangement, 400, false)
    expect(columnsInOrder(geometry)).toEqual([SELECT_COLUMN, 'planted', 'height', 'name'])
    expect([...geometry.start.offsets, ...geometry.middle.offsets]).toEqual([0, 38, 158, 0, 90])
    expect(geometry.width).toBe(38 + 120 + 90 + 100)
    expect(geometry.indexOf('name')).toBe(4)
    expect(geometry.count).toBe(4)
  })
})

it('a column is pinned to one edge, the one it was pinned to last', () => {
  const model = modelOf()
  model.apply({ pinnedEnd: ['height'] }, 'code')
  model.apply({ pinnedStart: ['height'] }, 'code')
  expect(model.arrangement).toMatchObject({ pinnedStart: ['height'], pinnedEnd: [] })
  model.apply({ pinnedEnd: ['height', 'name'] }, 'code')
  expect(model.arrangement).toMatchObject({ pinnedStart: [], pinnedEnd: ['height', 'name'] })
})

it('a page source is a row source for the model', async () => {
  const source = new PageSource({
    kind: 'recipe',
    recipe: { name: 'x', rows: 3, columns: [{ key: 'n', kind: 'count' }] },
  })
  const model = new GridModel(() => {})
  model.takeSource(source, await source.open(), true)
  model.define(model.definitionFor(model.description!), {})
  const { lines } = await source.view(model.request())
  expect(lines.text(2, 2 as RowId, 'n')).toBe('3')
})
