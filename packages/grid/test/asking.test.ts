import { describe, expect, it } from 'vitest'
import {
  kindsFor,
  type ConditionKindName,
  type ConditionPart,
  type Field,
  type PhraseOf,
} from '@vast-meadow/engine'
import { fieldsOf, partFrom, textsOf } from '../src/features/conditions/part-fields.ts'
import { replaceWord } from '../src/features/search/replace-word.ts'

const of = (type: Field['type'], more: Partial<PhraseOf> = {}): PhraseOf => ({
  field: { key: 'k', type },
  ...more,
})

describe('the fields of a part', () => {
  it.each<[Field['type'], ConditionPart]>([
    ['text', { kind: 'contains', text: 'oak, "x"' }],
    ['text', { kind: 'pattern', pattern: '^o' }],
    ['text', { kind: 'equals', value: 'oak' }],
    ['text', { kind: 'one-of', values: ['oak', 'a, b', 'say "x"'] }],
    ['number', { kind: 'range', from: 20 }],
    ['number', { kind: 'range', to: -3.5 }],
    ['number', { kind: 'none-of', values: [3, 5] }],
    ['integer', { kind: 'above', value: 7 }],
    ['date', { kind: 'at-most', value: '2024-06' }],
    ['date', { kind: 'range', from: '2024', to: '2024-Q2' }],
    ['tags', { kind: 'all-of', values: ['wet', 'dry'] }],
    ['text', { kind: 'missing' }],
  ])('give back the %s part they were filled from: %j', (type, part) => {
    expect(partFrom(part.kind, textsOf(part, of(type)), false, of(type))).toEqual(part)
  })

  it('make case count where it is said', () => {
    expect(partFrom('contains', ['Oak'], true, of('text'))).toEqual({
      kind: 'contains',
      text: 'Oak',
      exact: true,
    })
  })

  it('are no part while they are empty, or say what cannot be read', () => {
    for (const kind of ['contains', 'range', 'above', 'one-of', 'equals', 'pattern'] as const)
      expect([
        kind,
        partFrom(kind, ['', ''], false, of(kind === 'range' || kind === 'above' ? 'number' : 'text')),
      ]).toEqual([kind, null])
    expect(partFrom('above', ['many'], false, of('number'))).toBeNull()
    expect(partFrom('range', ['3', 'x'], false, of('number'))).toBeNull()
    expect(partFrom('equals', ['3, 4'], false, of('number'))).toBeNull()
  })

  it('are there for every kind that a column can be asked', () => {
    const told = (type: Field['type']): [ConditionKindName, number][] =>
      kindsFor(type).map(kind => [kind, fieldsOf(kind, of(type)).texts])
    expect(Object.fromEntries(told('number'))).toMatchObject({ range: 2, above: 1, missing: 0 })
    expect(fieldsOf('relative', of('date'))).toMatchObject({ calendar: true, texts: 0 })
    expect(fieldsOf('equals', of('boolean'))).toMatchObject({ truth: true, texts: 0 })
    expect(fieldsOf('contains', of('text'))).toMatchObject({ exact: true, texts: 1 })
  })
})

describe('a word of a search', () => {
  it('is changed, or left out, wherever it stands', () => {
    expect(replaceWord('lowr ings', 'lowr', 'lower')).toBe('lower ings')
    expect(replaceWord('LÖWR "fen edge"', 'lowr', 'upper wold')).toBe('"upper wold" "fen edge"')
    expect(replaceWord('a "b c" d', 'b c', '')).toBe('a d')
    expect(replaceWord('a', 'x', 'y')).toBe('a')
  })
})
