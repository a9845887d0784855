import * as z from 'zod/mini'
import '../../zod.ts'
import { fold, stripAccents } from '../../search/fold.ts'
import type { Field } from '../../table/column.ts'
import { compared, nameOf } from './written.ts'
import { conditionKind, TEXT, type Ask, type TextTest } from './kind.ts'

export const exactly = z
  .optional(z.boolean())
  .check(z.describe('Whether case and accents count; else they are folded.'))

const texted = z.object({ text: z.string().check(z.minLength(1)), exact: exactly })

/** A question about the text: folded, or as the data holds it. `contained`: every match contains the wanted text. */
export function askText(
  { text, exact }: Texted,
  compare: (text: string, wanted: string) => boolean,
  none = false,
): Ask {
  if (exact) return { by: 'exact', test: given => compare(given, text), none }
  const wanted = fold(text)
  return { by: 'text', test: given => compare(given, wanted), holds: [wanted], none }
}

type Texted = { readonly text: string; readonly exact?: boolean }

/** A function of texts, called on the field. */
function called({ text, exact }: Texted, field: Field, name: string): string | null {
  if (field.type !== 'text') return null
  const of = compared(field, exact)
  return `${of.name}.${name}(${of.text(text)})`
}

export const contains = conditionKind({
  name: 'contains',
  description: 'The text holds `text`.',
  schema: z.extend(texted, { kind: z.literal('contains') }),
  types: TEXT,
  ask: part => askText(part, (text, wanted) => text.includes(wanted)),
  summary: (part, show, words) => words.contains(show(part.text)),
  phrase: (part, { quoted }) => `contains ${quoted(part.text)}`,
  expression: (part, field) => called(part, field, 'contains'),
})

export const excludes = conditionKind({
  name: 'excludes',
  description: 'The text does not hold `text`.',
  schema: z.extend(texted, { kind: z.literal('excludes') }),
  types: TEXT,
  ask: part => askText(part, (text, wanted) => text.includes(wanted), true),
  summary: (part, show, words) => words.excludes(show(part.text)),
  phrase: (part, { quoted }) => `not contains ${quoted(part.text)}`,
  expression: (part, field) => {
    const contained = called(part, field, 'contains')
    return contained && `has(${nameOf(field)}) && !${contained}`
  },
})

export const starts = conditionKind({
  name: 'starts',
  description: 'The text begins with `text`.',
  schema: z.extend(texted, { kind: z.literal('starts') }),
  types: TEXT,
  ask: part => askText(part, (text, wanted) => text.startsWith(wanted)),
  summary: (part, show, words) => words.starts(show(part.text)),
  phrase: (part, { quoted }) => `starts ${quoted(part.text)}`,
  expression: (part, field) => called(part, field, 'startsWith'),
})

export const ends = conditionKind({
  name: 'ends',
  description: 'The text ends with `text`.',
  schema: z.extend(texted, { kind: z.literal('ends') }),
  types: TEXT,
  ask: part => askText(part, (text, wanted) => text.endsWith(wanted)),
  summary: (part, show, words) => words.ends(show(part.text)),
  phrase: (part, { quoted }) => `ends ${quoted(part.text)}`,
  expression: (part, field) => called(part, field, 'endsWith'),
})

/** A pattern in RE2 syntax that matches anywhere in the text; time linear in the text, whatever the pattern. */
export const pattern = conditionKind({
  name: 'pattern',
  description: 'The `pattern`, in RE2 syntax, matches somewhere in the text.',
  schema: z.object({ kind: z.literal('pattern'), pattern: z.string().check(z.minLength(1)), exact: exactly }),
  types: TEXT,
  ask: ({ pattern, exact }, { pattern: compile }): Ask => {
    if (!compile) return { by: 'nothing', problem: { code: 'patterns-not-there' } }
    // Accents come off the pattern as off the text; its letters of syntax are ASCII and stay.
    const test: TextTest | null = compile(exact ? pattern : `(?i)${stripAccents(pattern)}`)
    if (!test || !compile(pattern))
      return { by: 'nothing', problem: { code: 'not-a-pattern', text: pattern } }
    return exact ? { by: 'exact', test } : { by: 'text', test }
  },
  summary: (part, _show, words) => words.pattern(`/${part.pattern}/`),
  phrase: ({ pattern }, { quoted }) => {
    // A slash, or an end that escapes the closing one, cannot stand between slashes.
    const plain = !/["“”/]/.test(pattern) && !/\\$/.test(pattern)
    return plain ? `/${pattern}/` : `pattern ${quoted(pattern)}`
  },
  expression: ({ pattern, exact }, field) => {
    if (field.type !== 'text') return null
    const wanted = exact ? pattern : `(?i)${stripAccents(pattern)}`
    return `${compared(field, exact).name}.matches(${JSON.stringify(wanted)})`
  },
})
