import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { runs } from '../../engine/test/support/runs.ts'
import { DATABASES } from './support/databases.ts'
import { servedRows, type Served } from './support/random-rows-served.ts'

// Columns of few texts are in their order by themselves; what they are compared with is not always one of these.

const SITES = ['Lower Ings', 'lower ings', 'Élan', 'elan', 'Zoë', 'Über', 'a b', 'a-b', '10', '9']
const collator = new Intl.Collator('en')
const OPERATORS: Readonly<Record<string, (order: number) => boolean>> = {
  gt: order => order > 0,
  ge: order => order >= 0,
  lt: order => order < 0,
  le: order => order <= 0,
}

describe.each([true, false])('texts are compared where they stand in their order (few: %s)', few => {
  let served: Served
  beforeAll(async () => {
    served = await servedRows(await DATABASES.DuckDB(), few)
  })
  afterAll(() => served.close())

  const count = async (filter: string): Promise<number> => {
    const address = `http://here/rows/sightings/$count?$filter=${encodeURIComponent(filter)}`
    return Number(await (await served.handler(new Request(address)))?.text())
  }

  it('as the language orders them, with those that are there and others, from either side', async () => {
    const rows = [...SITES, null].map((site, i) => ({ site, note: SITES[(i * 3) % SITES.length] }))
    await served.put(rows)
    const text = fc.oneof(fc.constantFrom(...SITES), fc.string({ unit: 'grapheme-ascii', maxLength: 4 }))
    await fc.assert(
      fc.asyncProperty(text, fc.constantFrom(...Object.keys(OPERATORS)), async (text, operator) => {
        fc.pre(text.trim() === text && text !== '')
        const literal = `'${text.replaceAll("'", "''")}'`
        const wanted = (turned: boolean): number =>
          rows.filter(({ site }) => {
            if (site === null) return false
            const order = collator.compare(site, text)
            return OPERATORS[operator](turned ? -order : order)
          }).length
        expect(await count(`site ${operator} ${literal}`)).toBe(wanted(false))
        expect(await count(`${literal} ${operator} site`)).toBe(wanted(true))
        // What is missing meets no comparison, and so the contrary of each.
        expect(await count(`not (site ${operator} ${literal})`)).toBe(rows.length - wanted(false))
      }),
      runs(60),
    )
    for (const [operator, is] of Object.entries(OPERATORS)) {
      const wanted = rows.filter(({ site, note }) => site !== null && is(collator.compare(site, note)))
      expect(await count(`site ${operator} note`)).toBe(wanted.length)
    }
  })
})
