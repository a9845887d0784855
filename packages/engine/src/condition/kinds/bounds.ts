import * as z from 'zod/mini'
import '../../zod.ts'
import type { Field } from '../../table/column.ts'
import { spanOf } from '../amount.ts'
import {
  amountSchema,
  conditionKind,
  NUMERIC,
  type Amount,
  type Ask,
  type AskedOf,
  type Bound,
  type Span,
} from './kind.ts'
import { between, literal, nameOf } from './written.ts'
import { ANY_CLOCK } from '../clock.ts'

/** Leaves an end open. */
const OPEN: Span = { from: -Infinity, to: Infinity }

const valued = z.object({ value: amountSchema })

/** Asks for what lies between two amounts; an end that is not given is open. */
function askBetween(
  from: Amount | undefined,
  to: Amount | undefined,
  of: AskedOf,
  ends: (from: Span, to: Span) => Omit<Extract<Ask, { by: 'spans' }>, 'by' | 'spans'> & Span,
): Ask {
  const spans: Span[] = []
  for (const amount of [from, to]) {
    const span = amount === undefined ? OPEN : spanOf(amount, of)
    if (!span)
      return { by: 'nothing', problem: { code: 'not-readable', text: String(amount), type: of.field.type } }
    spans.push(span)
  }
  const { from: low, to: high, ...turned } = ends(spans[0], spans[1])
  return { by: 'spans', spans: [{ from: low, to: high }], ...turned }
}

/** Beyond a bound, which is left out itself. */
function beyond(sign: '>' | '<', bound: Bound | undefined, field: Field): string | null {
  const said = bound === undefined ? null : literal(bound, field)
  return said && `${nameOf(field)} ${sign} ${said}`
}

export const above = conditionKind({
  name: 'above',
  description: 'More than `value`; later than all of the time that it names.',
  schema: z.extend(valued, { kind: z.literal('above') }),
  types: NUMERIC,
  ask: ({ value }, of) =>
    askBetween(value, undefined, of, low => ({ from: low.to, to: Infinity, above: true })),
  summary: (part, show, words) => words.above(show(part.value)),
  phrase: (part, { value }) => `> ${value(part.value)}`,
  expression: (part, field) => beyond('>', spanOf(part.value, { field, clock: ANY_CLOCK })?.to, field),
})

export const atLeast = conditionKind({
  name: 'at-least',
  description: '`value` or more.',
  schema: z.extend(valued, { kind: z.literal('at-least') }),
  types: NUMERIC,
  ask: ({ value }, of) => askBetween(value, undefined, of, low => ({ from: low.from, to: Infinity })),
  summary: (part, show, words) => words.atLeast(show(part.value)),
  phrase: (part, { value }) => `>= ${value(part.value)}`,
  expression: (part, field) => between(part.value, undefined, field),
})

export const below = conditionKind({
  name: 'below',
  description: 'Less than `value`; earlier than all of the time that it names.',
  schema: z.extend(valued, { kind: z.literal('below') }),
  types: NUMERIC,
  ask: ({ value }, of) =>
    askBetween(undefined, value, of, (_, high) => ({ from: -Infinity, to: high.from, below: true })),
  summary: (part, show, words) => words.below(show(part.value)),
  phrase: (part, { value }) => `< ${value(part.value)}`,
  expression: (part, field) => beyond('<', spanOf(part.value, { field, clock: ANY_CLOCK })?.from, field),
})

export const atMost = conditionKind({
  name: 'at-most',
  description: '`value` or less.',
  schema: z.extend(valued, { kind: z.literal('at-most') }),
  types: NUMERIC,
  ask: ({ value }, of) => askBetween(undefined, value, of, (_, high) => ({ from: -Infinity, to: high.to })),
  summary: (part, show, words) => words.atMost(show(part.value)),
  phrase: (part, { value }) => `<= ${value(part.value)}`,
  expression: (part, field) => between(undefined, part.value, field),
})

/** From an amount up to an amount, both ends included; an end that is left out is open. */
export const range = conditionKind({
  name: 'range',
  description: 'From `from` up to `to`, both included; either may be left out.',
  schema: z
    .object({ kind: z.literal('range'), from: z.optional(amountSchema), to: z.optional(amountSchema) })
    .check(
      z.refine(part => part.from !== undefined || part.to !== undefined, 'A range needs at least one end.'),
    ),
  types: NUMERIC,
  ask: ({ from, to }, of) => askBetween(from, to, of, (low, high) => ({ from: low.from, to: high.to })),
  summary: ({ from, to }, show, words) => {
    if (from === undefined) return to === undefined ? '' : words.atMost(show(to))
    return to === undefined ? words.atLeast(show(from)) : words.between(show(from), show(to))
  },
  phrase: ({ from, to }, { value }) =>
    [from, to].map(end => (end === undefined ? '' : value(end))).join('..'),
  expression: ({ from, to }, field) => between(from, to, field),
})
