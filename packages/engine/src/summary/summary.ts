import * as z from 'zod/mini'
import '../zod.ts'
import type { Field, FieldType } from '../table/column.ts'

/** What a column comes to in a group. */
export const SUMMARY_NAMES = [
  'count',
  'present',
  'missing',
  'distinct',
  'sum',
  'mean',
  'minimum',
  'maximum',
  'range',
  'median',
  'deviation',
  'first',
  'last',
  'frequent',
  'same',
  'share',
  'share-of-parent',
] as const
export type SummaryName = (typeof SUMMARY_NAMES)[number]

export const summarySchema = z.union([
  z
    .enum(SUMMARY_NAMES)
    .check(
      z.describe(
        '`count` of rows, values `present`, `missing` and `distinct`; `deviation` is that of a sample; `frequent`: the value that most rows have; `same`: the value that all have, else none; `share`: of the sum of all rows.',
      ),
    ),
  z
    .object({ kind: z.literal('quantile'), at: z.number().check(z.minimum(0), z.maximum(1)) })
    .check(z.describe('The value below which that part of the values lies; 0.5 is the median.')),
  z
    .object({ kind: z.literal('expression'), expression: z.string() })
    .check(
      z.describe(
        'An expression over what rows come to, such as `sum(price * stock) / sum(stock)`: a ratio of sums is not a mean of ratios.',
      ),
    ),
  z
    .object({ kind: z.literal('own'), name: z.string() })
    .check(z.describe('Name of a summary among `parts.summaries`.')),
])
export type Summary = z.infer<typeof summarySchema>

/** What a summary is, without its particulars. */
export type SummaryKind = SummaryName | 'quantile' | 'expression' | 'own'
export const kindOf = (summary: Summary): SummaryKind =>
  typeof summary === 'string' ? summary : summary.kind

const NUMBERS: readonly FieldType[] = ['integer', 'number']
const YES_OR_NO: readonly FieldType[] = ['boolean']
const MOMENTS: readonly FieldType[] = ['date', 'datetime', 'time']

/** The types that a summary makes sense for; those that are not named make sense for all. */
const FITS: Readonly<Partial<Record<SummaryKind, readonly FieldType[]>>> = {
  sum: [...NUMBERS, ...YES_OR_NO],
  mean: [...NUMBERS, ...YES_OR_NO, ...MOMENTS],
  minimum: [...NUMBERS, ...MOMENTS, 'text'],
  maximum: [...NUMBERS, ...MOMENTS, 'text'],
  range: [...NUMBERS, 'date'],
  median: [...NUMBERS, ...MOMENTS],
  quantile: [...NUMBERS, ...MOMENTS],
  deviation: NUMBERS,
  share: [...NUMBERS, ...YES_OR_NO],
  'share-of-parent': [...NUMBERS, ...YES_OR_NO],
}

/** Whether a summary makes sense for a column of the type. */
export function summaryFits(summary: Summary, type: FieldType): boolean {
  return FITS[kindOf(summary)]?.includes(type) ?? true
}

/** The summaries that make sense for a type, `own` ones left out. */
export const summariesFor = (type: FieldType): SummaryName[] =>
  SUMMARY_NAMES.filter(name => summaryFits(name, type))

/** The summary that says most of a column of the type at first sight. */
export function usualSummary(type: FieldType): SummaryName {
  switch (type) {
    case 'number':
      return 'mean'
    case 'integer':
      return 'sum'
    case 'boolean':
      return 'mean'
    case 'date':
    case 'datetime':
      return 'maximum'
    case 'time':
      return 'median'
    default:
      return 'distinct'
  }
}

/** How what a summary comes to is written: as the column's values, as a number of rows, as a part of all, as days. */
export type SummaryShown = 'value' | 'mean' | 'count' | 'share' | 'days'

export function summaryShown(summary: Summary, type: FieldType): SummaryShown {
  switch (kindOf(summary)) {
    case 'count':
    case 'present':
    case 'missing':
    case 'distinct':
      return 'count'
    case 'sum':
      return type === 'boolean' ? 'count' : 'value'
    case 'mean':
      return type === 'boolean' ? 'share' : 'mean'
    case 'median':
    case 'quantile':
    case 'expression':
    case 'deviation':
      return 'mean'
    case 'range':
      return type === 'date' ? 'days' : 'value'
    case 'share':
    case 'share-of-parent':
      return 'share'
    default:
      return 'value'
  }
}

/** What a column comes to as a field of its own, which conditions can ask. */
export function summaryField(summary: Summary, field: Field): Field {
  const shown = summaryShown(summary, field.type)
  if (shown === 'count') return { key: field.key, type: 'integer' }
  const asIs = shown === 'value' || (shown === 'mean' && field.type !== 'integer')
  return asIs ? { ...field, wide: false } : { key: field.key, type: 'number' }
}
