import { expect, test, type Page } from '@playwright/test'
import { mountBare, numberColumns, serveStatic, type Served } from '../support/bare-page.ts'

// Everything that the interface does is a method on the grid and an event from it.

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

interface Handle {
  ready: Promise<void>
  arrangement: Record<string, unknown>
  report: { passing: number }
  description: { where: string; notes: string[] }
  selectedCount: number
  arrange(change: object): unknown
  setRows(rows: unknown): Promise<void>
  setDefinition(definition: object): Promise<void>
  scrollTo(key: unknown): Promise<boolean>
  selectedRecords(): Promise<unknown[]>
  on(name: string, listener: (event: never) => void): () => void
  unmount(): void
}
interface Scope {
  handle: Handle
  meadow: {
    mountMeadow(host: Element, options: object): Handle
    computedSource(options: object): object
    SourceError: new (problem: object) => Error
  }
  heard: unknown[]
  kept: unknown[]
}

const ROWS = [
  { name: 'Ash', height: 30.25, seen: true },
  { name: 'Elm', height: null, seen: false },
  { name: 'Fir', height: 55.5, seen: true },
]
const DEFINITION = {
  format: 'vast-meadow-grid',
  version: 3,
  title: 'Trees',
  key: 'name',
  density: 'compact',
  columns: [
    { key: 'name', title: 'Tree', width: 150 },
    { key: 'height', title: 'Height m', width: 90, align: 'end', format: { decimals: 1 } },
    { key: 'seen', title: 'Seen', width: 70, orderable: false },
  ],
  start: { order: [{ column: 'height', direction: 'descending' }], pinnedEnd: ['seen'] },
}

const texts = (page: Page, place: number): Promise<string[]> =>
  page.locator(`.body .row [aria-colindex="${place}"]`).evaluateAll(cells =>
    cells
      .filter(cell => cell.checkVisibility())
      .map(cell => ({ text: cell.textContent ?? '', top: cell.getBoundingClientRect().top }))
      .sort((a, b) => a.top - b.top)
      .map(cell => cell.text),
  )

test('rows as plain objects become a grid without any definition', async ({ page }) => {
  await mountBare(page, served.url, { rows: ROWS })
  await expect(page.getByRole('columnheader')).toHaveText(['', 'Name', 'Height', 'Seen'])
  expect(await texts(page, 3)).toEqual(['30.25', '', '55.50'])
  const marks = page.getByRole('grid').getByRole('img')
  expect(await marks.evaluateAll(found => found.map(mark => mark.ariaLabel).sort())).toEqual([
    'no',
    'yes',
    'yes',
  ])
})

test('a definition titles, formats, aligns, pins and orders', async ({ page }) => {
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  await expect(page.getByRole('grid', { name: 'Trees' })).toBeVisible()
  await expect(page.getByRole('columnheader')).toHaveText(['', 'Tree', /Height m/, 'Seen'])
  expect(await texts(page, 3)).toEqual(['55.5', '30.3', ''])
  const row = page.locator('.body .row').first()
  expect((await row.boundingBox())!.height).toBe(26)
  const view = (await page.locator('.view').boundingBox())!
  const seen = (await page.getByRole('columnheader', { name: 'Seen' }).boundingBox())!
  expect(seen.x + seen.width).toBeCloseTo(view.x + view.width, 0)
  await page.getByRole('columnheader', { name: 'Seen' }).click()
  await expect(page.getByRole('columnheader', { name: /Height/ })).toHaveAttribute('aria-sort', 'descending')
})

test('a definition that is not valid is refused with the place, and the grid says so', async ({ page }) => {
  await mountBare(page, served.url, {})
  const message = await page.evaluate(async rows => {
    const { meadow } = window as unknown as Scope
    const definition = {
      format: 'vast-meadow-grid',
      version: 3,
      columns: [{ key: 'name', title: 'x', width: 2 }],
    }
    const mounted = meadow.mountMeadow(document.querySelector('#grid')!, { rows, definition })
    return await mounted.ready.then(
      () => 'ready',
      (error: Error) => error.message,
    )
  }, ROWS)
  expect(message).toContain('columns.0.width')
  await expect(page.getByText('columns.0.width').last()).toBeVisible()
})

test('the arrangement is changed from code, told by events, and kept by the host’s storage', async ({
  page,
}) => {
  await mountBare(page, served.url, {})
  const mount = (): Promise<void> =>
    page.evaluate(
      async ([rows, definition]) => {
        const scope = window as unknown as Scope
        scope.handle.unmount()
        scope.heard = []
        scope.kept ??= []
        scope.handle = scope.meadow.mountMeadow(document.querySelector('#grid')!, {
          rows,
          definition,
          storage: {
            load: () => Promise.resolve(scope.kept.at(-1) ?? null),
            save: (arrangement: unknown) => Promise.resolve(scope.kept.push(arrangement)),
          },
        })
        scope.handle.on('arrangement', (event: { why: string }) => scope.heard.push(event.why))
        scope.handle.on('flow', (event: { report: { passing: number } }) =>
          scope.heard.push(event.report.passing),
        )
        await scope.handle.ready
      },
      [ROWS, DEFINITION] as const,
    )
  await mount()
  await page.evaluate(() => {
    ;(window as unknown as Scope).handle.arrange({ search: 'fir', hidden: ['seen'] })
  })
  await expect(page.locator('.foot')).toContainText('1 of 3 rows')
  await page.getByRole('searchbox').fill('a')
  await expect(page.locator('.foot')).toContainText('1 of 3 rows')
  await expect
    .poll(() => page.evaluate(() => (window as unknown as Scope).heard))
    .toEqual([3, 'code', 1, 'reader', 1])
  await expect
    .poll(() =>
      page.evaluate(
        () => ((window as unknown as Scope).kept.at(-1) as { search?: string } | undefined)?.search,
      ),
    )
    .toBe('a')
  await mount()
  await expect(page.getByRole('searchbox')).toHaveValue('a')
  await expect(page.getByRole('columnheader', { name: 'Seen' })).toHaveCount(0)
  expect(await texts(page, 2)).toEqual(['Ash'])
})

test('what is arranged before rows are there holds when they are', async ({ page }) => {
  await mountBare(page, served.url, {})
  await page.evaluate(async rows => {
    const scope = window as unknown as Scope
    scope.handle.unmount()
    scope.handle = scope.meadow.mountMeadow(document.querySelector('#grid')!, { rows })
    scope.handle.arrange({ order: [{ column: 'name', direction: 'descending' }] })
    await scope.handle.ready
  }, ROWS)
  expect(await texts(page, 2)).toEqual(['Fir', 'Elm', 'Ash'])
})

test('a change while the first lines are still asked for is no failure', async ({ page }) => {
  await mountBare(page, served.url, {})
  const outcome = await page.evaluate(async columns => {
    const scope = window as unknown as Scope
    scope.handle.unmount()
    const recipe = { name: 'x', rows: 400_000, columns }
    const order = ['n0', 'n1', 'n2'].map(column => ({ column, direction: 'ascending' }))
    scope.handle = scope.meadow.mountMeadow(document.querySelector('#grid')!, {
      source: { kind: 'recipe', recipe },
      arrangement: { order },
    })
    const { handle } = scope
    // Again and again from the moment the rows are there, so that some change meets the first request under way.
    handle.on('open', () =>
      [0, 2, 5, 10, 20].forEach(ms => setTimeout(() => handle.arrange({ search: `${ms}` }), ms)),
    )
    return await handle.ready.then(
      () => 'ready',
      (error: Error) => error.message,
    )
  }, numberColumns(3))
  expect(outcome).toBe('ready')
  await expect(page.locator('.foot')).toContainText('of 400,000 rows passing')
  await expect(page.getByText('Loading was cancelled.')).toBeHidden()
})

test('rows are replaced: arrangement and definition stay, and rows that cannot be had change nothing', async ({
  page,
}) => {
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  const outcome = await page.evaluate(async () => {
    const { handle } = window as unknown as Scope
    const problems: unknown[] = []
    handle.on('problem', (event: { message: string }) => problems.push(event.message))
    await handle.setRows([
      { name: 'Oak', height: 10 },
      { name: 'Yew', height: 20 },
    ])
    const failed = await handle.setRows({ kind: 'file', blob: new Blob(['a\n"open']) }).then(
      () => 'read',
      (error: Error) => error.message,
    )
    return { failed, problems }
  })
  expect(outcome.failed).toContain('line 2')
  expect(outcome.problems).toEqual([outcome.failed])
  expect(await texts(page, 2)).toEqual(['Yew', 'Oak'])
  await expect(page.getByRole('columnheader', { name: /Height/ })).toHaveAttribute('aria-sort', 'descending')
})

test('a definition is set anew while the grid is open, and keeps what the reader arranged', async ({
  page,
}) => {
  await mountBare(page, served.url, { rows: ROWS, definition: DEFINITION })
  await page.getByRole('searchbox').fill('r')
  await expect(page.locator('.foot')).toContainText('1 of 3')
  await page.evaluate(definition => {
    const columns = [
      { key: 'height', title: 'Tall' },
      { key: 'name', title: 'Who' },
    ]
    return (window as unknown as Scope).handle.setDefinition({ ...definition, columns })
  }, DEFINITION)
  // The reader searched, and moved no column: those stand as the definition has them.
  await expect(page.getByRole('columnheader')).toHaveText(['', /Tall/, 'Who'])
  await expect(page.getByRole('searchbox')).toHaveValue('r')
  expect(await texts(page, 3)).toEqual(['Fir'])
})

test('scrollTo finds a row by its key, opens its closed group, and says when it is held back', async ({
  page,
}) => {
  await mountBare(page, served.url, {
    source: {
      kind: 'recipe',
      recipe: {
        name: 'x',
        rows: 9000,
        columns: [
          { key: 'id', kind: 'count' },
          ...numberColumns(3),
          { key: 'kind', kind: 'pick', of: ['a', 'b', 'c'] },
        ],
      },
    },
    definition: {
      format: 'vast-meadow-grid',
      version: 3,
      key: 'id',
      columns: ['id', 'n0', 'kind'].map(key => ({ key, title: key })),
      start: { groups: ['kind'], open: { levels: 0 } },
    },
  })
  await expect(page.locator('.foot')).toContainText('lines 1 – 3 · 3 groups')
  const scrollTo = (key: number): Promise<boolean> =>
    page.evaluate(key => (window as unknown as Scope).handle.scrollTo(key), key)
  expect(await scrollTo(4321)).toBe(true)
  await expect(page.locator('.body .row:has(.cell:focus) [aria-colindex="2"]')).toHaveText('4321')
  expect(await scrollTo(99_999)).toBe(false)
  await page.evaluate(() => {
    ;(window as unknown as Scope).handle.arrange({
      conditions: { id: { match: 'all', parts: [{ kind: 'range', to: 100 }] } },
      groups: [],
    })
  })
  await expect(page.locator('.foot')).toContainText('100 of 9,000')
  expect(await scrollTo(4321)).toBe(false)
})

test('the selection is counted, given as plain objects, and told', async ({ page }) => {
  await mountBare(page, served.url, { rows: ROWS })
  await page.locator('.body .box').nth(0).click()
  await page.locator('.body .box').nth(2).click()
  const { count, records } = await page.evaluate(async () => {
    const { handle } = window as unknown as Scope
    return { count: handle.selectedCount, records: await handle.selectedRecords() }
  })
  expect(count).toBe(2)
  expect(records).toEqual([ROWS[0], ROWS[2]])
  const told = page.evaluate(
    () =>
      new Promise(resolve =>
        (window as unknown as Scope).handle.on('row', resolve as (event: never) => void),
      ),
  )
  await page.locator('.body .row').nth(1).locator('[aria-colindex="2"]').dblclick()
  expect(await told).toEqual({ record: ROWS[1], column: 'name' })
})

test('texts are the host’s own words', async ({ page }) => {
  await mountBare(page, served.url, {
    rows: ROWS,
    texts: { search: 'Suche', columns: 'Spalten', rows: 'Zeilen' },
  })
  await expect(page.getByRole('searchbox', { name: 'Suche' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Spalten' })).toBeVisible()
  await expect(page.locator('.foot')).toContainText('3 Zeilen')
})

test('text from the data is never taken for markup', async ({ page }) => {
  const nasty = '<img src=x onerror="window.hit=1"><b>bold</b>'
  await mountBare(page, served.url, {
    rows: [{ [nasty]: nasty, group: nasty }],
    arrangement: {
      groups: ['group'],
      conditions: { group: { match: 'all', parts: [{ kind: 'one-of', values: [nasty] }] } },
    },
  })
  await expect(page.locator('.groupcell')).toContainText('<b>bold</b>')
  await page.getByRole('button', { name: 'Columns' }).click()
  await expect(page.getByRole('dialog')).toContainText('<b>bold</b>')
  expect(await page.locator('img, b:text-is("bold")').count()).toBe(0)
  expect(await page.evaluate(() => (window as unknown as { hit?: number }).hit)).toBeUndefined()
})

test('a source that cannot be reached shows why, and is tried again', async ({ page }) => {
  await mountBare(page, served.url, {})
  await page.evaluate(() => {
    const scope = window as unknown as Scope
    scope.handle.unmount()
    const works = scope.meadow.computedSource({
      rows: 5,
      fields: [{ key: 'n', type: 'integer' }],
      cell: (row: number) => row,
    })
    let tries = 0
    const open = (options: object): Promise<unknown> =>
      ++tries === 1
        ? Promise.reject(new scope.meadow.SourceError({ code: 'failed', reason: 'the line is down' }))
        : (works as { open(options: object): Promise<unknown> }).open(options)
    scope.handle = scope.meadow.mountMeadow(document.querySelector('#grid')!, { source: { ...works, open } })
  })
  await expect(page.getByText('the line is down')).toBeVisible()
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(page.locator('.foot')).toContainText('5 rows')
})

test('an empty table says that it is empty', async ({ page }) => {
  await mountBare(page, served.url, { rows: [] })
  await expect(page.getByText('There are no rows.')).toBeVisible()
})

test('<vast-meadow> mounts when it is connected, is moved without loss, and unmounts when it leaves', async ({
  page,
}) => {
  await mountBare(page, served.url, {})
  await page.evaluate(rows => {
    const element = document.createElement('vast-meadow') as HTMLElement & { options: object }
    element.style.height = '300px'
    element.addEventListener('meadow-flow', event => {
      document.title = `flow ${(event as CustomEvent<{ report: { passing: number } }>).detail.report.passing}`
    })
    element.options = { rows }
    document.body.prepend(element)
  }, ROWS)
  const element = page.locator('vast-meadow')
  await expect(element.locator('.foot')).toContainText('3 rows')
  await expect(page).toHaveTitle('flow 3')
  await element.getByRole('searchbox').fill('ash')
  await expect(page).toHaveTitle('flow 1')
  await element.evaluate(el => document.body.append(el))
  await expect(element.locator('.foot')).toContainText('1 of 3')
  const left = await element.evaluate(async el => {
    el.remove()
    await new Promise(resolve => setTimeout(resolve, 10))
    return {
      handle: (el as unknown as { handle: unknown }).handle,
      children: el.shadowRoot!.childElementCount,
    }
  })
  expect(left).toEqual({ handle: null, children: 0 })
})

test('where a worker cannot be started, the engine runs in the page and says so', async ({ page }) => {
  await mountBare(page, served.url, {})
  const { where, notes } = await page.evaluate(async columns => {
    const scope = window as unknown as Scope
    scope.handle.unmount()
    scope.handle = scope.meadow.mountMeadow(document.querySelector('#grid')!, {
      source: { kind: 'recipe', recipe: { name: 'x', rows: 20_000, columns } },
      placement: { worker: () => new Worker('/nowhere.js', { type: 'module' }) },
    })
    await scope.handle.ready
    return scope.handle.description
  }, numberColumns(3))
  expect(where).toBe('this page')
  expect(notes.join(' ')).toContain('worker could not be started')
  await page.getByRole('columnheader', { name: 'N1', exact: true }).click()
  await expect(page.getByRole('columnheader', { name: 'N1', exact: true })).toHaveAttribute(
    'aria-sort',
    'ascending',
  )
})
