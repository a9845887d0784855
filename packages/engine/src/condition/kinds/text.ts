import * as z from 'zod/mini'
import '../../zod.ts'
import { fold, stripAccents } from '../../search/fold.ts'
import { conditionKind, TEXT, type Ask, type TextTest } from './kind.ts'

export const exactly = z
  .optional(z.boolean())
  .check(z.describe('Whether case and accents count; else they are folded.'))

const texted = z.object({ text: z.string().check(z.minLength(1)), exact: exactly })

/** A question about the text: folded, or as the data holds it. `contained`: every match contains the wanted text. */
export function askText(
  { text, exact }: { readonly text: string; readonly exact?: boolean },
  compare: (text: string, wanted: string) => boolean,
  none = false,
): Ask {
  if (exact) return { by: 'exact', test: given => compare(given, text), none }
  const wanted = fold(text)
  return { by: 'text', test: given => compare(given, wanted), holds: [wanted], none }
}

export const contains = conditionKind({
  name: 'contains',
  help: 'The text holds `text`.',
  schema: z.extend(texted, { kind: z.literal('contains') }),
  types: TEXT,
  ask: part => askText(part, (text, wanted) => text.includes(wanted)),
  summary: (part, show, words) => words.contains(show(part.text)),
})

export const excludes = conditionKind({
  name: 'excludes',
  help: 'The text does not hold `text`.',
  schema: z.extend(texted, { kind: z.literal('excludes') }),
  types: TEXT,
  ask: part => askText(part, (text, wanted) => text.includes(wanted), true),
  summary: (part, show, words) => words.excludes(show(part.text)),
})

export const starts = conditionKind({
  name: 'starts',
  help: 'The text begins with `text`.',
  schema: z.extend(texted, { kind: z.literal('starts') }),
  types: TEXT,
  ask: part => askText(part, (text, wanted) => text.startsWith(wanted)),
  summary: (part, show, words) => words.starts(show(part.text)),
})

export const ends = conditionKind({
  name: 'ends',
  help: 'The text ends with `text`.',
  schema: z.extend(texted, { kind: z.literal('ends') }),
  types: TEXT,
  ask: part => askText(part, (text, wanted) => text.endsWith(wanted)),
  summary: (part, show, words) => words.ends(show(part.text)),
})

/** A pattern in RE2 syntax that matches anywhere in the text; time linear in the text, whatever the pattern. */
export const pattern = conditionKind({
  name: 'pattern',
  help: 'The `pattern`, in RE2 syntax, matches somewhere in the text.',
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
})
