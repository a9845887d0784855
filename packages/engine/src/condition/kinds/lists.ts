import * as z from 'zod/mini'
import '../../zod.ts'
import { fold } from '../../search/fold.ts'
import type { Field } from '../../table/column.ts'
import { tagsOf } from '../../table/shown-text.ts'
import { spanOf } from '../amount.ts'
import {
  conditionKind,
  EVERY,
  type Ask,
  type AskedOf,
  type ConditionWords,
  type PhraseWriter,
  type Span,
} from './kind.ts'
import { exactly } from './text.ts'
import { between, compared, nameOf, presentAndNot } from './written.ts'

const valuesSchema = z.array(z.union([z.string(), z.number(), z.boolean()])).check(z.minLength(1))
const listed = z.object({ values: valuesSchema, exact: exactly })
type Listed = z.infer<typeof listed>

/** Values that a summary names before it only counts. */
const NAMED = 3

function summed(
  { values }: Listed,
  show: (value: Listed['values'][number]) => string,
  words: ConditionWords,
) {
  const named = values.slice(0, NAMED).map(show)
  const more = values.length - named.length
  if (more > 0) named.push(words.more(more))
  return named.join(` ${words.or} `)
}

function askListed({ values, exact }: Listed, of: AskedOf, none: boolean): Ask {
  const { type } = of.field
  const unreadable = (value: unknown): Ask => ({
    by: 'nothing',
    problem: { code: 'not-readable', text: String(value), type },
  })
  if (type === 'text') {
    const wanted = new Set(values.map(value => (exact ? String(value) : fold(String(value)))))
    const test = (text: string): boolean => wanted.has(text)
    return exact ? { by: 'exact', test, none } : { by: 'text', test, holds: [...wanted], none }
  }
  if (type === 'tags') return askTags({ values, exact }, found => found.some(Boolean), none)
  if (type === 'boolean') {
    const wrong = values.find(value => typeof value !== 'boolean')
    if (wrong !== undefined) return unreadable(wrong)
    return { by: 'truth', truths: values.filter(value => typeof value === 'boolean'), none }
  }
  const spans: Span[] = []
  for (const value of values) {
    const span = typeof value === 'boolean' ? null : spanOf(value, of)
    if (!span) return unreadable(value)
    spans.push(span)
  }
  return { by: 'spans', spans, none }
}

/** Tags are kept as one text a row, so that each distinct list of them is looked at once. */
function askTags({ values, exact }: Listed, enough: (found: boolean[]) => boolean, none: boolean): Ask {
  const folded = (text: string): string => (exact ? text : fold(text))
  const wanted = values.map(value => folded(String(value)))
  return {
    by: 'exact',
    test: text => {
      const tags = tagsOf(text).map(folded)
      return enough(wanted.map(tag => tags.includes(tag)))
    },
    none,
  }
}

const list = ({ values }: Listed, write: PhraseWriter): string =>
  values.map(value => write.value(value)).join(', ')

const tagged = ({ values }: Listed, field: Field): string[] =>
  values.map(value => `${JSON.stringify(String(value))} in ${nameOf(field)}`)

/** An expression that is true where the value is one of those listed. */
function anyOf({ values, exact }: Listed, field: Field): string | null {
  const either = (sides: readonly string[]): string =>
    sides.length === 1 ? sides[0] : `(${sides.join(' || ')})`
  switch (field.type) {
    case 'text': {
      const { name, text } = compared(field, exact)
      return `${name} in [${values.map(value => text(String(value))).join(', ')}]`
    }
    case 'tags':
      // Tags cannot be folded by an expression.
      return exact ? either(tagged({ values }, field)) : null
    case 'boolean': {
      const name = nameOf(field)
      if (values.includes(true) && values.includes(false)) return `has(${name})`
      return values.includes(true) ? name : `has(${name}) && !${name}`
    }
    default: {
      const spans = values.map(value => between(value, value, field)).filter(span => span !== null)
      if (spans.length < values.length) return null
      return spans.length === 1
        ? spans[0]
        : either(spans.map(span => (span.includes('&&') ? `(${span})` : span)))
    }
  }
}

/** One of the listed values; of tags, at least one of them. */
export const oneOf = conditionKind({
  name: 'one-of',
  description: 'One of `values`; of tags, at least one of them.',
  schema: z.extend(listed, { kind: z.literal('one-of') }),
  types: EVERY,
  ask: (part, of) => askListed(part, of, false),
  summary: summed,
  phrase: (part, write) => `one of ${list(part, write)}`,
  expression: (part, field) => anyOf(part, field),
})

/** A value, but none of those listed. */
export const noneOf = conditionKind({
  name: 'none-of',
  description: 'A value, and none of `values`.',
  schema: z.extend(listed, { kind: z.literal('none-of') }),
  types: EVERY,
  ask: (part, of) => askListed(part, of, true),
  summary: (part, show, words) => words.noneOf(summed(part, show, words)),
  phrase: (part, write) => `none of ${list(part, write)}`,
  expression: (part, field) => {
    if (field.type !== 'boolean') return presentAndNot(field, anyOf(part, field))
    const left = [true, false].filter(truth => !part.values.includes(truth))
    return left.length === 0 ? null : anyOf({ values: left }, field)
  },
})

/** Every one of the listed tags. */
export const allOf = conditionKind({
  name: 'all-of',
  description: 'Every tag of `values`.',
  schema: z.extend(listed, { kind: z.literal('all-of') }),
  types: ['tags'],
  ask: part => askTags(part, found => found.every(Boolean), false),
  summary: (part, show, words) => words.allOf(summed(part, show, { ...words, or: words.and })),
  phrase: (part, write) => `all of ${list(part, write)}`,
  // Tags cannot be folded by an expression.
  expression: (part, field) => (part.exact ? tagged(part, field).join(' && ') : null),
})
