import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { FieldType } from '../src/table/column.ts'
import { readOk, rowsOf } from './support/read-rows-back.ts'
import { runs } from './support/runs.ts'

// What a column of texts is, worked out the plain way: every value is tried as every type, one type after the other.

const plainNumber = (text: string): number | null =>
  /^-?(0|[1-9]\d*|(?=\.))(\.\d+)?(e[-+]?\d+)?$/i.test(text) &&
  /\d/.test(text) &&
  text.replace(/\D/g, '').length <= 15
    ? Number(text)
    : null
const commaNumber = (text: string): number | null =>
  /^-?(0|[1-9]\d*)?(,\d+)?$/.test(text) ? plainNumber(text.replace(',', '.')) : null
const grouped =
  (mark: string, point: string) =>
  (text: string): number | null => {
    const [whole, fraction] = text.replace(/^-/, '').split(point)
    const parts = whole.split(mark)
    const groups =
      parts.length > 1 &&
      /^[1-9]\d{0,2}$/.test(parts[0]) &&
      parts.slice(1).every(part => /^\d{3}$/.test(part))
    if (!groups && parts.length > 1) return null
    const plain =
      (text.startsWith('-') ? '-' : '') + parts.join('') + (fraction === undefined ? '' : `.${fraction}`)
    return fraction === '' ? null : plainNumber(plain)
  }
const day =
  (order: readonly number[]) =>
  (text: string): number | null => {
    const parts = /^(\d{1,4})([-/.])(\d{1,2})\2(\d{1,4})$/.exec(text)
    if (!parts) return null
    const [y, m, d] = order.map(place => parts[[1, 3, 4][place]])
    if (y.length !== 4 || m.length > 2 || d.length > 2) return null
    const date = new Date(Date.UTC(2000, 0, 1))
    date.setUTCFullYear(Number(y), Number(m) - 1, Number(d))
    const same = date.getUTCMonth() === Number(m) - 1 && date.getUTCDate() === Number(d)
    return same && Number(m) >= 1 ? date.getTime() / 864e5 : null
  }
const yesNo = (text: string): boolean | null =>
  /^(true|yes)$/i.test(text) ? true : /^(false|no)$/i.test(text) ? false : null
const clock = (text: string): number | null => {
  const parts = /^(\d{1,2}):(\d{2})(?::(\d{2}))?$/.exec(text)
  if (!parts) return null
  const [h, m, s] = [Number(parts[1]), Number(parts[2]), Number(parts[3] ?? 0)]
  return h < 24 && m < 60 && s < 60 ? ((h * 60 + m) * 60 + s) * 1000 : null
}

type Read = (text: string) => number | boolean | null
const TRIED: readonly [FieldType, Read][] = [
  ['number', plainNumber],
  ['number', grouped(',', '.')],
  ['number', commaNumber],
  ['number', grouped('.', ',')],
  ['boolean', yesNo],
  ['time', clock],
  ['date', day([0, 1, 2])],
  ['date', day([2, 1, 0])],
  ['date', day([2, 0, 1])],
]

function inferred(texts: readonly (string | null)[]): { type: FieldType; values: unknown[] } {
  const present = texts.filter(text => text !== null)
  for (const [type, read] of TRIED) {
    if (present.length === 0 || present.some(text => read(text) === null)) continue
    const values = texts.map(text => (text === null ? null : read(text)))
    return { type, values }
  }
  return { type: 'text', values: [...texts] }
}
const digits = fc.integer({ min: 0, max: 99_999 })
const pad = (n: number, to = 2): string => String(n).padStart(to, '0')
const KINDS: Readonly<Record<string, fc.Arbitrary<string>>> = {
  whole: digits.map(String),
  negative: digits.map(n => `-${n + 1}`),
  decimal: fc.tuple(digits, digits).map(([a, b]) => `${a}.${b}`),
  comma: fc.tuple(digits, fc.integer({ min: 0, max: 99 })).map(([a, b]) => `${a},${b}`),
  grouped: digits.map(n => `${(n % 999) + 1},${pad(n % 1000, 3)}.${n % 10}`),
  yesNo: fc.constantFrom('yes', 'No', 'TRUE', 'false'),
  clock: fc.tuple(fc.nat(23), fc.nat(59)).map(([h, m]) => `${pad(h)}:${pad(m)}`),
  iso: fc
    .tuple(
      fc.integer({ min: 1990, max: 2030 }),
      fc.integer({ min: 1, max: 12 }),
      fc.integer({ min: 1, max: 31 }),
    )
    .map(([y, m, d]) => `${y}-${pad(m)}-${pad(d)}`),
  slashed: fc
    .tuple(fc.integer({ min: 1, max: 31 }), fc.integer({ min: 1, max: 31 }))
    .map(([a, b]) => `${pad(a)}/${pad(b)}/2024`),
  name: fc.constantFrom('a', '007', 'n/a', '1.', '--', '12-3', '2024-02-30', 'maybe', '25:00'),
}

/** Mostly one kind, now and then a value of another, and gaps. */
const column = fc
  .constantFrom(...Object.keys(KINDS))
  .chain(kind =>
    fc.array(
      fc.oneof(
        { weight: 30, arbitrary: KINDS[kind] },
        { weight: 1, arbitrary: fc.oneof(...Object.values(KINDS)) },
        { weight: 3, arbitrary: fc.constant(null) },
      ),
      { minLength: 1, maxLength: 25 },
    ),
  )

describe('the type of a column', () => {
  it('is what every value of it says, tried the plain way', async () => {
    await fc.assert(
      fc.asyncProperty(column, async texts => {
        const csv = `c\tx\n${texts.map(text => `${text ?? ''}\tq`).join('\n')}\n`
        const { table } = await readOk(csv, { delimiter: '\t', header: true })
        const plain = inferred(texts)
        expect(rowsOf(table).map(row => row.c)).toEqual(plain.values)
        // Numbers that were all written without a point are whole ones.
        if (plain.type !== 'number') expect(table.fields[0].type).toBe(plain.type)
        else expect(['integer', 'number']).toContain(table.fields[0].type)
      }),
      runs(600),
    )
  })
})
