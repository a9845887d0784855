import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { facetsOf } from '../src/question/facets.ts'
import { summarize } from '../src/question/summarize.ts'
import { tableFromRows } from '../src/read/rows/read-rows.ts'
import {
  compareDigits,
  differenceOfDigits,
  digitsOfUnits,
  isToldByDouble,
  plainNumber,
  withDecimals,
} from '../src/table/digits.ts'
import { isDigitColumn, valueAt, type Table } from '../src/table/column.ts'
import { shower } from '../src/table/shown-text.ts'
import { finish } from '../src/work/work.ts'
import { settleText } from '../src/read/types/settle-text.ts'
import { TextBuilder } from '../src/table/text-builder.ts'
import { privateMemory } from '../src/table/allocate.ts'
import { askedOf } from './support/asked.ts'
import { flowOver } from './support/flow-over.ts'
import { PLAIN } from './support/random-table.ts'
import { runs } from './support/runs.ts'

/** A number as whole units of 12 decimals: the plain way of comparing and adding. */
const SCALE = 12n
const units = (digits: string): bigint => {
  const [whole, fraction = ''] = digits.replace('-', '').split('.')
  const value = BigInt(whole + fraction.padEnd(Number(SCALE), '0'))
  return digits.startsWith('-') ? -value : value
}
const number = fc
  .tuple(
    fc.bigInt({ min: -(10n ** 24n), max: 10n ** 24n }),
    fc.constantFrom(0, 1, 2, 5, 12),
    fc.constantFrom(1n, 10n ** 9n, 10n ** 20n),
  )
  .map(([value, scale, divisor]) => digitsOfUnits(value / divisor, scale))

describe('plain digits', () => {
  it('are one for each number, and read as the language does', () => {
    for (const [text, plain] of [
      ['1e3', '1000'],
      ['-0', '0'],
      ['-0.00', '0'],
      ['007.50', '7.5'],
      ['.5', '0.5'],
      ['5.', '5'],
      ['12e-3', '0.012'],
      ['+1.50E+1', '15'],
      ['', null],
      ['.', null],
      ['1e', null],
      ['0x1', null],
      ['1e99999', null],
    ] as const)
      expect([text, plainNumber(text)]).toEqual([text, plain])
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), value => {
        expect(Number(plainNumber(String(value)))).toBe(value === 0 ? 0 : value)
      }),
      runs(500),
    )
  })

  it('compare, differ and round as whole units do', () => {
    fc.assert(
      fc.property(number, number, fc.nat(12), (a, b, decimals) => {
        expect(Math.sign(compareDigits(a, b))).toBe(Math.sign(Number(units(a) - units(b))))
        expect(units(differenceOfDigits(a, b))).toBe(units(a) - units(b))
        const step = 10n ** (SCALE - BigInt(decimals))
        const rounded = withDecimals(a, decimals)
        expect(rounded.split('.')[1]?.length ?? 0).toBe(decimals)
        const off = units(rounded) - units(a)
        expect((off < 0n ? -off : off) * 2n <= step).toBe(true)
      }),
      runs(500),
    )
  })

  it('are told by a double where that gives them back', () => {
    for (const [digits, told] of [
      ['0.35', true],
      ['123456789012345', true],
      ['9007199254740991', true],
      ['9007199254740993', false],
      ['1234567890123456.78', false],
      ['0.1000000000000000055511151231257827', false],
      ['0.30000000000000004', true],
      ['0.10000000000000001', true],
      ['0.12345678901234568', true],
      ['0.123456789012345678', false],
    ] as const)
      expect([digits, isToldByDouble(digits)]).toEqual([digits, told])
  })
})

/** A column of numbers that doubles do not tell, with and without a dictionary. */
function tableOf(numbers: readonly (string | null)[], isPlain: boolean): Table {
  const texts = new TextBuilder()
  for (const text of numbers) {
    if (text === null) texts.addMissing()
    else texts.addText(text)
  }
  const settled = finish(settleText('n', texts.finish(), numbers.length, undefined, true, privateMemory))
  const { column } = settled
  if (!isDigitColumn(column)) throw new Error(settled.field.type)
  if (!isPlain || column.kind !== 'coded')
    return { rows: numbers.length, fields: [settled.field], columns: [column] }
  const all = numbers.map((_, row) => valueAt(column, row))
  const bytes = all.map(text => new TextEncoder().encode(text === null ? '' : String(text)))
  const offsets = Uint32Array.from([
    0,
    ...bytes.map(
      (
        (sum: number) => (part: Uint8Array) =>
          (sum += part.length)
      )(0),
    ),
  ])
  const block = { bytes: Uint8Array.from(bytes.flatMap(part => [...part])), offsets }
  const plain = { kind: 'plain' as const, digits: true as const, texts: block, missing: column.missing }
  return { rows: numbers.length, fields: [settled.field], columns: [plain] }
}

const ODD = '1234567890123456789012.5'

describe('a column of numbers that no double tells apart', () => {
  const numbers = fc.array(fc.option(number, { freq: 6 }), { maxLength: 40 }).map(some => [ODD, ...some])

  it('is ordered as the numbers are, either way round', () => {
    fc.assert(
      fc.property(numbers, fc.boolean(), fc.boolean(), (all, descending, isPlain) => {
        const flow = flowOver(tableOf(all, isPlain))
        const { view } = finish(
          flow.arrange({
            ...PLAIN,
            searchColumns: ['n'],
            order: [{ column: 'n', direction: descending ? 'descending' : 'ascending' }],
          } as never),
        )
        const present = [...all.keys()].filter(row => all[row] !== null)
        const sign = descending ? -1 : 1
        const order = present.sort((a, b) => {
          const difference = units(all[a] ?? '') - units(all[b] ?? '')
          return difference === 0n ? a - b : difference < 0n ? -sign : sign
        })
        const missing = [...all.keys()].filter(row => all[row] === null)
        expect([...(view.rows ?? all.keys())]).toEqual([...order, ...missing])
      }),
      runs(150),
    )
  })

  it('is asked exactly', () => {
    fc.assert(
      fc.property(
        numbers,
        fc.nat(40),
        fc.constantFrom('equals', 'above', 'at-least', 'below', 'at-most', 'one-of', 'differs'),
        fc.boolean(),
        (all, nth, kind, isPlain) => {
          const asked = all[nth % all.length] ?? '0'
          const part = kind === 'one-of' ? { kind, values: [asked, '7'] } : { kind, value: asked }
          const flow = flowOver(tableOf(all, isPlain))
          const conditions = { n: { match: 'all' as const, parts: [part as never] } }
          const { view } = finish(flow.arrange({ ...PLAIN, searchColumns: ['n'], conditions }))
          const holds = (value: string): boolean => {
            const difference = units(value) - units(asked)
            switch (kind) {
              case 'equals':
                return difference === 0n
              case 'one-of':
                return difference === 0n || units(value) === units('7')
              case 'differs':
                return difference !== 0n
              case 'above':
                return difference > 0n
              case 'at-least':
                return difference >= 0n
              case 'below':
                return difference < 0n
              default:
                return difference <= 0n
            }
          }
          const wanted = [...all.keys()].filter(row => {
            const value = all[row]
            return value !== null && holds(value)
          })
          expect([...(view.rows ?? all.keys())]).toEqual(wanted)
        },
      ),
      runs(200),
    )
  })

  it('adds up exactly, and has its least, its greatest and their distance', () => {
    fc.assert(
      fc.property(numbers, fc.boolean(), (all, isPlain) => {
        const flow = flowOver(tableOf(all, isPlain))
        const answer = finish(
          summarize.answer(askedOf(flow), {
            request: { ...PLAIN, searchColumns: ['n'] },
            of: (['sum', 'minimum', 'maximum', 'range'] as const).map(summary => ({ column: 'n', summary })),
          }),
        )
        const present = all.filter(value => value !== null).map(units)
        const sum = present.reduce((a, b) => a + b, 0n)
        const least = present.reduce((a, b) => (a < b ? a : b))
        const most = present.reduce((a, b) => (a > b ? a : b))
        expect(answer.map(({ all: value }) => value)).toEqual(
          [sum, least, most, most - least].map(value => digitsOfUnits(value, Number(SCALE))),
        )
      }),
      runs(80),
    )
  })

  it('shows its decimals, as many as any of them has', () => {
    const table = tableOf([ODD, '3', '-0.25'], false)
    const show = shower(table.fields[0])
    expect([0, 1, 2].map(row => show(valueAt(table.columns[0], row)))).toEqual([
      '1234567890123456789012.50',
      '3.00',
      '-0.25',
    ])
    const money = shower(table.fields[0], { number: 'grouped', locale: 'en', decimals: 1 })
    expect(money(valueAt(table.columns[0], 0))).toBe('1,234,567,890,123,456,789,012.5')
  })

  it('lists its values, most frequent first', () => {
    const table = tableOf([ODD, '3', '3.0', null], false)
    const { values } = finish(
      facetsOf(flowOver(table), { ...PLAIN, searchColumns: ['n'] }, 'n', { limit: 9 }),
    )
    expect(values.map(({ value, count }) => [value, count])).toEqual([
      ['3', 2],
      [ODD, 1],
    ])
  })
})

describe('infinities among numbers', () => {
  const table = finish(
    tableFromRows([{ n: 1.5 }, { n: Infinity }, { n: null }, { n: -Infinity }, { n: NaN }, { n: -2 }]),
  )
  const passing = (part: object): number[] => {
    const conditions = { n: { match: 'all' as const, parts: [part as never] } }
    const { view } = finish(flowOver(table).arrange({ ...PLAIN, searchColumns: ['n'], conditions }))
    return [...(view.rows ?? [])]
  }

  it('are numbers beyond all others; what is no number is missing', () => {
    expect(table.fields[0].type).toBe('number')
    const order = (descending: boolean): number[] => {
      const request = {
        ...PLAIN,
        searchColumns: ['n'],
        order: [{ column: 'n', direction: descending ? 'descending' : 'ascending' }],
      }
      return [...(finish(flowOver(table).arrange(request as never)).view.rows ?? [])]
    }
    expect(order(false)).toEqual([3, 5, 0, 1, 2, 4])
    expect(order(true)).toEqual([1, 0, 5, 3, 2, 4])
    expect(passing({ kind: 'above', value: 1 })).toEqual([0, 1])
    expect(passing({ kind: 'equals', value: 'Infinity' })).toEqual([1])
    expect(passing({ kind: 'one-of', values: ['-Infinity', -2] })).toEqual([3, 5])
    expect(passing({ kind: 'missing' })).toEqual([2, 4])
    const { values } = finish(
      facetsOf(flowOver(table), { ...PLAIN, searchColumns: ['n'] }, 'n', { limit: 9 }),
    )
    expect(values.map(({ value }) => value)).toContain('-Infinity')
  })
})
