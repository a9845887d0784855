import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { conditionKinds } from '../src/condition/kinds/index.ts'
import { EVERY } from '../src/condition/kinds/kind.ts'
import { readPhrase } from '../src/condition/phrase.ts'
import { phraseProblemText } from '../src/words/phrase-problem-text.ts'
import { conditionSummary } from '../src/words/condition-summary.ts'
import type { Bucket } from '../src/group/bucket.ts'
import { levelOf } from '../src/group/level.ts'
import { summaryKey } from '../src/definition/binding.ts'
import { readArrangement } from '../src/definition/read-arrangement.ts'
import { PageSource } from '../src/source/page-source.ts'
import { summaryShower } from '../src/summary/show-summary.ts'
import type { Summary } from '../src/summary/summary.ts'
import type { Field, Value } from '../src/table/column.ts'
import { readDefinition } from '../src/definition/definition.ts'
import { computeColumn } from '../src/expression/compute-column.ts'
import { readExpression } from '../src/expression/expressions.ts'
import { functionHelp } from '../src/expression/functions/index.ts'
import { expressionProblemText } from '../src/words/expression-problem-text.ts'
import { tableFromRows } from '../src/read/rows/read-rows.ts'
import { valueAt } from '../src/table/column.ts'
import { finish } from '../src/work/work.ts'
import { definitionReference } from './support/definition-reference.ts'
import { readOk, rowsOf } from './support/read-rows-back.ts'

const pathOf = (name: string): URL => new URL(`../../../docs/${name}`, import.meta.url)
const doc = (name: string): string => readFileSync(pathOf(name), 'utf8')
const MARK = '<!-- The tables below are made from the schema; a test holds them to it. -->\n'

const ASKED = {
  order: [],
  conditions: {},
  search: '',
  searchColumns: [],
  groups: [],
  open: { levels: null, except: [] },
}

const FUNCTIONS_MARK = '<!-- The table below is made from the functions; a test holds it to them. -->\n'

/** Table columns are padded by the formatter; their words are what counts. */
const words = (text: string): string => text.replace(/ {2,}/g, ' ').replace(/-{3,}/g, '---').trim()

/** Code blocks of a language, in their order. */
const blocks = (text: string, language: string): string[] =>
  [...text.matchAll(new RegExp(`\`\`\`${language}\n([\\s\\S]*?)\`\`\``, 'g'))].map(match => match[1])

describe('docs/definition.md', () => {
  it('holds the reference that the schema gives (UPDATE_DOCS=1 writes it)', () => {
    const text = doc('definition.md')
    const [before, after] = text.split(MARK)
    if (process.env.UPDATE_DOCS)
      writeFileSync(pathOf('definition.md'), `${before}${MARK}\n${definitionReference()}\n`)
    else expect(words(after)).toBe(words(definitionReference()))
  })

  it('shows definitions that are valid', () => {
    const found = blocks(doc('definition.md'), 'json')
    expect(found.length).toBeGreaterThan(0)
    for (const json of found) expect(readDefinition(JSON.parse(json))).toMatchObject({ ok: true })
  })
})

describe('docs/conditions.md', () => {
  const KINDS_MARK = '<!-- The table below is made from the kinds; a test holds it to them. -->\n'

  it('lists every kind as it is (UPDATE_DOCS=1 writes it)', () => {
    const [before, after] = doc('conditions.md').split(KINDS_MARK)
    const [listed, ...rest] = after.trim().split('\n\n')
    const table = [
      '| kind | asks | of |',
      '| --- | --- | --- |',
      ...conditionKinds.map(({ name, description: help, types }) => {
        const of = types.length === EVERY.length ? 'all' : types.join(', ')
        return `| \`${name}\` | ${help} | ${of} |`
      }),
    ].join('\n')
    if (process.env.UPDATE_DOCS)
      writeFileSync(pathOf('conditions.md'), `${before}${KINDS_MARK}\n${[table, ...rest].join('\n\n')}\n`)
    else expect(words(listed)).toBe(words(table))
  })

  it('shows phrases that mean what it says', () => {
    const found = [...doc('conditions.md').matchAll(/```phrases (\w+)\n([\s\S]*?)```/g)]
    expect(found.map(([, type]) => type)).toEqual(['text', 'number', 'date', 'boolean', 'tags'])
    for (const [, type, block] of found) {
      const field: Field = { key: 'k', type: type as Field['type'] }
      const show = (value: Value): string =>
        typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value)
      for (const line of block.trim().split('\n')) {
        const [phrase, said] = line.split(/ \/\/ /)
        const read = readPhrase(phrase, { field })
        const words = read.ok
          ? conditionSummary(read.condition, field, show)
          : phraseProblemText(read.problem)
        expect([phrase, words]).toEqual([phrase, said])
      }
    }
  })

  it('shows an arrangement and definition that are valid', () => {
    for (const json of blocks(doc('conditions.md'), 'json')) {
      const given = JSON.parse(json) as { columns?: unknown; conditions?: unknown }
      const read = given.columns
        ? readDefinition({ format: 'vast-meadow-grid', version: 2, ...given })
        : readDefinition({ format: 'vast-meadow-grid', version: 2, columns: [], start: given })
      expect(read).toMatchObject({ ok: true })
    }
  })
})

describe('docs/groups.md', () => {
  const text = doc('groups.md')
  const NUMBERS = [3, 12, 12, 45, null]
  const DAYS = ['2024-03-01', '2024-03-09', '2024-11-30', '2023-03-05', null]
  const sourceOf = async (values: readonly unknown[]): Promise<PageSource> => {
    const source = new PageSource({ kind: 'table', table: finish(tableFromRows(values.map(n => ({ n })))) })
    await source.open()
    return source
  }

  it('shows arrangements that are valid', () => {
    for (const json of blocks(text, 'json'))
      expect(readArrangement(JSON.parse(json), null)).toMatchObject({ ok: true })
  })

  it('shows the groups that buckets come to', async () => {
    const found = [...text.matchAll(/```buckets (\w+)\n([\s\S]*?)```/g)]
    expect(found.map(([, type]) => type)).toEqual(['integer', 'date'])
    for (const [, type, block] of found) {
      const source = await sourceOf(type === 'date' ? DAYS : NUMBERS)
      for (const line of block.trim().split('\n')) {
        const [json, said] = line.split(' // ')
        const groups = [levelOf('n', { bucket: JSON.parse(json) as Bucket })]
        const told = await source.ask('levelGroups', {
          request: { ...ASKED, groups },
          level: 0,
          from: 0,
          to: 99,
        })
        const named = told.groups.map(
          ({ value, shown, rows }) => `${value === null ? 'missing' : shown} ×${rows}`,
        )
        expect([json, named.join(' · ')]).toEqual([json, said])
      }
    }
  })

  it('shows what summaries come to', async () => {
    const source = await sourceOf(NUMBERS)
    const { fields } = await source.open()
    for (const line of blocks(text, 'summaries')[0].trim().split('\n')) {
      const [json, said] = line.split(/ \/\/ ?/)
      const summary = JSON.parse(json) as Summary
      const computed =
        typeof summary === 'object' && summary.kind === 'expression'
          ? [{ key: summaryKey('n'), expression: summary.expression, internal: true, overRows: true }]
          : []
      const request = { ...ASKED, binding: { formats: {}, computed } }
      const [told] = await source.ask('summarize', { request, of: [{ column: 'n', summary }] })
      expect([json, summaryShower(summary, fields[0])(told.all)]).toEqual([json, said])
    }
  })
})

describe('docs/expressions.md', () => {
  const rows = [
    {
      plot: 'P1',
      cover: 64.5,
      seen: '2024-06-14',
      state: 'seen',
      'Cover %': 64,
      tags: ['wet'],
      keeper: 'Å. Bell',
    },
    {
      plot: 'P2',
      cover: 12,
      seen: '2023-01-02',
      state: 'lost',
      'Cover %': 12,
      tags: ['dry', 'rare'],
      keeper: null,
    },
  ]

  it('lists every function as it is (UPDATE_DOCS=1 writes it)', () => {
    const [before, after] = doc('expressions.md').split(FUNCTIONS_MARK)
    const table = [
      '| written | gives |',
      '| --- | --- |',
      ...functionHelp.map(({ written, help }) => `| \`${written}\` | ${help} |`),
    ].join('\n')
    if (process.env.UPDATE_DOCS)
      writeFileSync(pathOf('expressions.md'), `${before}${FUNCTIONS_MARK}\n${table}\n`)
    else expect(words(after)).toBe(words(table))
  })

  it('shows expressions that come to what it says', async () => {
    const table = finish(tableFromRows(rows))
    const shown = blocks(doc('expressions.md'), 'cel').flatMap(block => block.trim().split('\n'))
    expect(shown.length).toBeGreaterThan(12)
    for (const line of shown) {
      const [expression, said] = line.split(/ +\/\/ /)
      const result = await readExpression(expression, table.fields)
      if (!result.ok) {
        expect([expression, expressionProblemText(result.problem)]).toEqual([expression, said])
        continue
      }
      const column = finish(computeColumn(result.typed, table))
      const values = rows.map((_, row) => JSON.stringify(valueAt(column, row)).replace('null', 'missing'))
      expect([expression, values.join(', ')]).toEqual([expression, said])
    }
  })
})

describe('docs/cells.md and docs/theming.md', () => {
  it('show definitions that are valid', () => {
    for (const name of ['cells.md', 'theming.md'])
      for (const json of blocks(doc(name), 'json')) {
        const columns = json.trim().startsWith('[')
          ? (JSON.parse(json) as object[])
          : [JSON.parse(json) as object]
        const definition =
          'columns' in columns[0] ? columns[0] : { format: 'vast-meadow-grid', version: 2, columns }
        expect(readDefinition(definition)).toMatchObject({ ok: true })
      }
  })

  it('name every custom property and part that the grid has', () => {
    const text = doc('theming.md')
    const folder = new URL('../../grid/src/', import.meta.url)
    const sources = readdirSync(folder, { recursive: true, encoding: 'utf8' })
      .filter(name => name.endsWith('.ts'))
      .map(name => readFileSync(new URL(name, folder), 'utf8'))
      .join('\n')
    const properties = new Set([...sources.matchAll(/var\((--meadow-[a-z-]+)/g)].map(match => match[1]))
    for (const property of properties) expect(text, property).toContain(`\`${property}\``)
    const parts = new Set(
      [...sources.matchAll(/setAttribute\('part', '([a-z- ]+)'\)/g)].map(match => match[1]),
    )
    for (const part of parts) expect(text, part).toContain(`\`${part}\``)
  })
})

describe('docs/reading.md', () => {
  it('shows files that are read as it says', async () => {
    const text = doc('reading.md')
    const files = [...blocks(text, 'csv'), ...blocks(text, 'json')]
    const tables = await Promise.all(files.map(file => readOk(file)))
    expect(tables.map(({ table }) => rowsOf(table))).toEqual([
      [
        { plot: 'P1', cover: 1204.5, 'seen on': 19_888, remark: 'wet; grazed' },
        { plot: 'P2', cover: 3.25, 'seen on': 19_359, remark: null },
      ],
      [{ id: 1, 'place.site': 'Ings', 'place.lat': 53.5, tags: '["wet","grazed"]' }],
    ])
    expect(tables[1].report.json).toMatchObject({ rowsPath: 'result.rows', total: { rows: 900 } })
  })
})
