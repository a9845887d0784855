import * as z from 'zod/mini'
import '../zod.ts'
import { DATE_STYLES } from '../table/format.ts'
import { NUMBER_STYLES } from '../table/format.ts'
import { zoneOffset } from '../table/zone.ts'

const accepts = (make: () => unknown): boolean => {
  try {
    make()
    return true
  } catch {
    return false
  }
}

/** A BCP 47 tag that the language knows how to read. */
export const localeSchema = z.string().check(
  z.refine(
    // Names of languages have the form of a tag; all that stand for a language are two or three letters long.
    tag => /^[a-z]{2,3}(-|$)/i.test(tag) && accepts(() => Intl.getCanonicalLocales(tag)),
    'This is no BCP 47 tag such as "en-GB".',
  ),
)

export const formatSchema = z.object({
  decimals: z
    .optional(z.int().check(z.minimum(0), z.maximum(15)))
    .check(z.describe('Digits after the point; else as many as the data was written with.')),
  number: z
    .optional(z.enum(NUMBER_STYLES))
    .check(
      z.describe(
        '`plain`: 1204.5; `grouped`: 1,204.5; `compact`: 1.2K; `percent`: 0.25 as 25%; `currency` and `unit`: with theirs.',
      ),
    ),
  currency: z
    .optional(
      z
        .string()
        .check(
          z.refine(
            code => accepts(() => new Intl.NumberFormat('en', { style: 'currency', currency: code })),
            'This is no ISO 4217 code such as "EUR".',
          ),
        ),
    )
    .check(z.describe('ISO 4217 code, for `currency`.')),
  unit: z
    .optional(
      z
        .string()
        .check(
          z.refine(
            unit => accepts(() => new Intl.NumberFormat('en', { style: 'unit', unit })),
            'This is no unit such as "kilometer-per-hour".',
          ),
        ),
    )
    .check(z.describe('CLDR name, for `unit`, for example `kilometer-per-hour`.')),
  date: z
    .optional(z.enum(DATE_STYLES))
    .check(
      z.describe(
        '`iso`: 2024-06-14; `short`, `medium`, `long` and `month` in the words of the locale; `relative`: 3 days ago.',
      ),
    ),
  zone: z
    .optional(
      z
        .string()
        .check(z.refine(zone => zoneOffset(zone) !== null, 'This is no IANA zone such as "Europe/Madrid".')),
    )
    .check(z.describe('IANA zone that instants are shown in; else that of the definition, else UTC.')),
  yes: z.optional(z.string()).check(z.describe('What is shown for true.')),
  no: z.optional(z.string()).check(z.describe('What is shown for false.')),
  locale: z.optional(localeSchema).check(z.describe('BCP 47 tag; else that of the definition.')),
})
