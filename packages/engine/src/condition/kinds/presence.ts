import * as z from 'zod/mini'
import '../../zod.ts'
import { conditionKind, EVERY } from './kind.ts'
import { nameOf } from './written.ts'

export const missing = conditionKind({
  name: 'missing',
  description: 'There is no value.',
  schema: z.object({ kind: z.literal('missing') }),
  types: EVERY,
  ask: () => ({ by: 'presence', missing: true }),
  summary: (_part, _show, words) => words.missing,
  phrase: ({ kind }) => kind,
  expression: (_part, field) => `!has(${nameOf(field)})`,
})

export const present = conditionKind({
  name: 'present',
  description: 'There is a value.',
  schema: z.object({ kind: z.literal('present') }),
  types: EVERY,
  ask: () => ({ by: 'presence', missing: false }),
  summary: (_part, _show, words) => words.present,
  phrase: ({ kind }) => kind,
  expression: (_part, field) => `has(${nameOf(field)})`,
})
