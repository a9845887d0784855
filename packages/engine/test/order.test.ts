import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { sortByCodes } from '../src/order/counting.ts'
import { scaledCodes, sortByWideKeys, wideKeys } from '../src/order/number-codes.ts'
import { sortTexts, textComparer } from '../src/order/sort-texts.ts'
import { textBlockOf } from '../src/table/text-block.ts'
import { finish } from '../src/work/work.ts'
import { runs } from './support/runs.ts'

const iota = (n: number): number[] => Array.from({ length: n }, (_, i) => i)

describe('sorting by codes', () => {
  it('is the stable sort, with missing rows last in both directions', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 9 }), { maxLength: 80 }),
        fc.constantFrom(9, 200_000),
        fc.boolean(),
        fc.boolean(),
        (raw, size, descending, some) => {
          // 9 stands for a missing value; a large size takes the radix way.
          const codes = Uint32Array.from(raw, code => (code === 9 ? size : code * Math.floor(size / 9)))
          const rows = some ? Uint32Array.from(iota(raw.length).filter(i => i % 3 !== 0)).reverse() : null
          const sorted = finish(sortByCodes({ codes, size }, rows, descending))
          const expected = [...(rows ?? iota(raw.length))].sort((a, b) => {
            if (raw[a] === 9 || raw[b] === 9) return Number(raw[a] === 9) - Number(raw[b] === 9)
            return descending ? raw[b] - raw[a] : raw[a] - raw[b]
          })
          expect([...sorted]).toEqual(expected)
        },
      ),
      runs(500),
    )
  })

  it('leaves the rows it was given as they were', () => {
    const rows = Uint32Array.from([2, 0, 1])
    finish(sortByCodes({ codes: Uint32Array.from([1, 1, 1]), size: 500_000 }, rows, false))
    expect([...rows]).toEqual([2, 0, 1])
  })
})

describe('sorting numbers of any kind', () => {
  it('is the stable numeric sort, −0 beside 0, infinities at the ends', () => {
    const number = fc.oneof(
      fc.double({ noNaN: true }),
      fc.constantFrom(0, -0, Infinity, -Infinity, 1e-320, 5e-324, 1, 1 + Number.EPSILON),
    )
    fc.assert(
      fc.property(fc.array(number, { maxLength: 100 }), fc.boolean(), (values, descending) => {
        const column = { kind: 'number' as const, values: Float64Array.from(values), missing: null }
        const keys = finish(wideKeys(column, descending))
        const sorted = finish(sortByWideKeys(keys, null, values.length))
        const sign = descending ? -1 : 1
        const expected = iota(values.length).sort((a, b) =>
          values[a] === values[b] ? 0 : values[a] < values[b] ? -sign : sign,
        )
        expect([...sorted]).toEqual(expected)
      }),
      runs(500),
    )
  })

  it('settles long runs of equal high words by the low ones', () => {
    const values = Float64Array.from(iota(300), i => 1 + ((i * 7919) % 300) * Number.EPSILON)
    const keys = finish(wideKeys({ kind: 'number', values, missing: null }, false))
    const sorted = [...finish(sortByWideKeys(keys, null, 300))].map(row => values[row])
    expect(sorted).toEqual([...values].sort((a, b) => a - b))
  })

  it('counts scaled whole numbers only where that is exact', () => {
    const codesOf = (values: number[]) =>
      finish(scaledCodes({ kind: 'number', values: Float64Array.from(values), missing: null }))
    expect(codesOf([0.1, 0.25, -3])).toMatchObject({ scale: 100, base: -300, size: 326 })
    expect(codesOf([0.1 + 0.2])).toBeNull()
    expect(codesOf([1e12, 0])).toBeNull()
    expect(codesOf([Infinity, 0])).toBeNull()
    expect(codesOf([])).toMatchObject({ size: 0 })
  })
})

describe('sorting texts', () => {
  const letters = 'abcdefghijklmnopqrstuvwxyzABCXYZ0123456789 -_.,éÉüñçßæøåłđ"\'()%ıİ中\u0301\u00ad'
  const text = fc.string({ unit: fc.constantFrom(...letters), maxLength: 24 })

  it.each(['en', 'de', 'sv', 'cs', 'da', 'pl', 'hu', 'es', 'lt', 'vi', 'cy', 'ja'])(
    'agrees with the collator on thousands of texts (%s)',
    locale => {
      const collator = new Intl.Collator(locale)
      const compare = textComparer(collator)
      fc.assert(
        fc.property(fc.array(text, { minLength: 40, maxLength: 120 }), texts => {
          // Enough texts to take the way by prefixes; many share one, as remarks do.
          const many = Array.from(
            { length: 2100 },
            (_, i) => texts[i % texts.length].slice(0, (i % 9) * 3) + texts[(i * 7) % texts.length],
          )
          const sorted = [...finish(sortTexts(textBlockOf(many), collator))].map(i => many[i])
          for (let i = 1; i < sorted.length; i++) {
            if (compare(sorted[i - 1], sorted[i]) > 0)
              expect.fail(`${JSON.stringify(sorted[i - 1])} stands before ${JSON.stringify(sorted[i])}`)
          }
          expect(sorted.length).toBe(many.length)
        }),
        runs(6),
      )
    },
  )

  it('tells texts apart that are alike over more characters than are packed', () => {
    const collator = new Intl.Collator('en')
    const compare = textComparer(collator)
    const tail = fc.string({ unit: fc.constantFrom('a', 'A', 'á', 'b', ' '), maxLength: 5 })
    fc.assert(
      fc.property(fc.array(tail, { minLength: 20, maxLength: 80 }), tails => {
        const many = Array.from({ length: 2100 }, (_, i) => {
          const head = ['sedge on the wet meadow ', 'Sedge on the wet meadow ', 'sédge on the wét meadow '][
            i % 3
          ]
          return head.slice(0, 12 + (i % 13)) + tails[(i * 7) % tails.length]
        })
        const sorted = [...finish(sortTexts(textBlockOf(many), collator))]
        const plain = [...many.keys()].sort((a, b) => compare(many[a], many[b]) || a - b)
        expect(sorted).toEqual(plain)
      }),
      runs(20),
    )
  })
})
