import type { Property, ServedTable } from '../tables/served-table.ts'
import { propertyOf } from '../tables/served-table.ts'
import { QuestionError } from './problem.ts'

/** What a property is to be: as the engine reads it from a text; several texts; or nothing. */
export type Given = string | readonly string[] | null

/** What a row is to have, by property. */
export type GivenRow = ReadonlyMap<string, Given>

const WHOLE: Readonly<Record<string, readonly [bigint, bigint]>> = {
  Int16: [-(2n ** 15n), 2n ** 15n - 1n],
  Int32: [-(2n ** 31n), 2n ** 31n - 1n],
  Int64: [-(2n ** 63n), 2n ** 63n - 1n],
}
const DATE = /^(\d{4})-(\d\d)-(\d\d)$/
const TIME = /^([01]\d|2[0-3]):[0-5]\d(:[0-5]\d(\.\d{1,6})?)?$/
const ZONED = /^(\d{4}-\d\d-\d\d)T([^Z+-]+)(Z|[-+]\d\d:\d\d)$/
const DIGITS = /^-?\d+(\.\d+)?$/

/** Reads the body of a change: a JSON object of properties; annotations are passed over. */
export function readBody(text: string, table: ServedTable): GivenRow {
  let body: unknown
  try {
    body = JSON.parse(text)
  } catch {
    throw new QuestionError({ code: 'not-json' })
  }
  if (typeof body !== 'object' || body === null || Array.isArray(body))
    throw new QuestionError({ code: 'not-json' })
  const row = new Map<string, Given>()
  for (const [name, value] of Object.entries(body)) {
    if (name.includes('@')) continue
    const property = propertyOf(table, name)
    if (!property) throw new QuestionError({ code: 'no-such-property', name: name.slice(0, 100) })
    row.set(name, givenFor(property, value))
  }
  return row
}

function givenFor(property: Property, value: unknown): Given {
  const { name, type, edm, nullable } = property
  const wrong = (what: string): never => {
    throw new QuestionError({ code: 'wrong-value', property: name, what })
  }
  if (value === null) return nullable ? null : wrong('a value')
  switch (type) {
    case 'boolean':
      return typeof value === 'boolean' ? String(value) : wrong('true or false')
    case 'integer':
    case 'number':
      return (
        numberGiven(value, type === 'integer' ? (WHOLE[edm] ?? 'whole') : null, edm) ??
        wrong(numberNamed(type))
      )
    case 'date':
      return typeof value === 'string' && isDay(value) ? value : wrong('a day as 2024-02-29')
    case 'time':
      return typeof value === 'string' && TIME.test(value) ? value : wrong('a time as 09:30:00')
    case 'moment':
      return typeof value === 'string' && isMoment(value) ? value : wrong('a moment as 2024-02-29T09:30:00Z')
    case 'tags': {
      const isTexts =
        Array.isArray(value) && value.every(one => typeof one === 'string' && !one.includes('\0'))
      return isTexts ? (value as string[]) : wrong('a list of texts')
    }
    default:
      // Databases keep no character of nought.
      return typeof value === 'string' && !value.includes('\0') ? value : wrong('a text')
  }
}

const numberNamed = (type: 'integer' | 'number'): string =>
  type === 'integer' ? 'a whole number within its range' : 'a number'

/** Numbers may come as their digits, which JSON's numbers are not read back from everywhere. */
function numberGiven(
  value: unknown,
  whole: readonly [bigint, bigint] | 'whole' | null,
  edm: string,
): string | null {
  if (typeof value !== 'number' && typeof value !== 'string') return null
  const text = String(value)
  if (whole) {
    // A number of JSON beyond those that a double tells apart may be another by now; its digits, as a text, are not.
    if (typeof value === 'number' && !Number.isSafeInteger(value)) return null
    if (!/^-?\d{1,38}$/.test(text)) return null
    return whole === 'whole' || (BigInt(text) >= whole[0] && BigInt(text) <= whole[1]) ? text : null
  }
  if (typeof value === 'number') return Number.isFinite(value) ? text : null
  if (edm === 'Decimal') return DIGITS.test(text) && text.length <= 100 ? text : null
  if (text === 'INF' || text === '-INF') return text.replace('INF', 'Infinity')
  return DIGITS.test(text) && Number.isFinite(Number(text)) ? text : null
}

function isDay(text: string): boolean {
  const date = DATE.test(text) ? new Date(`${text}T00:00:00Z`) : null
  return date !== null && !Number.isNaN(date.getTime()) && date.toISOString().slice(0, 10) === text
}

function isMoment(text: string): boolean {
  const match = ZONED.exec(text)
  return match !== null && isDay(match[1]) && TIME.test(match[2]) && !Number.isNaN(Date.parse(text))
}
