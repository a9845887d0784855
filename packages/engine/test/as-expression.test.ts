import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { conditionsExpression, conditionsFrom } from '../src/condition/as-expression.ts'
import type { Condition } from '../src/condition/condition.ts'
import { compilePattern } from '../src/expression/pattern.ts'
import { parseExpression } from '../src/expression/parser.ts'
import { checkExpression } from '../src/expression/check.ts'
import { computeColumn } from '../src/expression/compute-column.ts'
import type { ExpressionTools } from '../src/expression/load-packaged.ts'
import { expressionProblemText } from '../src/words/expression-problem-text.ts'
import type { Field, Table } from '../src/table/column.ts'
import { valueAt } from '../src/table/column.ts'
import { finish } from '../src/work/work.ts'
import { flowOver } from './support/flow-over.ts'
import { randomRequest, randomRows, tableOf } from './support/random-table.ts'
import { runs } from './support/runs.ts'

const tools: ExpressionTools = {
  parser: () => Promise.resolve({ parseExpression }),
  pattern: () => Promise.resolve({ compilePattern }),
}

const NOTHING = { order: [], search: '', searchColumns: [], groups: [], open: { levels: null, except: [] } }

function passing(table: Table, conditions: Readonly<Record<string, Condition>>): number[] {
  const { view } = finish(flowOver(table).arrange({ ...NOTHING, conditions }))
  return [...(view.rows ?? Array.from({ length: table.rows }, (_, row) => row))].sort((a, b) => a - b)
}

function trueRows(table: Table, text: string): number[] {
  const parsed = parseExpression(text)
  if (!parsed.ok) throw new Error(`${text}: ${expressionProblemText(parsed.problem)}`)
  const checked = checkExpression(parsed.tree, table.fields, compilePattern)
  if (!checked.ok) throw new Error(`${text}: ${expressionProblemText(checked.problem)}`)
  const column = finish(computeColumn(checked.typed, table))
  return Array.from({ length: table.rows }, (_, row) => row).filter(row => valueAt(column, row) === true)
}

/** The first row has every field, so that an expression finds the types it needs. */
const TYPICAL = {
  site: 'Wold',
  note: 'x',
  count: 1,
  cover: 0.25,
  mass: 1.5,
  seen: true,
  day: '2021-01-01',
  tags: ['wet'],
}

describe('conditions as one expression', () => {
  it('are true of the same rows, and so is what is taken back of them', async () => {
    await fc.assert(
      fc.asyncProperty(randomRows, randomRequest, async (rows, { conditions }) => {
        const table = tableOf([TYPICAL, ...rows])
        const { text, left } = conditionsExpression(conditions, '', table.fields)
        const saidOnes = Object.fromEntries(Object.entries(conditions).filter(([key]) => !left.includes(key)))
        if (text === '') {
          expect(Object.keys(saidOnes)).toEqual([])
          return
        }
        const wanted = passing(table, saidOnes)
        expect([text, trueRows(table, text)]).toEqual([text, wanted])
        const taken = await conditionsFrom(text, table.fields, tools)
        if (!taken.ok) throw new Error(expressionProblemText(taken.problem))
        const kept = new Set(passing(table, taken.conditions))
        const both = taken.where ? trueRows(table, taken.where).filter(row => kept.has(row)) : [...kept]
        expect([text, taken.where, both]).toEqual([text, taken.where, wanted])
      }),
      runs(1000),
    )
  })

  const fields: Field[] = [
    { key: 'site', type: 'text' },
    { key: 'cover', type: 'number', decimals: 1 },
    { key: 'seen', type: 'boolean' },
    { key: 'day', type: 'date' },
    { key: 'tags', type: 'tags' },
    { key: 'Cover %', type: 'number', decimals: 0 },
  ]
  const take = async (text: string): Promise<unknown> => {
    const taken = await conditionsFrom(text, fields, tools)
    return taken.ok ? [taken.conditions, taken.where] : expressionProblemText(taken.problem)
  }

  it('are written so that they can be read', () => {
    const conditions: Record<string, Condition> = {
      cover: { match: 'all', parts: [{ kind: 'range', from: 20, to: 40 }] },
      site: { match: 'any', parts: [{ kind: 'one-of', values: ['Red', 'blue'] }, { kind: 'missing' }] },
      day: { match: 'all', parts: [{ kind: 'relative', which: 'this', unit: 'month' }] },
      'Cover %': { match: 'all', parts: [{ kind: 'above', value: 3 }] },
    }
    expect(conditionsExpression(conditions, 'cover > row["Cover %"]', fields)).toEqual({
      text: 'cover >= 20 && cover <= 40 &&\n(fold(site) in ["red", "blue"] || !has(site)) &&\nrow["Cover %"] > 3 &&\n(cover > row["Cover %"])',
      left: ['day'],
    })
  })

  it('fold what was asked in any letters, and leave what was asked exactly', () => {
    const asked = (part: object): string =>
      conditionsExpression(
        { site: { match: 'all', parts: [part as Condition['parts'][number]] } },
        '',
        fields,
      ).text
    expect(asked({ kind: 'contains', text: 'Red' })).toBe('fold(site).contains("red")')
    expect(asked({ kind: 'contains', text: 'Red', exact: true })).toBe('site.contains("Red")')
    expect(asked({ kind: 'one-of', values: ['Red', 'blue'], exact: true })).toBe('site in ["Red", "blue"]')
  })

  it('name fields in brackets whose name means something else in an expression', () => {
    const words = ['if', 'as', 'fact', 'a.if', 'a b']
    const named = words.map(key => ({ key, type: 'number' as const }))
    const conditions = Object.fromEntries(
      words.map(key => [key, { match: 'all' as const, parts: [{ kind: 'above' as const, value: 3 }] }]),
    )
    const { text } = conditionsExpression(conditions, '', named)
    expect(text.split(' &&\n')).toEqual(words.map(key => `row["${key}"] > 3`))
    expect(parseExpression(text)).toMatchObject({ ok: true })
  })

  it('come back as cards where cards can say it, and stay text where not', async () => {
    expect(await take('cover >= 20 && fold(site) in ["red"] && cover > row["Cover %"]')).toEqual([
      {
        cover: { match: 'all', parts: [{ kind: 'at-least', value: 20 }] },
        site: { match: 'all', parts: [{ kind: 'one-of', values: ['red'] }] },
      },
      'cover > row["Cover %"]',
    ])
    expect(
      await take('(cover < 3 || cover > 7) && has(site) && !site.contains("x") && has(seen) && !seen'),
    ).toEqual([
      {
        cover: {
          match: 'any',
          parts: [
            { kind: 'below', value: 3 },
            { kind: 'above', value: 7 },
          ],
        },
        site: { match: 'all', parts: [{ kind: 'excludes', text: 'x', exact: true }] },
        seen: { match: 'all', parts: [{ kind: 'equals', value: false }] },
      },
      '',
    ])
    // Without `has` a missing text passes too, which no card says.
    expect(await take('!site.contains("x") && (cover > 3 || seen)')).toEqual([
      {},
      '!site.contains("x") &&\n(cover > 3 || seen)',
    ])
    expect(await take('day > date("2024-06-14") && "wet" in tags')).toEqual([
      {
        day: { match: 'all', parts: [{ kind: 'above', value: '2024-06-14' }] },
        tags: { match: 'all', parts: [{ kind: 'one-of', values: ['wet'], exact: true }] },
      },
      '',
    ])
    expect(await take('')).toEqual([{}, ''])
  })

  it('that are wrong are told, with what was meant', async () => {
    expect(await take('covr > 3')).toBe('There is no field “covr”. Did you mean “cover”?')
    expect(await take('cover + 3')).toBe('The result must be yes or no; it is a number.')
    expect(await take('cover >')).toBe('The expression ends too early.')
  })
})
