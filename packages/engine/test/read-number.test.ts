import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ConditionPart } from '../src/condition/condition.ts'
import { printPhrase, readPhrase } from '../src/condition/phrase.ts'
import type { Format } from '../src/table/format.ts'
import { numberSigns, plainDigits } from '../src/table/read-number.ts'
import { shower } from '../src/table/shown-text.ts'

const LOCALES = ['en-GB', 'de-DE', 'fr-FR', 'de-CH', 'en-IN', 'sv-SE']
const STYLES = ['grouped', 'currency', 'unit', 'percent'] as const
const field = { key: 'n', type: 'number' as const, decimals: 2 }

describe('amounts as a column writes them', () => {
  it('are read back as the number that is shown, in any language and style', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...LOCALES.filter(locale => locale !== 'en-IN')),
        fc.constantFrom(...STYLES),
        fc.integer({ min: -99_999_999_99, max: 99_999_999_99 }),
        (locale, number, hundredths) => {
          const format: Format = { number, locale, decimals: 2, unit: 'kilometer' }
          const value = number === 'percent' ? hundredths / 10_000 : hundredths / 100
          const shown = shower(field, format)(value)
          expect(Number(plainDigits(shown, numberSigns(format)!))).toBeCloseTo(value, 8)
          const read = readPhrase(`= ${shown}`, { field, format })
          expect(read).toMatchObject({ ok: true, condition: { parts: [{ kind: 'equals' }] } })
        },
      ),
    )
  })

  it.each([
    ['5,000', 'en-GB', { kind: 'equals', value: 5000 }],
    ['> 5,000', 'en-GB', { kind: 'above', value: 5000 }],
    ['1,000..2,500.5', 'en-GB', { kind: 'range', from: 1000, to: 2500.5 }],
    ['one of 1,000, 2,000, 3', 'en-GB', { kind: 'one-of', values: [1000, 2000, 3] }],
    ['one of 1,2,3', 'en-GB', { kind: 'one-of', values: [1, 2, 3] }],
    ['1.234,5', 'de-DE', { kind: 'equals', value: 1234.5 }],
    ['one of 1,5, 2,5', 'de-DE', { kind: 'one-of', values: [1.5, 2.5] }],
    ['5000.5', 'de-DE', { kind: 'equals', value: 5000.5 }],
    ['12 345,5', 'fr-FR', { kind: 'equals', value: 12345.5 }],
  ])('%s in %s', (phrase, locale, part) => {
    const read = readPhrase(phrase, { field, format: { number: 'grouped', locale } })
    expect(read).toEqual({ ok: true, condition: { match: 'all', parts: [part] } })
  })

  it('are written so that they are read back as the same', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...LOCALES),
        fc.constantFrom(...STYLES),
        fc.array(fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e9, max: 1e9 }), {
          minLength: 1,
          maxLength: 3,
        }),
        (locale, number, values) => {
          const of = { field, format: { number, locale } }
          const [first, second] = [Math.min(...values) || 0, Math.max(...values) || 0]
          const parts: ConditionPart[] = [
            { kind: 'equals', value: first },
            { kind: 'at-least', value: first },
            { kind: 'range', from: first, to: second },
            { kind: 'one-of', values: [first, second] },
          ]
          for (const part of parts) {
            const read = readPhrase(printPhrase({ match: 'all', parts: [part] }, of), of)
            expect(read).toEqual({ ok: true, condition: { match: 'all', parts: [part] } })
          }
        },
      ),
    )
  })

  it('are refused where they are no amounts, and plain columns know no thousands', () => {
    for (const phrase of ['5,000x', '1.2.3', '> 5,00', '1,000 2'])
      expect(readPhrase(phrase, { field, format: { number: 'grouped', locale: 'en-GB' } }).ok).toBe(false)
    expect(readPhrase('= 5,000', { field }).ok).toBe(false)
    expect(numberSigns({ number: 'plain' })).toBeNull()
    expect(numberSigns({ number: 'grouped', locale: 'no language' })).toBeNull()
  })
})
