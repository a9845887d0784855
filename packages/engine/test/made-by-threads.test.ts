import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { makeByThreads, type MakeHelper } from '../src/source/made-up/make-by-threads.ts'
import { makeTable } from '../src/source/made-up/make-table.ts'
import { recipeSchema } from '../src/source/made-up/recipe.ts'
import { sharedMemory } from '../src/table/allocate.ts'
import { settleTable } from '../src/table/settle-table.ts'
import { finish } from '../src/work/work.ts'
import { HelperLink } from '../src/worker/helper-link.ts'
import { PATIENCE_MS, threads } from './support/helper-thread.ts'

let pool: Awaited<ReturnType<typeof threads>>
const links: HelperLink[] = []
beforeAll(async () => {
  pool = await threads()
  for (let i = 0; i < 2; i++) links.push(new HelperLink(pool.start(), PATIENCE_MS))
  for (const link of links) expect(await link.ready).toBe(true)
})
afterAll(async () => {
  for (const link of links) link.close()
  await pool.end()
})

const recipe = recipeSchema.parse({
  name: 'plots',
  rows: 40_000,
  seed: 11,
  columns: [
    { key: 'n', kind: 'count' },
    { key: 'site', kind: 'pick', of: ['Far Carr', 'Fen End', 'Ashes'], missing: 0.1 },
    { key: 'plot', kind: 'within', column: 'site', count: 40, between: '-' },
    { key: 'cover', kind: 'number', from: 0, to: 100, decimals: 1, missing: 0.05 },
    { key: 'seen', kind: 'date', from: '2014-01-01', to: '2024-01-01' },
    { key: 'at', kind: 'time', from: '2014-01-01', to: '2024-01-01' },
    { key: 'kept', kind: 'yes-no', yes: 0.3 },
    { key: 'note', kind: 'remark', words: ['dry', 'wet', 'shaded'], least: 1, most: 6, missing: 0.2 },
  ],
})

describe('made-up rows', () => {
  it('are the same whoever makes which columns', async () => {
    const alone = settleTable(finish(makeTable(recipe)), sharedMemory)
    for (const count of [0, 1, 2]) {
      let told = 0
      const table = await makeByThreads(recipe, {
        allocate: sharedMemory,
        helpers: links.slice(0, count),
        onRows: rows => (told = rows),
      })
      expect(table).toEqual(alone)
      expect(told).toBe(recipe.rows)
    }
  })

  it('are made by one thread where a helper cannot', async () => {
    const gone: MakeHelper = { ask: () => Promise.reject(new Error('gone')) }
    expect(await makeByThreads(recipe, { helpers: [gone] })).toEqual(finish(makeTable(recipe)))
  })

  it('are given up in the middle', async () => {
    let looks = 0
    const making = makeByThreads(recipe, {
      helpers: links,
      allocate: sharedMemory,
      cancelled: () => ++looks > 2,
    })
    await expect(making).rejects.toThrow('cancelled')
  })
})
