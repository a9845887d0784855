import * as z from 'zod/mini'
import '../zod.ts'
import type { FieldType } from '../table/column.ts'

const whole = z.int().check(z.minimum(1))

/** What of a date or a moment makes a group. */
export const DATE_PARTS = ['year', 'quarter', 'month', 'week', 'weekday', 'day', 'hour'] as const
export type DatePart = (typeof DATE_PARTS)[number]

/** By what values fall into one group. Rows without a value are a group of their own. */
export const bucketSchema = z.discriminatedUnion('by', [
  z.object({ by: z.literal('value') }).check(z.describe('Each value is a group.')),
  z.object({ by: z.literal('shown') }).check(z.describe('Values that are written alike are a group.')),
  z
    .object({
      by: z.literal('range'),
      step: z.number().check(z.positive()).check(z.describe('How wide each range is.')),
      origin: z._default(z.number(), 0).check(z.describe('Where one of them begins.')),
    })
    .check(z.describe('Ranges of numbers that are equally wide; the lower end belongs to each.')),
  z
    .object({ by: z.literal('breaks'), at: z.array(z.number()).check(z.minLength(1), z.maxLength(1000)) })
    .check(
      z.refine(({ at }) => at.every((value, i) => i === 0 || value > at[i - 1]), 'Breaks must ascend.'),
      z.describe('Ranges of numbers between given breaks; each break belongs to the range above it.'),
    ),
  z
    .object({ by: z.literal('parts'), count: whole.check(z.maximum(1000)) })
    .check(z.describe('About as many rows in each; equal values are never parted.')),
  z
    .object({
      by: z.literal('date'),
      part: z.enum(DATE_PARTS),
      every: z._default(z.boolean(), false).check(z.describe('“Every March” instead of “March 2024”.')),
    })
    .check(
      z.refine(({ part, every }) => part !== 'year' || !every, 'A year comes once.'),
      z.describe('A part of the date; weeks begin on Monday, as in ISO 8601.'),
    ),
  z
    .object({ by: z.literal('letters'), count: z._default(whole.check(z.maximum(20)), 1) })
    .check(z.describe('The first letters, without regard to case and accents.')),
  z
    .object({ by: z.literal('expression'), expression: z.string() })
    .check(z.describe('What an expression over any fields comes to.')),
])

export type Bucket = z.infer<typeof bucketSchema>

const NUMBERS: readonly FieldType[] = ['integer', 'number']
const DATES: readonly FieldType[] = ['date', 'datetime']

/** The ways in which a bucket may be cut. */
export type BucketKind = Bucket['by']

/** Whether a column of the type can fall into groups so. */
export function bucketFits({ by, ...more }: Bucket, type: FieldType): boolean {
  switch (by) {
    case 'value':
    case 'shown':
    case 'expression':
      return true
    case 'letters':
      return type === 'text'
    case 'date':
      return DATES.includes(type) || (type === 'time' && 'part' in more && more.part === 'hour')
    default:
      return NUMBERS.includes(type)
  }
}

/** The ways in which a column of the type can be cut, in the order in which editors offer them. */
export function bucketsFor(type: FieldType): BucketKind[] {
  const own: BucketKind[] = NUMBERS.includes(type)
    ? ['range', 'breaks', 'parts']
    : DATES.includes(type) || type === 'time'
      ? ['date']
      : type === 'text'
        ? ['letters']
        : []
  return [...own, 'value', 'shown', 'expression']
}
